<script lang="ts">
	/* The vessel on the pan, and what is in it. */
	let { x, y, size, holds }: { x: number; y: number; size: number; holds: string } = $props();

	const top = $derived(-size * 0.66);
	const rim = $derived(size * 0.7);
	const foot = $derived(size * 0.46);
</script>

<g transform="translate({x} {y})">
	{#if holds !== 'empty'}
		<path
			d="M{-rim * 0.72} {top} Q0 {top - size * (holds === 'heated' ? 0.42 : 0.62)} {rim * 0.72} {top} Z"
			class={holds === 'heated' ? 'dry' : 'salt'}
		/>
	{/if}
	<path
		d="M{-rim} {top} H{rim} L{foot} -4 Q{foot - 2} -2 {foot - 6} -2 H{-foot + 6} Q{-foot + 2} -2 {-foot} -4 Z"
		class="vessel"
	/>
	<line x1={-size} x2={size} y1="0" y2="0" class="pan" />
</g>

<style>
	.vessel {
		fill: var(--clay);
		stroke: var(--clay-edge);
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
