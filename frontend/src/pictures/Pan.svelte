<script lang="ts">
	/* The vessel or the paper on the pan, and what is on it. */
	let {
		x,
		y,
		size,
		holds,
		paper = false
	}: { x: number; y: number; size: number; holds: string; paper?: boolean } = $props();

	const top = $derived(-size * 0.66);
	const rim = $derived(size * 0.7);
	const foot = $derived(size * 0.46);
</script>

<g transform="translate({x} {y})">
	{#if paper}
		{#if holds !== 'empty'}
			<path
				d="M{-rim * 0.8} {-size * 0.16} Q{-rim * 0.3} {-size * 0.62} 0 {-size * 0.56} Q{rim * 0.4} {-size *
					0.5} {rim * 0.8} {-size * 0.16} Z"
				class="dry"
			/>
		{/if}
		<path
			d="M{-size * 0.94} {-size * 0.2} Q0 {-size * 0.06} {size * 0.94} {-size * 0.2} L{rim} -3 H{-rim} Z"
			class="sheet"
		/>
	{:else if holds !== 'empty'}
		<path
			d="M{-rim * 0.72} {top} Q0 {top - size * (holds === 'heated' ? 0.42 : 0.62)} {rim * 0.72} {top} Z"
			class={holds === 'heated' ? 'dry' : 'salt'}
		/>
	{/if}
	{#if !paper}
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
	.salt {
		fill: var(--salt);
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
