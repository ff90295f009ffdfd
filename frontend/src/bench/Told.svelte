<script lang="ts">
	/* What the instructor says to this bench, until somebody has read it. */
	import { keep, kept } from '../offline/keeping';
	import { timeOfDay } from '../ui/clock.svelte';
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();

	const name = $derived(`told:${bench.run?.day ?? 0}`);
	let read = $derived(kept<number>(name) ?? 0);
	const fresh = $derived((bench.feed?.board?.messages ?? []).filter((row) => row.id > read));

	function done(): void {
		read = Math.max(read, ...fresh.map((row) => row.id));
		keep(name, read);
	}
</script>

<div role="status">
	{#if fresh.length}
		<div class="told">
			<ul>
				{#each fresh.slice(0, 3) as row (row.id)}
					<li><strong>{row.text}</strong> <span class="quiet">instructor, {timeOfDay(row.at)}</span></li>
				{/each}
			</ul>
			<button class="button" onclick={done}>Read</button>
		</div>
	{/if}
</div>

<style>
	.told {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 16px;
		padding: 8px 24px;
		border-left: 6px solid var(--act);
		background: var(--raised);
		font-size: 19px;
	}
	li {
		padding: 2px 0;
		overflow-wrap: anywhere;
	}
	.quiet {
		font-size: 16px;
	}
</style>
