<script lang="ts">
	/* A measured figure with its band on a scale, beside what it is held against, such as an ideal and a real gas. */
	import { scaleLinear } from 'd3-scale';
	import type { ScaleView } from '../api/client';

	let { scale }: { scale: ScaleView } = $props();

	const LINE = 44;
	const ROW = 22;
	let width = $state(290);

	const ends = $derived([scale.value - scale.expanded, scale.value + scale.expanded]);
	const marks = $derived([...scale.marks].sort((a, b) => a.value - b.value));
	const every = $derived([...ends, ...marks.map((mark) => mark.value)]);
	const [low, high] = $derived([Math.min(...every), Math.max(...every)]);
	const room = $derived(Math.max(high - low, Math.abs(scale.value) * 1e-3) * 0.12);
	const x = $derived(
		scaleLinear()
			.domain([low - room, high + room])
			.range([10, width - 10])
	);
	/* a figure of the scale that a line would cross is left out */
	const CLEAR = 26;
	const ticks = $derived(
		x.ticks(4).filter((tick) => marks.every((mark) => Math.abs(x(tick) - x(mark.value)) > CLEAR))
	);
	/* names stand below one another, each on the side that has room for it */
	const end = (value: number) => x(value) > width / 2;
</script>

<figure bind:clientWidth={width}>
	<svg {width} height={LINE + 26 + marks.length * ROW} role="img" aria-label={scale.said}>
		<rect
			x={x(ends[0] ?? 0)}
			width={Math.max(2, x(ends[1] ?? 0) - x(ends[0] ?? 0))}
			y="12"
			height={LINE - 12}
		/>
		<line x1="4" x2={width - 4} y1={LINE} y2={LINE} class="axis" />
		<line x1={x(scale.value)} x2={x(scale.value)} y1="6" y2={LINE + 8} class="measured" />
		{#each ticks as tick (tick)}
			<line x1={x(tick)} x2={x(tick)} y1={LINE - 6} y2={LINE} class="axis" />
			<text x={x(tick)} y={LINE + 19} text-anchor="middle" class="figure tick">{x.tickFormat(4)(tick)}</text>
		{/each}
		{#each marks as mark, index (mark.label)}
			{@const y = LINE + 26 + (index + 1) * ROW - 6}
			<line x1={x(mark.value)} x2={x(mark.value)} y1={LINE - 16} y2={y} class="mark" />
			<text x={x(mark.value) + (end(mark.value) ? -7 : 7)} {y} text-anchor={end(mark.value) ? 'end' : 'start'}
				>{mark.label} <tspan class="figure">{mark.text}</tspan></text
			>
		{/each}
	</svg>
	<figcaption class="quiet">in {scale.unit}; shaded: the band, 95 % sure</figcaption>
</figure>

<style>
	rect {
		fill: var(--band);
	}
	.axis {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.measured {
		stroke: var(--ink);
		stroke-width: 4;
	}
	.mark {
		stroke: var(--salt-edge);
		stroke-width: 2;
		stroke-dasharray: 4 3;
	}
	text {
		fill: var(--ink);
		font-size: 16px;
		paint-order: stroke;
		stroke: var(--paper);
		stroke-width: 4px;
	}
	.tick {
		fill: var(--quiet);
	}
	figcaption {
		font-size: 16px;
	}
</style>
