<script lang="ts">
	import { who } from '../doors/who.svelte';
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
	{#if !who.atBench}
		<span class="quiet">Other benches</span>
		<div class="strip" role="group" aria-label="Other benches">
			{#each bench.others as other (other.run)}
				<a href="/runs/{other.run}" class={other.level}>
					<strong>{other.name}</strong>
					{#if other.timer_ends_at}
						{@const left = secondsLeft(other.timer_ends_at)}
						<span class="figure">{left > 0 ? minutesAndSeconds(left) : 'time is up'}</span>
					{/if}
					<span class="doing">{other.trials > 1 ? `Trial ${other.trial}: ` : ''}{other.step}</span>
				</a>
			{:else}
				<span class="quiet">nobody else is at work</span>
			{/each}
		</div>
	{/if}
	<span class="state" class:away={bench.away} role="status">{state}</span>
</footer>

<style>
	.doing {
		max-width: 22ch;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	footer {
		display: flex;
		align-items: center;
		gap: 20px;
		min-height: 48px;
		padding: 0 24px;
		border-top: 1px solid var(--rule);
	}
	a {
		display: inline-flex;
		align-items: center;
		gap: 8px;
		flex-shrink: 0;
		min-height: 48px;
		color: var(--ink);
		text-decoration: none;
	}
	a:hover {
		text-decoration: underline;
	}
	footer > .quiet,
	.state {
		white-space: nowrap;
	}
	.strip {
		display: flex;
		flex: 1;
		gap: 24px;
		min-width: 0;
		overflow-x: auto;
		scrollbar-width: thin;
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
