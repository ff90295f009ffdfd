<script lang="ts">
	/* Take it from the balance: it is shown that one waits, and nothing is recorded that does not stand unless one says so. */
	import { untrack } from 'svelte';
	import type { EntryView } from '../api/client';
	import type { Bench } from './bench.svelte';
	import { Taking } from './taking.svelte';

	let { bench, entry, instrument }: { bench: Bench; entry: EntryView; instrument: string } = $props();
	const taking = $derived.by(() => {
		const own = bench;
		return untrack(() => new Taking(own));
	});
	$effect(() => {
		const own = taking;
		untrack(() => void own.look());
		return () => own.end();
	});
	/* another place to fill, or another instrument, is not what was waited for */
	const place = $derived(`${entry.slot} ${entry.position} ${instrument}`);
	$effect(() => {
		void place;
		return () => untrack(() => taking.end());
	});
	const kind = $derived(entry.kind === 'balance' ? 'balance' : 'instrument');
</script>

{#if taking.names.includes(instrument)}
	{#if taking.from}
		<span class="waits" role="status">
			<strong class="figure"
				>{taking.shows?.figure ? `${taking.shows.figure} ${taking.shows.unit}` : '…'}</strong
			>
			{taking.shows?.said ?? `waiting for ${instrument}`}
		</span>
		{#if taking.shows?.state === 'moving'}
			<button type="button" class="take" onclick={() => taking.asItIs(entry)}>Take it as it is</button>
		{/if}
		<button type="button" class="take" onclick={() => taking.end()}>Wait no longer</button>
	{:else}
		<button type="button" class="take" onclick={() => taking.begin(instrument, entry)}
			>Take it from the {kind}</button
		>
	{/if}
{/if}

<style>
	.waits {
		color: var(--watch);
	}
	.take {
		min-height: 44px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
</style>
