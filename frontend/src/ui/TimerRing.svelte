<script lang="ts">
	/* How much of a timer is left, as a ring: `share` from 1 to 0. */
	let { share, over = false, size = 52 }: { share: number; over?: boolean; size?: number } = $props();

	const RADIUS = 20;
	const AROUND = 2 * Math.PI * RADIUS;
</script>

<svg width={size} height={size} viewBox="0 0 52 52" aria-hidden="true">
	<circle cx="26" cy="26" r={RADIUS} class="whole" class:over />
	<circle cx="26" cy="26" r={RADIUS} class="left" stroke-dasharray="{share * AROUND} {AROUND}" />
</svg>

<style>
	svg {
		flex-shrink: 0;
	}
	circle {
		fill: none;
		stroke-width: 8;
	}
	.whole {
		stroke: var(--rule);
	}
	.left {
		stroke: var(--act);
		transform: rotate(-90deg);
		transform-origin: center;
	}
	.whole.over {
		stroke: var(--act);
	}
</style>
