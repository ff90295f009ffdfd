<script lang="ts">
	/* How far the result is known over the size of the sample, and between which ends it fits. */
	import { scaleLinear, scaleLog } from 'd3-scale';
	import type { Sizing } from '../api/client';

	let { sizing }: { sizing: Sizing } = $props();

	const HEIGHT = 286;
	const LEFT = 64;
	const RIGHT = 18;
	const TOP = 46;
	const FOOT = HEIGHT - 40;
	let width = $state(760);

	/* the curve reaches from below the window, and what was asked about, to beyond them */
	const amounts = $derived(sizing.curve.map((point) => point.amount));
	const x = $derived(
		scaleLog()
			.domain([Math.min(...amounts), Math.max(...amounts)])
			.range([LEFT, width - RIGHT])
			.clamp(true)
	);
	const most = $derived(
		Math.max(2.4 * sizing.wanted, Math.min(4 * sizing.wanted, sizing.curve[0]?.percent ?? 0))
	);
	const y = $derived(scaleLinear().domain([0, most]).range([FOOT, TOP]).clamp(true));
	const path = $derived(
		sizing.curve
			.filter((point) => point.percent <= most)
			.map((point, index) => `${index ? 'L' : 'M'}${x(point.amount)} ${y(point.percent)}`)
			.join(' ')
	);
	const low = $derived(sizing.low ? x(sizing.low.amount) : LEFT);
	const high = $derived(sizing.high ? x(sizing.high.amount) : width - RIGHT);
	const isOpen = $derived(high - low > 2);
	const ticks = $derived.by(() => {
		const step = Math.ceil((sizing.ticks.length * 90) / (width - LEFT - RIGHT));
		return sizing.ticks.filter((_, index) => index % step === 0);
	});
	const marked = $derived(sizing.asked ?? sizing.about);
	const markedAt = $derived(marked ? x(marked.amount) : 0);
	const said = $derived(
		`Window of the ${sizing.label}: ` +
			(sizing.low ? `at least ${sizing.low.text}, ${sizing.low.label}; ` : 'no lower end; ') +
			(sizing.high ? `at most ${sizing.high.text}, ${sizing.high.label}. ` : 'no upper end. ') +
			(marked?.percent_text ? `${marked.text} gives ${marked.percent_text}.` : '')
	);
</script>

<figure class="drawing" bind:clientWidth={width}>
	<svg {width} height={HEIGHT} role="img" aria-label={said}>
		<rect x={LEFT} y={TOP} width={Math.max(0, low - LEFT)} height={FOOT - TOP} class="small" />
		{#if isOpen}<rect x={low} y={TOP} width={high - low} height={FOOT - TOP} class="fits" />{/if}
		<rect x={high} y={TOP} width={Math.max(0, width - RIGHT - high)} height={FOOT - TOP} class="large" />
		{#each y.ticks(4) as tick (tick)}
			<line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} class="grid" />
			<text x={LEFT - 8} y={y(tick) + 5} text-anchor="end" class="figure">{tick} %</text>
		{/each}
		<line x1={LEFT} x2={width - RIGHT} y1={y(sizing.wanted)} y2={y(sizing.wanted)} class="wanted" />
		<path d={path} class="curve" />
		{#if sizing.low}
			<line x1={low} x2={low} y1={TOP - 8} y2={FOOT} class="end" />
			<text
				x={Math.max(LEFT, low - 6)}
				y={TOP - 26}
				text-anchor={low < LEFT + 120 ? 'start' : 'end'}
				class="label">{sizing.low.label}</text
			>
			<text
				x={Math.max(LEFT, low - 6)}
				y={TOP - 8}
				text-anchor={low < LEFT + 120 ? 'start' : 'end'}
				class="figure strong">{sizing.low.text}</text
			>
		{/if}
		{#if sizing.high}
			<line x1={high} x2={high} y1={TOP - 8} y2={FOOT} class="end" />
			<text
				x={Math.min(width - RIGHT, high + 6)}
				y={TOP - 26}
				text-anchor={high > width - 150 ? 'end' : 'start'}
				class="label">{sizing.high.label}</text
			>
			<text
				x={Math.min(width - RIGHT, high + 6)}
				y={TOP - 8}
				text-anchor={high > width - 150 ? 'end' : 'start'}
				class="figure strong">{sizing.high.text}</text
			>
		{/if}
		{#if marked}
			<line x1={markedAt} x2={markedAt} y1={TOP} y2={FOOT} class="marked" />
			{#if marked.percent !== null && marked.percent <= most}
				<circle cx={markedAt} cy={y(marked.percent)} r="8" class="dot" />
			{/if}
			<text
				x={markedAt + (markedAt > width - 170 ? -12 : 12)}
				y={FOOT - 12}
				text-anchor={markedAt > width - 170 ? 'end' : 'start'}
				class="figure strong">{marked.text}</text
			>
		{/if}
		<line x1={LEFT} x2={width - RIGHT} y1={FOOT} y2={FOOT} class="axis" />
		{#each ticks as tick (tick.amount)}
			<line x1={x(tick.amount)} x2={x(tick.amount)} y1={FOOT} y2={FOOT + 6} class="axis" />
			<text x={x(tick.amount)} y={FOOT + 24} text-anchor="middle" class="figure">{tick.text}</text>
		{/each}
	</svg>
	<figcaption class="quiet">
		How far the result is known, to 95 %, over the {sizing.label} in {sizing.unit}. Dashed: what is wanted.
	</figcaption>
</figure>

<style>
	figure {
		min-width: 0;
	}
	.strong {
		font-weight: 700;
		paint-order: stroke;
		stroke: var(--paper);
		stroke-width: 4px;
	}
	.small {
		fill: var(--band);
		opacity: 0.55;
	}
	.fits {
		fill: var(--settled-wash);
	}
	.large {
		fill: var(--stop-wash);
	}
	.wanted {
		stroke: var(--settled);
		stroke-width: 2;
		stroke-dasharray: 7 5;
	}
	.curve {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2.5;
	}
	.end,
	.axis {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.marked {
		stroke: var(--act);
		stroke-width: 2.5;
	}
	.dot {
		fill: var(--act);
		stroke: var(--raised);
		stroke-width: 2;
	}
	figcaption {
		font-size: 16px;
	}
</style>
