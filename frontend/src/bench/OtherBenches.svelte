<script lang="ts">
	import { minutesAndSeconds, secondsLeft } from '../ui/clock.svelte';
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();

	const state = $derived(
		bench.waiting.length
			? `${bench.waiting.length} ${bench.waiting.length === 1 ? 'reading waits' : 'readings wait'} to be saved`
			: bench.away
				? 'the server does not answer'
				: bench.queue.length
					? 'saving …'
					: 'all readings saved'
	);
</script>

<footer class="no-print">
	<span class="quiet">Other benches</span>
	{#each bench.others.slice(0, 5) as other (other.uuid)}
		<a href="/runs/{other.uuid}" class={other.level}>
			<strong>{other.bench}</strong>
			{other.doing}
			{#if other.timer_ends_at}
				{@const left = secondsLeft(other.timer_ends_at)}
				<span class="figure">{left > 0 ? minutesAndSeconds(left) : 'time is up'}</span>
			{/if}
		</a>
	{:else}
		<span class="quiet">nobody else is at work</span>
	{/each}
	<span class="state" class:away={bench.away} role="status">{state}</span>
</footer>

<style>
	footer {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 24px;
		min-height: 48px;
		padding: 0 24px;
		border-top: 1px solid var(--rule);
	}
	a {
		display: inline-flex;
		align-items: center;
		gap: 8px;
		min-height: 44px;
		color: var(--ink);
		text-decoration: none;
	}
	a:hover {
		text-decoration: underline;
	}
	.stop {
		color: var(--stop);
	}
	.state {
		margin-left: auto;
		color: var(--quiet);
	}
	.away {
		color: var(--watch);
		font-weight: 600;
	}
</style>
