<script lang="ts">
	/* The reading that the field asks for was not taken: why, and the run goes on another way. */
	import type { EntryView } from '../api/client';
	import type { Bench } from './bench.svelte';

	let { bench, entry, focus }: { bench: Bench; entry: EntryView; focus: () => void } = $props();

	const REASONS = ['forgotten', 'spilled', 'broken', 'no instrument for it'];

	let reason = $state<string | null>(null);
	let fault = $state('');
	/* asked of one reading: another one that is due closes it */
	const place = $derived(`${entry.slot} ${entry.position}`);
	$effect(() => {
		if (place) reason = null;
	});

	/* it stands inside the form of the figure: its Enter is its own, and never records what was typed there */
	function byKey(event: KeyboardEvent): void {
		if (event.key !== 'Enter') return;
		event.preventDefault();
		void say();
	}

	async function say(): Promise<void> {
		fault = await bench.leave(entry.slot, entry.position, reason ?? '');
		if (!fault) {
			reason = null;
			focus();
		}
	}

	function back(): void {
		reason = null;
		fault = '';
		focus();
	}
</script>

{#if reason === null}
	<button type="button" class="plain" onclick={() => (reason = '')}
		>{entry.position > 1 ? 'No more of these …' : 'Not taken …'}</button
	>
{:else}
	<div class="why" role="group" aria-label="Not taken">
		<label for="not-taken-reason">Why was it not taken?</label>
		<!-- opened by a tap on “not taken”: the reason comes next -->
		<!-- svelte-ignore a11y_autofocus -->
		<input
			id="not-taken-reason"
			bind:value={reason}
			onkeydown={byKey}
			list="not-taken-reasons"
			maxlength="200"
			autocomplete="off"
			aria-invalid={fault !== ''}
			aria-describedby="not-taken-fault"
			autofocus
		/>
		<datalist id="not-taken-reasons"
			>{#each REASONS as one (one)}<option value={one}></option>{/each}</datalist
		>
		<button type="button" class="button" onclick={() => void say()}>Go on without it</button>
		<button type="button" class="button" onclick={back}>Leave it</button>
		<p id="not-taken-fault" class="fault" aria-live="polite">{fault}</p>
	</div>
{/if}

<style>
	.plain {
		min-height: 48px;
		padding: 0 4px;
		font-size: 16px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
	.why {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		flex-basis: 100%;
		gap: 8px;
	}
	input {
		flex: 1 1 160px;
		min-width: 0;
		min-height: 48px;
		padding: 8px 12px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--paper);
	}
	.fault:empty {
		display: none;
	}
	.fault {
		flex-basis: 100%;
	}
</style>
