<script lang="ts">
	/* The window itself: from where to where a sample may lie, what to take, and what sets each end. */
	import SizeWindow from '../pictures/SizeWindow.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Sizing } from '../api/client';

	let { sizing, others, old }: { sizing: Sizing; others: Sizing['remarks']; old: boolean } = $props();

	/* what sets an end somewhere in the picture; a balance that carries a hundred times as much is no news */
	const ends = $derived(
		sizing.bounds.filter((row) => {
			const [first, last] = [sizing.curve[0], sizing.curve.at(-1)];
			return first && last && row.amount >= first.amount && row.amount <= last.amount;
		})
	);
</script>

<section aria-labelledby="window" class:old>
	<div class="head">
		<h2 id="window">
			{#if sizing.low && sizing.high}
				<span class="figure">{sizing.low.text.replace(` ${sizing.unit}`, '')}</span> to
				<span class="figure">{sizing.high.text.replace(` ${sizing.unit}`, '')}</span>
				{sizing.unit}
			{:else if sizing.high}up to {sizing.high.text}
			{:else if sizing.low}at least {sizing.low.text}
			{:else}No window{/if}
			<small>{sizing.label}</small>
		</h2>
		{#if sizing.about}
			<p class="about">
				Take about <strong>{sizing.about.text}</strong>{#if sizing.about.percent !== null}: the result within
					<strong>{sizing.about.percent_text}</strong>{/if}
			</p>
		{/if}
	</div>
	{#if sizing.curve.length}<SizeWindow {sizing} />{/if}
	<ul>
		{#each others as remark (remark.text)}<Verdict level={remark.level} text={remark.text} />{/each}
		{#each ends as end (end.reason)}<Verdict level="remark" text={end.reason} />{/each}
	</ul>
</section>

<style>
	section {
		display: grid;
		gap: 10px;
		min-width: 0;
	}
	.old {
		opacity: 0.5;
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		justify-content: space-between;
		gap: 4px 24px;
	}
	#window {
		font-size: 34px;
		font-weight: 700;
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 0 12px;
	}
	#window small {
		color: var(--quiet);
		font-size: 20px;
		font-weight: 600;
	}
	.about {
		font-size: 19px;
	}
</style>
