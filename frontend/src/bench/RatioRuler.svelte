<script lang="ts">
	import { scaleLinear } from 'd3-scale';
	import type { RulerView } from '../api/client';

	let { ruler }: { ruler: RulerView } = $props();

	const HEIGHT = 84;
	const LENS = 76;
	let width = $state(290);

	const x = $derived(
		scaleLinear()
			.domain([ruler.low, ruler.high])
			.range([12, width - 12])
	);
	const whole = $derived(ruler.marks.filter((mark) => Number.isInteger(mark.ratio)));
	const halves = $derived(ruler.marks.filter((mark) => !Number.isInteger(mark.ratio)));
	const labelled = $derived(whole.filter((_, index) => index % Math.ceil(whole.length / 8) === 0));
	/* a narrow band is looked at through a lens */
	const narrow = $derived(ruler.expanded * 16 < ruler.high - ruler.low);
	const reach = $derived(ruler.expanded * 3);
	const near = $derived(
		scaleLinear()
			.domain([ruler.value - reach, ruler.value + reach])
			.range([12, width - 12])
	);
	const inLens = $derived(ruler.marks.filter((mark) => Math.abs((mark.ratio ?? 0) - ruler.value) < reach));
	const said = $derived(
		`Measured ${ruler.value.toFixed(3)}, band ${(ruler.value - ruler.expanded).toFixed(3)} to ` +
			`${(ruler.value + ruler.expanded).toFixed(3)}; inside: ` +
			(ruler.marks
				.filter((mark) => mark.status === 'match')
				.map((mark) => mark.ratio)
				.join(', ') || 'no whole or half number')
	);
</script>

<figure bind:clientWidth={width}>
	<svg {width} height={HEIGHT + (narrow ? LENS : 0)} role="img" aria-label={said}>
		<rect
			x={x(ruler.value - ruler.expanded)}
			width={Math.max(2, x(ruler.value + ruler.expanded) - x(ruler.value - ruler.expanded))}
			y="10"
			height="36"
			class="band"
		/>
		<line x1="4" x2={width - 4} y1="46" y2="46" class="axis" />
		{#each halves as mark (mark.ratio)}
			<line x1={x(mark.ratio ?? 0)} x2={x(mark.ratio ?? 0)} y1="40" y2="46" class="half" />
		{/each}
		{#each whole as mark (mark.ratio)}
			<line x1={x(mark.ratio ?? 0)} x2={x(mark.ratio ?? 0)} y1="33" y2="46" class="tick" />
		{/each}
		{#each labelled as mark (mark.ratio)}
			<text
				x={x(mark.ratio ?? 0)}
				y="26"
				text-anchor="middle"
				class="figure"
				class:in={mark.status === 'match'}
			>
				{mark.ratio}
			</text>
		{/each}
		<line x1={x(ruler.value)} x2={x(ruler.value)} y1="50" y2="66" class="measured" />
		{#if narrow}
			<path
				d="M{x(ruler.value) - 3} 68 L12 {HEIGHT + 6} M{x(ruler.value) + 3} 68 L{width - 12} {HEIGHT + 6}"
				class="ray"
			/>
			<g transform="translate(0 {HEIGHT})">
				<rect
					x={near(ruler.value - ruler.expanded)}
					width={near(ruler.value + ruler.expanded) - near(ruler.value - ruler.expanded)}
					y="12"
					height="30"
					class="band"
				/>
				<line x1="4" x2={width - 4} y1="42" y2="42" class="axis" />
				{#each inLens as mark (mark.ratio)}
					<line x1={near(mark.ratio ?? 0)} x2={near(mark.ratio ?? 0)} y1="28" y2="42" class="tick" />
					<text x={near(mark.ratio ?? 0)} y="24" text-anchor="middle" class="figure in">{mark.ratio}</text>
				{/each}
				<line x1={near(ruler.value)} x2={near(ruler.value)} y1="46" y2="60" class="measured" />
			</g>
		{/if}
	</svg>
	<figcaption class="quiet">measured, shaded band k = 2{narrow ? ', below it magnified' : ''}</figcaption>
</figure>

<style>
	svg {
		display: block;
	}
	.band {
		fill: var(--band);
	}
	.axis {
		stroke: var(--ink);
		stroke-width: 2;
	}
	.half {
		stroke: var(--quiet);
		stroke-width: 1.5;
	}
	.tick {
		stroke: var(--ink);
		stroke-width: 2;
	}
	.measured {
		stroke: var(--act);
		stroke-width: 4;
	}
	.ray {
		stroke: var(--quiet);
		stroke-dasharray: 3 4;
	}
	text {
		fill: var(--quiet);
		font-size: 17px;
	}
	text.in {
		fill: var(--ink);
		font-weight: 700;
	}
	figcaption {
		text-align: center;
		font-size: 16px;
	}
</style>
