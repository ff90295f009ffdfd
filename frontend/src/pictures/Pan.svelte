<script lang="ts">
	/* What stands on the pan, as it is: crucible, dish, boat, paper, watch glass, beaker or flask, and what is on or in it. */
	let { x, y, size, holds, drawn }: { x: number; y: number; size: number; holds: string; drawn: string } =
		$props();

	/* how high the solid lies and how wide, of half the pan's width */
	const BEDS: Record<string, [number, number]> = {
		crucible: [0.66, 0.5],
		dish: [0.42, 0.66],
		paper: [0.16, 0.56],
		glass: [0.2, 0.5],
		boat: [0.2, 0.5]
	};
	const bed = $derived(BEDS[drawn]);
	const rim = $derived(size * 0.7);
	const foot = $derived(size * 0.46);
	const top = $derived(-size * 0.66);
	const heap = $derived(holds === 'heated' ? 0.42 : 0.62);
</script>

<g transform="translate({x} {y})">
	{#if bed && holds !== 'empty'}
		<path
			d="M{-size * bed[1]} {-size * bed[0]} Q0 {-size * (bed[0] + heap)} {size * bed[1]} {-size * bed[0]} Z"
			class={holds === 'heated' ? 'dry' : 'salt'}
		/>
	{/if}
	{#if drawn === 'paper'}
		<path
			d="M{-size * 0.94} {-size * 0.2} Q0 {-size * 0.06} {size * 0.94} {-size * 0.2} L{rim} -3 H{-rim} Z"
			class="sheet"
		/>
	{:else if drawn === 'glass'}
		<path d="M{-size * 0.9} {-size * 0.34} Q0 {size * 0.02} {size * 0.9} {-size * 0.34}" class="glass" />
	{:else if drawn === 'dish'}
		<path
			d="M{-size * 0.92} {-size * 0.42} H{size * 0.92} Q{size * 0.7} -2 {size * 0.36} -2 H{-size *
				0.36} Q{-size * 0.7} -2 {-size * 0.92} {-size * 0.42} Z"
			class="vessel"
		/>
	{:else if drawn === 'boat' || drawn === 'tablet'}
		{#if drawn === 'tablet' && holds !== 'empty'}
			<rect
				x={-size * 0.42}
				y={-size * 0.48}
				width={size * 0.84}
				height={size * 0.34}
				rx={size * 0.13}
				class="salt"
			/>
			<line x1={-size * 0.3} x2={size * 0.3} y1={-size * 0.31} y2={-size * 0.31} class="score" />
		{/if}
		<path d="M{-size * 0.9} {-size * 0.3} H{size * 0.9} L{size * 0.62} -3 H{-size * 0.62} Z" class="sheet" />
	{:else if drawn === 'beaker'}
		<path d="M{-size * 0.5} {-size * 0.5} H{size * 0.5} V-3 H{-size * 0.5} Z" class="liquid" />
		{#if holds === 'loaded'}<path
				d="M{-size * 0.3} -3 Q0 {-size * 0.34} {size * 0.3} -3 Z"
				class="salt"
			/>{/if}
		<path
			d="M{-size * 0.56} {-size * 1.02} L{-size * 0.5} {-size * 0.94} V-3 H{size * 0.5} V{-size * 1.02}"
			class="glass"
		/>
	{:else if drawn === 'flask'}
		<path
			d="M{-size * 0.17} {-size * 1.06} V{-size * 0.72} L{-size * 0.62} -3 H{size * 0.62} L{size *
				0.17} {-size * 0.72} V{-size * 1.06} Z"
			class={holds === 'empty' ? 'glass' : 'glass full'}
		/>
		<line x1={-size * 0.26} x2={size * 0.26} y1={-size * 1.08} y2={-size * 1.08} class="cover" />
	{:else}
		<path
			d="M{-rim} {top} H{rim} L{foot} -4 Q{foot - 2} -2 {foot - 6} -2 H{-foot + 6} Q{-foot +
				2} -2 {-foot} -4 Z"
			class="vessel"
		/>
	{/if}
	<line x1={-size} x2={size} y1="0" y2="0" class="pan" />
</g>

<style>
	.vessel {
		fill: var(--clay);
		stroke: var(--clay-edge);
		stroke-width: 2;
	}
	.sheet {
		fill: var(--raised);
		stroke: var(--quiet);
		stroke-width: 2;
	}
	.glass {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2;
		stroke-linejoin: round;
	}
	.full {
		fill: var(--dry);
	}
	.liquid {
		fill: var(--salt);
		opacity: 0.5;
	}
	.cover {
		stroke: var(--clay-edge);
		stroke-width: 4;
	}
	.salt {
		fill: var(--salt);
		stroke: var(--salt-edge);
		stroke-width: 1.5;
	}
	.score {
		stroke: var(--salt-edge);
		stroke-width: 1.5;
	}
	.dry {
		fill: var(--dry);
		stroke: var(--quiet);
		stroke-width: 1.5;
	}
	.pan {
		stroke: var(--ink);
		stroke-width: 4;
	}
</style>
