<script lang="ts">
	/* What stands below the answer: its picture where there is one, the statements, the verdicts, the ways on. */
	import type { RunView } from '../api/client';
	import BandScale from '../pictures/BandScale.svelte';
	import Candidates from '../pictures/Candidates.svelte';
	import RatioRuler from '../pictures/RatioRuler.svelte';
	import ChangeRun from '../runs/ChangeRun.svelte';
	import { trialQuery } from '../trials/trial';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Bench } from './bench.svelte';
	import { who } from '../doors/who.svelte';
	import HandOver from './HandOver.svelte';
	import Predict from './Predict.svelte';
	import { verdictsOf } from './verdicts';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const answer = $derived(run.answer);
	/* the first one stands always in sight */
	const verdicts = $derived(verdictsOf(run).slice(1));
	const of = $derived(run.trials.length > 1 ? trialQuery(run.trial.label) : '');
	const isEquation = $derived(answer.formula?.nearest.includes('->') ?? false);
</script>

{#if run.can_predict}<Predict {bench} />{/if}
{#if answer.ruler}<RatioRuler ruler={answer.ruler} />{/if}
{#if answer.scale}<BandScale scale={answer.scale} />{/if}
{#if answer.ruler?.unit === '%' || isEquation}<Candidates
		candidates={run.trial.candidates}
		held={run.trial.candidates_held}
	/>{/if}
{#if answer.statements.length}
	<dl>
		{#each answer.statements as row (row.title)}
			<dt>{row.title}</dt>
			<dd><Sentence text={row.text} /></dd>
		{/each}
	</dl>
{/if}
<ul aria-live="polite">
	{#each verdicts as verdict (verdict.code + verdict.about + verdict.text)}
		<Verdict level={verdict.level} text={verdict.text} />
	{/each}
	{#each run.predictions as row (row.said)}<Verdict level="remark" text={row.said} />{/each}
	{#each answer.remarks as remark (remark)}<Verdict level="remark" text={remark} />{/each}
</ul>
<nav class="no-print" aria-label="More of this run">
	{#if !run.held_back}
		<a class="button" href="/runs/{run.uuid}/working{of}">Working</a>
		<a class="button" href="/runs/{run.uuid}/suspects{of}">Suspects</a>
		<a class="button" href="/runs/{run.uuid}/slip{of}">Slip</a>
		<a class="button" href="/runs/{run.uuid}/own-figures{of}">Own figures</a>
	{/if}
	<a class="button" href="/runs/{run.uuid}/waste">Waste</a>
	<a class="button" href="/runs/{run.uuid}/log">Log</a>
	<ChangeRun {run} done={() => bench.look()} />
	{#if who.atBench}<HandOver waiting={bench.queue.length} />{/if}
</nav>

<style>
	dl {
		margin: 10px 0 0;
		line-height: 1.3;
	}
	dt {
		color: var(--quiet);
	}
	dd {
		margin: 0 0 6px;
	}
	ul {
		margin: 12px 0;
	}
	nav :global(.button) {
		padding: 0 6px;
	}
	nav {
		display: grid;
		grid-template-columns: repeat(3, 1fr);
		gap: 8px;
	}
	@media (min-width: 1180px) {
		nav {
			position: sticky;
			bottom: -16px;
			margin: auto -20px -16px;
			padding: 12px 20px 16px;
			background: var(--paper);
		}
	}
</style>
