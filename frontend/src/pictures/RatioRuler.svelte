<script lang="ts">
	import { scaleLinear } from 'd3-scale';
	import type { Candidate, RulerView } from '../api/client';
	import { pieces } from '../ui/formula';

	let { ruler }: { ruler: RulerView } = $props();

	const HEIGHT = 84;
	const LENS = 76;
	let width = $state(290);

	const x = $derived(
		scaleLinear()
			.domain([ruler.low, ruler.high])
			.range([12, width - 12])
	);
	const at = (mark: Candidate) => mark.expected ?? 0;
	const percent = $derived(ruler.unit === '%');
	/* where chemistry has a say, the formulas it allows are named, and only they stand tall */
	const named = $derived(ruler.marks.filter((mark) => mark.charges === true));
	const judged = $derived(ruler.marks.some((mark) => mark.charges !== null));
	const isTall = (mark: Candidate) =>
		percent || (judged ? mark.charges === true : Number.isInteger(mark.expected));
	const tall = $derived(ruler.marks.filter(isTall));
	const halves = $derived(ruler.marks.filter((mark) => !isTall(mark)));
	/* a ratio is read off its whole numbers, a percentage off the scale's own */
	const numbers = $derived(
		judged
			? []
			: percent
				? x.ticks(5).map((value) => ({ value, isMatch: false }))
				: tall
						.filter((_, index) => index % Math.ceil(tall.length / 8) === 0)
						.map((mark) => ({ value: at(mark), isMatch: mark.status === 'match' }))
	);
	/* where the names are too long for the room between them, only the one that fits is named in full */
	const longest = $derived(Math.max(0, ...named.map((mark) => mark.text.length)));
	const first = $derived(named[0] ? x(at(named[0])) : width);
	const crowded = $derived(named.length > 1 && (longest * 9 > width / named.length || first < longest * 4.5));
	const fits = $derived(named.some((mark) => mark.status === 'match'));
	const nameOf = (mark: Candidate) =>
		!crowded || (fits ? mark.status === 'match' : mark === named[0]) ? mark.text : `${at(mark)}`;
	/* a narrow band is looked at through a lens */
	const narrow = $derived(ruler.expanded * 16 < ruler.high - ruler.low);
	const reach = $derived(ruler.expanded * 3);
	const near = $derived(
		scaleLinear()
			.domain([ruler.value - reach, ruler.value + reach])
			.range([12, width - 12])
	);
	const inLens = $derived(ruler.marks.filter((mark) => Math.abs(at(mark) - ruler.value) < reach));
</script>

<figure bind:clientWidth={width}>
	<svg {width} height={HEIGHT + (narrow ? LENS : 0)} role="img" aria-label={ruler.said}>
		<rect
			x={x(ruler.value - ruler.expanded)}
			width={Math.max(2, x(ruler.value + ruler.expanded) - x(ruler.value - ruler.expanded))}
			y="10"
			height="36"
			class="band"
		/>
		<line x1="4" x2={width - 4} y1="46" y2="46" class="axis" />
		{#each halves as mark (mark.text)}
			<line x1={x(at(mark))} x2={x(at(mark))} y1="40" y2="46" class="half" />
		{/each}
		{#each tall as mark (mark.text)}
			<line
				x1={x(at(mark))}
				x2={x(at(mark))}
				y1="33"
				y2="46"
				class="tick"
				class:no={percent && mark.status === 'no'}
			/>
		{/each}
		{#each numbers as number (number.value)}
			<text x={x(number.value)} y="26" text-anchor="middle" class="figure" class:in={number.isMatch}>
				{number.value}
			</text>
		{/each}
		{#each named as mark (mark.text)}
			<text x={x(at(mark))} y="26" text-anchor="middle" class="name" class:in={mark.status === 'match'}
				>{#each pieces(nameOf(mark)) as piece, index (index)}<tspan
						dy={index && (piece.style === 'sub') !== (pieces(nameOf(mark))[index - 1]?.style === 'sub')
							? piece.style === 'sub'
								? 4
								: -4
							: 0}
						font-size={piece.style === 'sub' ? '12' : '17'}>{piece.text}</tspan
					>{/each}</text
			>
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
				{#each inLens as mark (mark.text)}
					<line x1={near(at(mark))} x2={near(at(mark))} y1="28" y2="42" class="tick" />
					{#if !percent && !judged}<text x={near(at(mark))} y="24" text-anchor="middle" class="figure in"
							>{at(mark)}</text
						>{/if}
				{/each}
				<line x1={near(ruler.value)} x2={near(ruler.value)} y1="46" y2="60" class="measured" />
			</g>
		{/if}
	</svg>
	<figcaption class="quiet">
		measured, shaded: its band, 95 % sure{narrow ? ', below it magnified' : ''}
	</figcaption>
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
	.no {
		stroke: var(--quiet);
		stroke-width: 1.5;
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
	.name {
		font-family: var(--slab);
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
