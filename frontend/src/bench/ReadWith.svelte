<script lang="ts">
	/* With what the reading is taken, and what has been saved: one line under the field. */
	import type { Snippet } from 'svelte';
	import type { EntryView, RunView } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import { shown } from '../ui/instruments';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';
	import TakeFrom from './TakeFrom.svelte';

	interface Shown {
		run: RunView;
		bench: Bench;
		entry: EntryView;
		cools: boolean;
		focus: () => void;
		/** What else can be done with the reading that is asked for. */
		children?: Snippet;
	}
	let { run, bench, entry, cools, focus, children }: Shown = $props();

	const DECIMALS = [
		'no decimals',
		'one decimal',
		'two decimals',
		'three decimals',
		'four decimals',
		'five decimals'
	];

	const balance = $derived(
		[run.balance.name, DECIMALS[run.balance.decimals ?? -1]].filter((part) => part !== undefined).join(', ')
	);
	const used = $derived(run.instruments[entry.kind]);
	const own = $derived(entry.kind === 'balance' ? run.balance.name : (used?.name ?? ''));
	const others = $derived(bench.shelf.filter((row) => row.kind === entry.kind));
	const instrument = $derived(
		entry.kind === 'balance'
			? balance
			: used?.name
				? `${used.name}, ± ${shown(used.half_width)}`
				: entry.instrument
	);
	const latest = $derived(run.readings.filter((row) => row.trial === run.trial.label).at(-1));
	const saved = $derived(latest ? `saved ${timeOfDay(bench.savedAt || latest.at)}` : 'nothing saved yet');
</script>

<div class="state" id="reading-state">
	{#if cools}<strong class="warm">Still cooling: a warm vessel reads light.</strong>{/if}
	{#if entry.expected}
		<span class="expected"
			><strong class="figure">{entry.expected}</strong>: <Sentence text={entry.because} />.</span
		>
	{/if}
	{#if others.length > 1 && own}
		<label class="read-with">
			<span class="hidden-text">Read with</span>
			<select
				value={bench.instrument[entry.kind] ?? own}
				onchange={(event) => bench.readWith(entry.kind, event.currentTarget.value)}
			>
				<!-- what a run brought along from elsewhere stands on no shelf here -->
				{#if !others.some((row) => row.name === own)}<option value={own}>{instrument}</option>{/if}
				{#each others as row (row.id)}<option value={row.name}>{row.name}, ± {shown(row.half_width)}</option
					>{/each}
			</select>
		</label>
		{#if entry.hint}<span class="quiet">{entry.hint}.</span>{/if}
	{:else if instrument || entry.hint}
		<span class="quiet"
			><span class="instrument">{instrument}</span>{instrument && entry.hint ? '. ' : ''}{entry.hint}.</span
		>
	{/if}
	{#if entry.suggested && bench.typed === ''}
		{@const suggested = entry.suggested}
		<button type="button" class="take" onclick={() => bench.suggest(suggested).then(focus)}
			>Go on from <span class="figure">{suggested}</span></button
		>
	{/if}
	<TakeFrom {bench} {entry} instrument={bench.instrument[entry.kind] ?? own} />
	{@render children?.()}
	{#if bench.waiting.length}<strong class="waiting">{bench.waiting.length} waiting to be saved</strong>
	{:else}<span class="quiet saved">{saved}</span>{/if}
</div>

<style>
	.state {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 2px 14px;
		font-size: 16px;
		line-height: 1.3;
	}
	.saved {
		margin-left: auto;
	}
	.expected {
		flex-basis: 100%;
	}
	.read-with {
		min-width: 0;
		max-width: 100%;
		font-size: 16px;
	}
	.read-with select {
		max-width: 100%;
		min-height: 48px;
		padding: 4px 8px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
		color: var(--ink);
	}
	.take {
		min-height: 48px;
		padding: 0 14px;
		border: 1.5px solid var(--act);
		border-radius: 22px;
		color: var(--act);
		font-weight: 600;
		cursor: pointer;
	}
	.instrument {
		display: inline-block;
	}
	.instrument::first-letter {
		text-transform: uppercase;
	}
	.warm,
	.waiting {
		color: var(--watch);
		font-weight: 600;
	}
</style>
