<script lang="ts">
	import type { RunView } from '../api/client';
	import Equation from '../ui/Equation.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Bench } from './bench.svelte';
	import Candidates from '../pictures/Candidates.svelte';
	import { trialQuery } from '../trials/trial';
	import Predict from './Predict.svelte';
	import RatioRuler from '../pictures/RatioRuler.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const answer = $derived(run.answer);
	const formula = $derived(answer.formula);
	const ORDER = { stop: 0, watch: 1, good: 2 };
	/* what is simply not weighed yet stands among the steps; here only what was forgotten */
	const forgotten = $derived(run.steps.some((step) => step.state === 'missed'));
	const verdicts = $derived(
		[...run.trial.verdicts, ...run.verdicts]
			.filter((verdict) => forgotten || verdict.code !== 'missing-reading')
			.sort((a, b) => ORDER[a.level] - ORDER[b.level])
	);
	const of = $derived(run.trials.length > 1 ? trialQuery(run.trial.label) : '');
	const isEquation = $derived(formula?.nearest.includes('->') ?? false);
</script>

<section class="answer" class:provisional={answer.provisional} aria-label="Answer so far">
	<div class="figures">
		<h2 class="quiet">{answer.provisional ? answer.why_provisional : 'The answer'}</h2>
		{#if formula}
			<p class="formula" class:long={isEquation}>
				<Equation text={formula.matches === 1 && formula.text ? formula.text : formula.nearest} />
				{#if formula.matches === 0}<span class="quiet nearest">nearest, no match</span>
				{:else if formula.matches > 1}<span class="quiet nearest">nearest of {formula.matches} that fit</span>
				{:else if answer.provisional}<span class="quiet nearest">so far</span>{/if}
			</p>
		{/if}
		{#if answer.headline}
			<p class="figure number"><Sentence text={answer.headline} /></p>
			{#if answer.second}<p class="figure"><Sentence text={answer.second} /></p>{/if}
		{:else}
			<p class="empty">The answer grows here with every reading.</p>
		{/if}
		{#if run.can_predict}<Predict {bench} />{/if}
		{#if answer.ruler}<RatioRuler ruler={answer.ruler} />{/if}
		{#if answer.ruler?.unit === '%' || isEquation}<Candidates
				candidates={run.trial.candidates}
				held={run.trial.candidates_held}
			/>{/if}
	</div>
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
		<a class="button" href="/runs/{run.uuid}/working{of}">Working</a>
		<a class="button" href="/runs/{run.uuid}/suspects{of}">Suspects</a>
		<a class="button" href="/runs/{run.uuid}/slip{of}">Slip</a>
		<a class="button" href="/runs/{run.uuid}/waste">Waste</a>
		<a class="button" href="/runs/{run.uuid}/log">Log</a>
	</nav>
</section>

<style>
	.answer {
		display: flex;
		flex-direction: column;
		min-height: 100%;
	}
	h2 {
		font-family: inherit;
		font-weight: 400;
		font-size: 17px;
	}
	.formula {
		margin: 2px 0 4px;
		font-size: 38px;
		font-weight: 700;
		line-height: 1.2;
	}
	.provisional .formula,
	.provisional .number {
		/* provisional looks provisional: outlined by its own dashes, not yet set */
		text-decoration: underline dashed var(--watch) 2px;
		text-underline-offset: 8px;
	}
	.long {
		font-size: 21px;
	}
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
	.nearest {
		display: inline-block;
		font-size: 18px;
		font-weight: 400;
		text-decoration: none;
	}
	.number {
		font-size: 21px;
		padding: 4px 0;
	}
	.empty {
		padding: 16px 0;
		color: var(--quiet);
	}
	ul {
		margin: 12px 0;
	}
	nav .button {
		padding: 0 6px;
	}
	@media (max-width: 1100px) {
		section.answer {
			display: grid;
			grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
			gap: 0 28px;
		}
		section.answer > nav {
			grid-column: 1 / -1;
			position: static;
			margin: 0;
			padding: 12px 0 0;
		}
	}
	nav {
		display: grid;
		grid-template-columns: repeat(3, 1fr);
		gap: 8px;
		position: sticky;
		bottom: -16px;
		margin: auto -20px -16px;
		padding: 12px 20px 16px;
		background: var(--paper);
	}
</style>
