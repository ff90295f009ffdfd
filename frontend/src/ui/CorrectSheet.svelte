<script lang="ts">
	/* A correction: what a reading should say, why, and what is wrong or doubtful about that. */
	import { tick, type Snippet } from 'svelte';
	import { newUuid } from '../api/client';
	import { faultAt, NOTHING, type Said } from './said';
	import FigureField from './FigureField.svelte';
	import ReasonField from './ReasonField.svelte';
	import Sentence from './Sentence.svelte';
	import Sheet from './Sheet.svelte';
	import SheetEnds from './SheetEnds.svelte';

	let {
		row,
		asksWhy = true,
		kept,
		send
	}: {
		row: { label: string; text: string; unit: string };
		asksWhy?: boolean;
		/** What becomes of the old figure. */
		kept: Snippet;
		send: (uuid: string, text: string, reason: string, confirmed: boolean) => Promise<Said>;
	} = $props();

	const REASONS = ['digits swapped', 'mistyped', 'wrong line', 'wrong instrument', 'wrong unit'];

	let open = $state(false);
	let text = $state('');
	let reason = $state('');
	let said = $state<Said>(NOTHING);
	let uuid = '';

	const name = $derived(`Correct ${row.label}, ${row.text} ${row.unit}`);

	function change(isOpen: boolean): void {
		open = isOpen;
		if (!isOpen) return;
		text = row.text;
		reason = '';
		said = NOTHING;
		uuid = newUuid();
	}

	function touch(): void {
		said = NOTHING;
	}

	async function submit(confirmed: boolean): Promise<void> {
		said = NOTHING;
		const outcome = await send(uuid, text, reason, confirmed);
		said = outcome;
		if (outcome === NOTHING) {
			open = false;
			return;
		}
		await tick();
		document.querySelector<HTMLElement>('[role="dialog"][data-state="open"] [aria-invalid="true"]')?.focus();
	}
</script>

<Sheet {open} {change} width="480px" title="Correct {row.label}" {name} description={kept}>
	{#snippet button()}Correct{/snippet}
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void submit(false);
		}}
		novalidate
	>
		<FigureField
			id="correct-text"
			unit={row.unit}
			bind:value={text}
			fault={faultAt(said, 'text')}
			typed={touch}
		/>
		{#if asksWhy}
			<ReasonField
				id="correct-why"
				label="Why"
				bind:value={reason}
				reasons={REASONS}
				fault={faultAt(said, 'reason')}
				typed={touch}
			/>
		{/if}
		<div aria-live="assertive">
			{#if said.trouble}<p class="fault">{said.trouble}</p>{/if}
			{#if said.doubt}
				<p class="fault"><Sentence text={said.doubt} /></p>
				<button type="button" class="button" onclick={() => submit(true)}
					><span class="figure">{text}</span> is right all the same</button
				>
			{/if}
		</div>
		<SheetEnds act="Correct" />
	</form>
</Sheet>

<style>
	form {
		display: grid;
		gap: 12px;
		padding-top: 16px;
	}
</style>
