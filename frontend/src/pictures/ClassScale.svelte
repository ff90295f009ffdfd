<script lang="ts">
	/* All results of the class on one scale: each bench with its band, the class's mean and band, what is accepted. */
	import { scaleLinear } from 'd3-scale';
	import type { ClassScaleView } from '../api/client';
	import Axis from './Axis.svelte';

	let { scale }: { scale: ClassScaleView } = $props();

	const ROW = 24;
	const TOP = 14;
	const SIDE = 16;
	const LETTER = 9.5;
	let width = $state(900);

	/* what cannot be right would leave no room for the others: it stands at the edge, with an arrow */
	const ends = $derived.by(() => {
		const right = scale.dots.filter((dot) => dot.level !== 'stop');
		const all = [
			...(right.length ? right : scale.dots).flatMap((dot) => [
				dot.value - dot.expanded,
				dot.value + dot.expanded
			]),
			...(scale.mean === null || scale.expanded === null
				? []
				: [scale.mean - scale.expanded, scale.mean + scale.expanded]),
			...(scale.accepted === null ? [] : [scale.accepted])
		];
		const [low, high] = [Math.min(...all), Math.max(...all)];
		const room = Math.max((high - low) * 0.06, Math.abs(high) * 1e-3);
		return [low - room, high + room];
	});
	const x = $derived(
		scaleLinear()
			.domain(ends)
			.range([SIDE, width - 110])
			.clamp(true)
	);
	const beyond = (value: number) => (value < (ends[0] ?? 0) ? -1 : value > (ends[1] ?? 0) ? 1 : 0);
	/* each in the first row where its band and its name find room */
	const rows = $derived.by(() => {
		const used: number[] = [];
		return [...scale.dots]
			.sort((a, b) => a.value - b.value)
			.map((dot) => {
				const from = x(dot.value - dot.expanded) - 8;
				const found = used.findIndex((end) => end < from);
				const row = found < 0 ? used.length : found;
				used[row] = x(dot.value + dot.expanded) + 16 + LETTER * dot.bench.length;
				return { dot, row };
			});
	});
	const bottom = $derived(TOP + ROW * (1 + Math.max(0, ...rows.map((one) => one.row))) + 6);
</script>

<figure class="drawing" bind:clientWidth={width}>
	<figcaption class="quiet">
		{scale.label}{scale.unit ? ` in ${scale.unit}` : ''}: {scale.said}
	</figcaption>
	<svg {width} height={bottom + 30} role="img" aria-label="{scale.label}: {scale.said}">
		{#if scale.mean !== null && scale.expanded !== null}
			<rect
				x={x(scale.mean - scale.expanded)}
				width={Math.max(2, x(scale.mean + scale.expanded) - x(scale.mean - scale.expanded))}
				y="2"
				height={bottom - 2}
				class="band"
			/>
			<line x1={x(scale.mean)} x2={x(scale.mean)} y1="2" y2={bottom} class="mean" />
		{/if}
		{#if scale.accepted !== null}
			<line x1={x(scale.accepted)} x2={x(scale.accepted)} y1="0" y2={bottom} class="accepted" />
		{/if}
		{#each rows as { dot, row } (dot.bench)}
			{@const y = TOP + ROW * (row + 0.5)}
			<line
				x1={x(dot.value - dot.expanded)}
				x2={x(dot.value + dot.expanded)}
				y1={y}
				y2={y}
				class="whisker {dot.level}"
			/>
			{#if beyond(dot.value)}
				<path d="M{x(dot.value)} {y} l{-12 * beyond(dot.value)} -7 v14 z" class={dot.level} />
			{:else}
				<circle cx={x(dot.value)} cy={y} r="7" class={dot.level} class:open={!dot.counts || dot.is_outside} />
			{/if}
			<text x={Math.max(x(dot.value) + 12, x(dot.value + dot.expanded) + 6)} y={y + 6}>{dot.bench}</text>
		{/each}
		<Axis {x} y={bottom} from={0} to={width} {width} />
	</svg>
	<details class="quiet">
		<summary>The same as text</summary>
		<ul>
			{#each scale.dots as dot (dot.bench)}
				<li>
					<strong>{dot.bench}</strong>
					{dot.text}{dot.is_outside ? ', outside the class' : dot.counts ? '' : ', not counted yet'}
				</li>
			{/each}
		</ul>
		<p>
			The middle of the class is the median, its band 95 % sure (ISO 13528): one strange bench does not move
			it. What is not settled yet is drawn open and does not count.
		</p>
	</details>
</figure>

<style>
	.whisker {
		stroke-width: 3;
	}
	.whisker.good {
		stroke: var(--settled);
	}
	.whisker.watch {
		stroke: var(--watch);
	}
	.whisker.stop {
		stroke: var(--stop);
	}
	circle.good {
		fill: var(--settled);
		stroke: var(--settled);
	}
	circle.watch {
		fill: var(--paper);
		stroke: var(--watch);
	}
	circle.stop {
		fill: var(--paper);
		stroke: var(--stop);
	}
	circle {
		stroke-width: 3;
	}
	circle.open {
		fill: var(--paper);
	}
	path.stop {
		fill: var(--stop);
	}
	path.watch {
		fill: var(--watch);
	}
	summary {
		min-height: 32px;
		cursor: pointer;
	}
	li {
		display: inline;
		margin-right: 18px;
	}
</style>
