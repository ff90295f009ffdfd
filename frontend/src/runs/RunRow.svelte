<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import CircleAlert from '@lucide/svelte/icons/circle-alert';
	import Hand from '@lucide/svelte/icons/hand';
	import type { RunSummary } from '../api/client';
	import { who } from '../doors/who.svelte';
	import type { Runs } from './runs.svelte';
	import { clock, dayAndTime, minutesAndSeconds, secondsLeft, timeOfDay } from '../ui/clock.svelte';
	import Formula from '../ui/Formula.svelte';

	let { run, runs }: { run: RunSummary; runs: Runs } = $props();

	/* dragged out of the window, the row becomes its run file where the browser can do that */
	function drag(event: DragEvent): void {
		const address = `${location.origin}/api/runs/${run.uuid}/run-file`;
		event.dataTransfer?.setData('DownloadURL', `application/json:${run.title}.json:${address}`);
	}

	const left = $derived(run.timer_ends_at ? secondsLeft(run.timer_ends_at) : null);
	const formula = $derived(run.answer.formula);
	/* the day stands only where it is not today's */
	const day = $derived(run.date === runs.today ? '' : `${run.date} `);
	const undecided = $derived(formula !== null && formula.matches !== 1);
	const standing = $derived(run.answer.standing);
</script>

{#snippet cells()}
	<span class="bench">{run.bench}</span>
	<span class="title">
		<strong>{run.title}</strong>
		<span class="quiet">{run.method_title}, {day}{timeOfDay(run.changed_at)}</span>
	</span>
	<span class="doing">
		{#if run.rest}
			<span>
				In the {run.rest.waits_in} since {dayAndTime(run.rest.since, clock.now)}{run.rest.place
					? `, ${run.rest.place}`
					: ''}
			</span>
			{#if left !== null && left <= 0}<span class="up"
					>due since {dayAndTime(run.timer_ends_at ?? '', clock.now)}</span
				>{/if}
		{:else if run.is_out}dropped out{:else}{run.doing}{/if}
		{#if !run.rest && left !== null}
			<span class="figure" class:up={left <= 0}>{left > 0 ? minutesAndSeconds(left) : 'time is up'}</span>
		{/if}
	</span>
	<span class="answer">
		{#if formula && !formula.nearest.includes('->')}
			<span class="formula"
				>{#if undecided}<span class="quiet near">near</span>{/if}
				<Formula text={formula.nearest} plain /></span
			>
		{/if}
		<span class="figure">{run.answer.headline ?? 'not yet'}</span>
	</span>
	<span class="state {standing.level}" title={standing.why}>
		{#if standing.level === 'stop'}<Hand size={22} aria-hidden="true" />
		{:else if standing.level === 'watch'}<CircleAlert size={22} aria-hidden="true" />
		{:else}<Check size={22} aria-hidden="true" />{/if}
		{standing.word}
	</span>
{/snippet}

<li class:choosing={runs.chosen !== null}>
	{#if runs.chosen !== null}
		<label>
			<input
				type="checkbox"
				checked={runs.chosen.includes(run.uuid)}
				onchange={(event) => runs.choose(run.uuid, event.currentTarget.checked)}
			/>
			<span class="hidden-text">Save {run.title}, bench {run.bench}</span>
		</label>
	{/if}
	{#if who.is?.kind === 'board'}<div class="row">{@render cells()}</div>
	{:else}<a class="row" href="/runs/{run.uuid}" ondragstart={drag}>{@render cells()}</a>{/if}
</li>

<style>
	.choosing {
		display: grid;
		grid-template-columns: 56px 1fr;
	}
	label {
		display: grid;
		place-items: center;
		border-bottom: 1px solid var(--rule);
	}
	input {
		width: 28px;
		height: 28px;
		accent-color: var(--act);
	}
	.row {
		display: grid;
		grid-template-columns: 84px minmax(220px, 1.3fr) minmax(170px, 1fr) minmax(260px, 1.2fr) 168px;
		align-items: center;
		gap: 16px;
		min-height: 76px;
		padding: 10px 4px;
		border-bottom: 1px solid var(--rule);
		color: var(--ink);
		text-decoration: none;
	}
	a.row:hover {
		background: var(--raised);
	}
	.bench {
		font-family: var(--slab);
		font-weight: 600;
		font-size: 20px;
	}
	.title,
	.answer,
	.doing {
		display: grid;
	}
	.doing {
		text-wrap: balance;
	}
	.formula {
		font-size: 20px;
		font-weight: 600;
	}
	.near {
		font-size: 16px;
		font-weight: 400;
	}
	.up {
		color: var(--act);
		font-weight: 600;
	}
	.state {
		display: flex;
		align-items: center;
		gap: 8px;
		color: var(--watch);
		font-weight: 600;
	}
	.state.good {
		color: var(--settled);
	}
	.state.stop {
		color: var(--stop);
	}
	@media (max-width: 900px) {
		.row {
			grid-template-columns: 80px 1fr auto;
		}
		.doing {
			grid-column: 2;
			grid-row: 2;
		}
		.answer {
			grid-column: 3;
			grid-row: 1;
		}
		.state {
			grid-column: 3;
			grid-row: 2;
		}
	}
	@media (max-width: 560px) {
		.row {
			grid-template-columns: 1fr auto;
			gap: 4px 12px;
		}
		.bench {
			font-size: 18px;
		}
		.state {
			grid-column: 2;
			grid-row: 1;
		}
		.title,
		.doing,
		.answer {
			grid-column: 1 / -1;
			grid-row: auto;
		}
	}
</style>
