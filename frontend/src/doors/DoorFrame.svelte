<script lang="ts">
	/* What stands at the door: the kettle, a title, and one thing to do. */
	import type { Snippet } from 'svelte';
	import { outbox } from '../offline/outbox.svelte';
	import { saidOfWaiting } from '../offline/queue';

	let { title, children }: { title: string; children: Snippet } = $props();
</script>

<svelte:head><title>{title} · Clay Kettle</title></svelte:head>

<main id="main" tabindex="-1">
	<div class="card">
		<p class="house"><img src="/mark.svg" alt="" width="44" height="44" /> Clay Kettle</p>
		<h1>{title}</h1>
		{#if outbox.rows.length}
			<p class="waits" role="status">{saidOfWaiting(outbox.rows)}. They stay on this device until then.</p>
		{/if}
		{@render children()}
	</div>
</main>

<style>
	main {
		display: grid;
		place-items: center;
		min-height: 100dvh;
		padding: 24px 16px;
	}
	.card {
		display: grid;
		gap: 18px;
		width: min(460px, 100%);
	}
	.house {
		display: flex;
		align-items: center;
		gap: 12px;
		font-family: var(--slab);
		font-size: 20px;
	}
	:global([data-mode='dark']) img {
		background: var(--dry);
		border-radius: 8px;
		padding: 3px;
	}
	.waits {
		color: var(--watch);
		font-weight: 600;
	}
	h1 {
		font-size: 32px;
		line-height: 1.15;
	}
</style>
