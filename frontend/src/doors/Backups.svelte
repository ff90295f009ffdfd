<script lang="ts">
	/* Where the records have their copy, and when it was made last. */
	import { clock, dayAndTime } from '../ui/clock.svelte';
	import type { Shelf } from './shelf.svelte';

	let { shelf }: { shelf: Shelf } = $props();
	const found = $derived(shelf.backups);
</script>

{#if found}
	<section aria-labelledby="backups">
		<h2 id="backups">Backup</h2>
		{#if !found.is_kept}
			<p>
				None is made here by itself. A house that is served for real on its own database makes one every
				night, and restores it once to prove it.
			</p>
		{:else}
			{#if found.fault}
				<p class="fault" role="alert">
					The last one, {dayAndTime(found.tried_at, clock.now)}, failed: {found.fault}
				</p>
			{/if}
			{#if found.made_at}
				<p class:good={!found.fault && !found.is_old} class:old={found.is_old}>
					The last good one was made {dayAndTime(found.made_at, clock.now)}: {found.rows} rows, restored once to
					prove it.
				</p>
				{#if found.is_old}<p>A night was missed since: is the house on at night?</p>{/if}
				<p class="quiet figure">{found.file}</p>
			{:else if !found.fault}
				<p>
					None yet; the first is made some minutes after the start. <span class="figure"
						>./kettle backup FILE</span
					> makes one now.
				</p>
			{/if}
		{/if}
	</section>
{/if}

<style>
	.old {
		color: var(--watch);
		font-weight: 600;
	}
	.good {
		color: var(--settled);
		font-weight: 600;
	}
</style>
