<script lang="ts">
	/* From the barometer down to the dry gas: each step what it takes off; the bars are cut, and show that they are. */
	import { scaleLinear } from 'd3-scale';
	import type { GasPicture } from '../api/client';

	let { gas }: { gas: GasPicture } = $props();

	const ROW = 40;
	const LABEL = 176;
	const FIGURE = 124;
	let width = $state(500);

	const steps = $derived(gas.fall);
	const lowest = $derived(Math.min(...steps.map((step) => step.lower || step.upper)));
	const highest = $derived(Math.max(...steps.map((step) => step.upper)));
	const floor = $derived(lowest - Math.max(1.2 * (highest - lowest), 0.02 * highest));
	const x = $derived(
		scaleLinear()
			.domain([floor, highest])
			.range([LABEL, width - FIGURE])
	);
</script>

<figure bind:clientWidth={width}>
	<figcaption class="quiet">The fall of the pressure</figcaption>
	{#if steps.length}
		<svg {width} height={ROW * steps.length + 6} aria-hidden="true">
			{#each steps as step, index (step.label)}
				{@const whole = step.lower === 0}
				{@const from = whole ? LABEL : x(step.lower)}
				{@const row = ROW * index + 8}
				<text x="0" y={row + 19} class:whole>{step.label}</text>
				<rect x={from} y={row} width={Math.max(2, x(step.upper) - from)} height="26" class:whole />
				{#if whole}<path d="M{LABEL + 14} {row - 2} l-8 30 M{LABEL + 24} {row - 2} l-8 30" class="cut" />{/if}
				<text x={width} y={row + 19} text-anchor="end" class="figure" class:whole
					>{whole ? '' : '− '}{step.text}</text
				>
			{/each}
		</svg>
		<ul class="hidden-text">
			{#each steps as step (step.label)}<li>{step.label}: {step.text}</li>{/each}
		</ul>
	{:else}
		<p class="quiet">The barometer, less the vapour, less the column, leaves the dry gas.</p>
	{/if}
</figure>

<style>
	text {
		fill: var(--ink);
		font-size: 16px;
	}
	text.whole {
		font-weight: 700;
	}
	rect {
		fill: var(--bar);
	}
	rect.whole {
		fill: var(--settled);
	}
	.cut {
		stroke: var(--paper);
		stroke-width: 3;
	}
</style>
