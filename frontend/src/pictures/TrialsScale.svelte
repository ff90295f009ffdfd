<script lang="ts">
	/* Every trial on one scale: its value, its band, the mean's band behind, and what was accepted and predicted. */
	import { scaleLinear } from 'd3-scale';
	import type { ComparisonView } from '../api/client';
	import Axis from './Axis.svelte';

	let { found, odd }: { found: ComparisonView; odd: string | null } = $props();

	const ROW = 46;
	const TOP = 40;
	const SIDE = 96;
	let width = $state(900);

	const predicted = $derived(
		found.predictions.flatMap((row) => (row.value === null ? [] : [{ ...row, value: row.value }]))
	);
	const bottom = $derived(TOP + ROW * found.rows.length);
	const height = $derived(bottom + 34 + (predicted.length ? 40 : 0));
	const ends = $derived.by(() => {
		const values = found.rows.flatMap((row) =>
			row.value === null ? [] : [row.value - (row.expanded ?? 0), row.value + (row.expanded ?? 0)]
		);
		const all = [
			...values,
			...(found.mean ? [found.mean.value - found.mean.expanded, found.mean.value + found.mean.expanded] : []),
			...(found.accepted === null ? [] : [found.accepted])
		];
		const [low, high] = [Math.min(...all), Math.max(...all)];
		const room = Math.max((high - low) * 0.08, Math.abs(high) * 1e-4);
		return [low - room, high + room];
	});
	const x = $derived(
		scaleLinear()
			.domain(ends)
			.range([SIDE, width - 24])
	);
	const y = (index: number) => TOP + ROW * (index + 0.5);
	/* a prediction beyond the scale stands at its edge, with an arrow */
	const beyond = (value: number) => (value < (ends[0] ?? 0) ? -1 : value > (ends[1] ?? 0) ? 1 : 0);
	const place = (value: number) => Math.min(width - 30, Math.max(SIDE + 6, x(value)));
	const said = $derived(
		`${found.label} of ${found.rows.length} trials: ` +
			found.rows.map((row) => `trial ${row.label} ${row.text}`).join(', ') +
			(found.mean ? `; mean ${found.mean.text}` : '') +
			(found.accepted_text ? `; accepted ${found.accepted_text}` : '')
	);
</script>

<figure class="drawing" bind:clientWidth={width}>
	<svg {width} {height} role="img" aria-label={said}>
		{#if found.mean}
			{@const { value, expanded } = found.mean}
			<rect
				x={x(value - expanded)}
				width={Math.max(2, x(value + expanded) - x(value - expanded))}
				y={TOP}
				height={bottom - TOP}
				class="band"
			/>
			<line x1={x(value)} x2={x(value)} y1={TOP} y2={bottom} class="mean" />
			<text x={x(value)} y={TOP - 10} text-anchor="middle">mean</text>
		{/if}
		{#if found.accepted !== null}
			{@const at = x(found.accepted)}
			<line x1={at} x2={at} y1={TOP - 4} y2={bottom} class="accepted" />
			<text
				x={at}
				y={found.mean && Math.abs(at - x(found.mean.value)) < 110 ? 14 : TOP - 10}
				text-anchor="middle">accepted</text
			>
		{/if}
		{#each found.rows as row, index (row.label)}
			<text x="0" y={y(index) + 6} class="label">Trial {row.label}</text>
			{#if row.value === null}
				<text x={SIDE} y={y(index) + 6} class="label none">{row.text}</text>
			{:else}
				{@const expanded = row.expanded ?? 0}
				<path
					d="M{x(row.value - expanded)} {y(index) - 8} v16 m0 -8 H{x(row.value + expanded)} m0 -8 v16"
					class="whisker"
					class:odd={row.label === odd}
				/>
				<circle cx={x(row.value)} cy={y(index)} r="8" class:odd={row.label === odd} />
			{/if}
		{/each}
		<Axis {x} y={bottom} from={SIDE} to={width - 24} {width} />
		{#if predicted.length}
			<text x="0" y={bottom + 60} class="label">expected</text>
			{#each predicted as row, index (index)}
				{@const at = place(row.value)}
				{@const way = beyond(row.value)}
				<path
					d={way ? `M${at} ${bottom + 55} l${-10 * way} -7 v14 z` : `M${at} ${bottom + 46} l7 12 h-14 z`}
					class="predicted"
				/>
				<text
					x={at + (way > 0 ? -16 : way < 0 ? 16 : 12)}
					y={bottom + 60}
					text-anchor={way > 0 ? 'end' : 'start'}
					class="label">{row.by || row.text}</text
				>
			{/each}
		{/if}
	</svg>
	<figcaption class="quiet">
		{found.label}{found.unit ? ` in ${found.unit}` : ''}; whiskers and shaded: the bands, 95 % sure
	</figcaption>
</figure>

<style>
	.label {
		font-size: 17px;
	}
	.none {
		fill: var(--quiet);
	}
	.whisker {
		fill: none;
		stroke: var(--settled);
		stroke-width: 3;
	}
	circle {
		fill: var(--settled);
	}
	.whisker.odd {
		stroke: var(--stop);
	}
	circle.odd {
		fill: var(--paper);
		stroke: var(--stop);
		stroke-width: 4;
	}
	.predicted {
		fill: var(--act);
	}
	figcaption {
		padding-top: 4px;
	}
</style>
