<script lang="ts">
	/* What the solvent holds by temperature: dissolved hot, kept cold, and what can come back between them. */
	import { scaleLinear } from 'd3-scale';
	import type { CurvePicture } from '../api/client';

	let { curve }: { curve: CurvePicture } = $props();

	let width = $state(600);
	let height = $state(360);
	const LEFT = 56;

	const ends = $derived([curve.points[0]?.celsius ?? 0, curve.points.at(-1)?.celsius ?? 100] as const);
	const most = $derived(
		Math.min(
			Math.max(...curve.points.map((point) => point.grams), 1e-9),
			/* a curve that runs away at its end leaves room for what the run is about */
			2.6 * Math.max(curve.taken ?? 0, curve.hot?.grams ?? 0, curve.cold?.grams ?? 0) || Infinity
		)
	);
	const x = $derived(
		scaleLinear()
			.domain([...ends])
			.range([LEFT, width - 16])
	);
	const y = $derived(
		scaleLinear()
			.domain([0, most])
			.range([height - 44, 20])
			.clamp(true)
	);
	const line = $derived(
		curve.points
			.filter((point) => point.grams <= most * 1.001)
			.map((point, index) => `${index ? 'L' : 'M'}${x(point.celsius)} ${y(point.grams)}`)
			.join(' ')
	);
	const top = $derived(Math.min(curve.taken ?? curve.hot?.grams ?? 0, curve.hot?.grams ?? Infinity));
</script>

<figure class="drawing">
	<figcaption class="quiet">What the solvent holds</figcaption>
	<div class="space" bind:clientWidth={width} bind:clientHeight={height}>
		<svg {width} {height} role="img" aria-label="For each 100 g: {curve.said}">
			{#if curve.hot && curve.cold && top > curve.cold.grams}
				<rect
					x={x(curve.cold.celsius)}
					width={Math.max(0, x(curve.hot.celsius) - x(curve.cold.celsius))}
					y={y(top)}
					height={Math.max(0, y(curve.cold.grams) - y(top))}
					class="back"
				/>
				<text x={x(curve.cold.celsius) + 10} y={(y(top) + y(curve.cold.grams)) / 2 + 6} class="said">
					{curve.back_text}
				</text>
			{/if}
			{#each y.ticks(5) as tick (tick)}
				<line x1={LEFT} x2={width - 16} y1={y(tick)} y2={y(tick)} class="grid" />
				<text x={LEFT - 8} y={y(tick) + 6} text-anchor="end" class="figure label">{tick}</text>
			{/each}
			{#each x.ticks(6) as tick (tick)}
				<text x={x(tick)} y={height - 18} text-anchor="middle" class="figure label">{tick}</text>
			{/each}
			<text x={width - 16} y={height - 2} text-anchor="end" class="label">°C</text>
			<path d={line} class="curve" />
			{#if curve.taken !== null}
				<line x1={LEFT} x2={width - 16} y1={y(curve.taken)} y2={y(curve.taken)} class="taken" />
				<text x={LEFT + 6} y={y(curve.taken) - 6} class="said">{curve.taken_text}</text>
			{/if}
			{#each [curve.cold, curve.hot] as point, index (index)}
				{#if point}
					<line
						x1={x(point.celsius)}
						x2={x(point.celsius)}
						y1={y(point.grams)}
						y2={height - 44}
						class="drop"
					/>
					<circle cx={x(point.celsius)} cy={y(point.grams)} r="7" class={index ? 'hot' : 'cold'} />
					<text
						x={x(point.celsius) + (index ? -12 : 12)}
						y={Math.min(height - 52, y(point.grams) + (index ? -10 : 24))}
						text-anchor={index ? 'end' : 'start'}
						class="said">{point.text}</text
					>
				{/if}
			{/each}
		</svg>
	</div>
</figure>

<style>
	.curve {
		fill: none;
		stroke: var(--salt-edge);
		stroke-width: 3;
	}
	.taken {
		stroke: var(--act);
		stroke-width: 2;
		stroke-dasharray: 7 5;
	}
	.drop {
		stroke: var(--quiet);
		stroke-dasharray: 3 4;
	}
	.back {
		fill: var(--settled-wash);
	}
	.hot {
		fill: var(--bar);
		stroke: var(--watch);
	}
	.cold {
		fill: var(--salt);
		stroke: var(--salt-edge);
	}
</style>
