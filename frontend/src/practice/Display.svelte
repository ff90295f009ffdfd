<script lang="ts">
	/* What an instrument shows: its last digits pale while it runs or wanders, and why. */
	import type { Seen } from './practice.svelte';

	let { seen }: { seen: Seen } = $props();
	/* the last two digits are those that move */
	const MOVING = 2;
	const firm = $derived(seen.steady ? seen.figure : seen.figure.slice(0, -MOVING));
	const loose = $derived(seen.steady ? '' : seen.figure.slice(-MOVING));
</script>

<section class="display" aria-label="{seen.instrument}, {seen.label}">
	<p class="what">{seen.instrument}: {seen.label}</p>
	{#if seen.figure}
		<p class="digits figure">
			<span class="hidden-text">{seen.figure} {seen.unit}, {seen.steady ? 'steady' : 'not steady'}</span>
			<span aria-hidden="true">{firm}<span class="loose">{loose}</span> {seen.unit}</span>
		</p>
	{:else}
		<p class="digits figure" aria-hidden="true">–</p>
	{/if}
	<p class="said" role="status">{seen.said || 'steady'}</p>
</section>

<style>
	.display {
		display: grid;
		gap: 2px;
		padding: 12px 18px;
		border-radius: 6px;
		background: #212c38;
		color: #f7f2eb;
	}
	.what {
		color: #d3d2cb;
	}
	.digits {
		font-size: 36px;
		font-weight: 600;
		line-height: 1.2;
		white-space: nowrap;
	}
	.loose {
		color: #b4b9bf;
	}
	.said {
		color: #f0c070;
	}
	@media (max-width: 699px) {
		.digits {
			font-size: 30px;
		}
	}
</style>
