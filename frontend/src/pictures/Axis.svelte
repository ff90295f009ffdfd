<script lang="ts">
	/* The line below a scale with its ticks and their figures, from one side to the other; part of a drawing. */
	import type { ScaleLinear } from 'd3-scale';

	let {
		x,
		y,
		from,
		to,
		width
	}: { x: ScaleLinear<number, number>; y: number; from: number; to: number; width: number } = $props();

	const count = $derived(Math.max(3, Math.floor(width / 150)));
	const format = $derived(x.tickFormat(count));
</script>

<line x1={from} x2={to} y1={y} y2={y} class="axis" />
{#each x.ticks(count) as tick (tick)}
	<line x1={x(tick)} x2={x(tick)} y1={y} y2={y + 6} class="axis" />
	<text x={x(tick)} y={y + 24} text-anchor="middle" class="figure">{format(tick)}</text>
{/each}

<style>
	.axis {
		stroke: var(--ink);
		stroke-width: 2;
	}
</style>
