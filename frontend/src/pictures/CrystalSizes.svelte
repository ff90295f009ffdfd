<script lang="ts">
	/* Every crystal that was measured as a bar of its own length, portion under portion on one scale, with the means. */
	import { scaleLinear } from 'd3-scale';
	import type { SizesPicture } from '../api/client';

	let { sizes }: { sizes: SizesPicture } = $props();

	let width = $state(600);
	let height = $state(360);
	const LEFT = 8;
	const HEAD = 34;

	const longest = $derived(Math.max(...sizes.portions.flatMap((portion) => portion.lengths), 0) || 10);
	const x = $derived(
		scaleLinear()
			.domain([0, 1.1 * longest])
			.range([LEFT, width - 24])
	);
	const ticks = $derived(x.ticks(Math.max(2, Math.floor(width / 100))));
	const band = $derived((height - 48) / sizes.portions.length);
	const bar = (count: number) => Math.min(34, (band - HEAD - 14) / Math.max(count, 3));
</script>

<figure class="drawing">
	<figcaption class="quiet">How long each crystal is, in mm</figcaption>
	<div class="space" bind:clientWidth={width} bind:clientHeight={height}>
		<svg {width} {height} role="img" aria-label="The crystals of each portion on one scale">
			{#each ticks as tick (tick)}
				<line x1={x(tick)} x2={x(tick)} y1="0" y2={height - 44} class="grid" />
				<text x={x(tick)} y={height - 22} text-anchor="middle" class="label">{tick}</text>
			{/each}
			{#each sizes.portions as portion, index (portion.label)}
				{@const top = index * band}
				{@const thick = bar(portion.lengths.length)}
				{@const bottom = top + HEAD + thick * Math.max(portion.lengths.length, 1)}
				<text x={LEFT + 4} y={top + 24} class="said"
					>{portion.label}<tspan class="cooling" dx="10">{portion.cooling}</tspan></text
				>
				{#each portion.lengths as length, number (number)}
					<rect
						x={x(0)}
						y={top + HEAD + number * thick}
						width={x(length) - x(0)}
						height={Math.max(2, thick - 4)}
						rx="2"
						class="crystal"
					/>
				{:else}
					<text x={LEFT + 4} y={top + HEAD + 20} class="label">no crystal measured yet</text>
				{/each}
				{#if portion.mean !== null}
					{@const mean = portion.mean}
					{@const off = portion.half_width ?? 0}
					<rect
						x={x(Math.max(0, mean - off))}
						y={top + HEAD - 4}
						width={x(mean + off) - x(Math.max(0, mean - off))}
						height={bottom - top - HEAD + 4}
						class="band"
					/>
					<line x1={x(mean)} x2={x(mean)} y1={top + HEAD - 6} y2={bottom + 2} class="mean" />
					<text x={width - 24} y={top + 24} text-anchor="end" class="said">{portion.text}</text>
				{/if}
			{/each}
			<line x1={x(0)} x2={width - 24} y1={height - 44} y2={height - 44} class="axis" />
		</svg>
	</div>
</figure>

<style>
	.cooling {
		fill: var(--quiet);
		font-weight: 400;
	}
	.axis {
		stroke: var(--quiet);
	}
	.crystal {
		fill: var(--salt);
		stroke: var(--salt-edge);
	}
	.band {
		fill: var(--settled);
		opacity: 0.16;
	}
	.mean {
		stroke: var(--settled);
		stroke-width: 3;
	}
</style>
