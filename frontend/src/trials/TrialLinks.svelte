<script lang="ts">
	/* The trials of a run, each with what it waits for or what it gave; leads to the same page of another trial. */
	import type { Snippet } from 'svelte';
	import type { RunView } from '../api/client';
	import { minutesAndSeconds, secondsLeft } from '../ui/clock.svelte';
	import { trialQuery } from './trial';

	/* of many trials the one that is shown stays in sight */
	function inSight(link: HTMLElement): void {
		if (link.getAttribute('aria-current')) link.scrollIntoView({ block: 'nearest', inline: 'nearest' });
	}

	let { run, page = '', children }: { run: RunView; page?: string; children?: Snippet } = $props();
</script>

<nav class="trials no-print" aria-label="Trials of this run">
	<div class="row">
		{#each run.trials as trial (trial.label)}
			<a
				class="trial {trial.level}"
				href="/runs/{run.uuid}{page}{trialQuery(trial.label)}"
				{@attach inSight}
				aria-current={trial.label === run.trial.label ? 'page' : undefined}
			>
				<strong>Trial {trial.label}</strong>
				{#if trial.timer_ends_at}
					{@const left = secondsLeft(trial.timer_ends_at)}
					<span class="figure">{left > 0 ? minutesAndSeconds(left) : 'time is up'}</span>
				{:else if trial.headline}
					<span class="figure">{trial.headline}</span>
				{:else}
					<span class="quiet">{trial.state === 'new' ? 'not begun' : trial.doing}</span>
				{/if}
			</a>
		{/each}
	</div>
	{@render children?.()}
</nav>

<style>
	.trials {
		display: flex;
		align-items: center;
		gap: 16px;
		min-height: 56px;
		padding: 0 24px;
		border-bottom: 1px solid var(--rule);
	}
	.row {
		display: flex;
		flex: 1;
		gap: 8px;
		min-width: 0;
		overflow-x: auto;
		scrollbar-width: thin;
	}
	.trial {
		display: inline-flex;
		align-items: baseline;
		flex-shrink: 0;
		gap: 10px;
		padding: 12px 14px 9px;
		border-bottom: 4px solid transparent;
		color: var(--ink);
		text-decoration: none;
		white-space: nowrap;
	}
	.trial:hover {
		background: var(--raised);
	}
	.trial[aria-current] {
		border-color: var(--act);
		background: var(--raised);
	}
	@media (max-width: 900px) {
		.trials {
			flex-wrap: wrap;
			gap: 0 12px;
			padding-bottom: 8px;
		}
		.row {
			flex-basis: 100%;
		}
	}
	.stop strong {
		color: var(--stop);
	}
</style>
