<script lang="ts">
	/* A correction: what a reading should say, why, and what is wrong or doubtful about that. */
	import type { Snippet } from 'svelte';
	import { newUuid } from '../api/client';
	import { faultAt, NOTHING, type Said } from './said';
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

	async function submit(confirmed: boolean): Promise<void> {
		said = NOTHING;
		const outcome = await send(uuid, text, reason, confirmed);
		said = outcome;
		if (outcome === NOTHING) open = false;
	}
</script>

{#snippet field(id: string, label: string, path: string)}
	{@const fault = faultAt(said, path)}
	<label for={id}>{label}</label>
	{#if path === 'text'}
		<input
			{id}
			class="figure"
			bind:value={text}
			oninput={() => (said = NOTHING)}
			inputmode="decimal"
			autocomplete="off"
			aria-invalid={fault !== ''}
			aria-describedby="{id}-said"
		/>
	{:else}
		<input
			{id}
			bind:value={reason}
			list="reasons"
			maxlength="500"
			aria-invalid={fault !== ''}
			aria-describedby="{id}-said"
		/>
		<datalist id="reasons"
			>{#each REASONS as one (one)}<option value={one}></option>{/each}</datalist
		>
	{/if}
	<p id="{id}-said" class="fault" aria-live="polite">{fault}</p>
{/snippet}

<Sheet {open} {change} width="480px" title="Correct {row.label}" {name} description={kept}>
	{#snippet button()}Correct{/snippet}
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void submit(false);
		}}
		novalidate
	>
		<div class="field">{@render field('correct-text', `What it should say, in ${row.unit}`, 'text')}</div>
		{#if asksWhy}<div class="field">{@render field('correct-why', 'Why', 'reason')}</div>{/if}
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
