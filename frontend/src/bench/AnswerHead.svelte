<script lang="ts">
	/* The answer so far in its figures, as large as a formula whether they are one or not, and the first thing said of it. */
	import type { RunView } from '../api/client';
	import Equation from '../ui/Equation.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import { trialQuery } from '../trials/trial';
	import FirstVerdict from './FirstVerdict.svelte';

	let {
		run,
		/** Whether the first verdict stands elsewhere, directly above the field. */
		verdictElsewhere = false
	}: { run: RunView; verdictElsewhere?: boolean } = $props();

	const answer = $derived(run.answer);
	const of = $derived(run.trials.length > 1 ? trialQuery(run.trial.label) : '');
	const formula = $derived(answer.formula);
	const isEquation = $derived(formula?.nearest.includes('->') ?? false);
</script>

{#if run.held_back}
	<div class="figures">
		<h2 class="quiet">The answer</h2>
		<p class="held">{run.held_back}</p>
		{#if answer.provisional}
			<!-- the readings come first: what they give is worked out when they stand -->
			<p><a class="worded later" href="/runs/{run.uuid}/own-figures{of}">Own figures</a></p>
		{:else}
			<p><a class="button act" href="/runs/{run.uuid}/own-figures{of}">Own figures</a></p>
		{/if}
	</div>
{:else}
	<div class="figures" class:provisional={answer.provisional}>
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
			<div>
				<p class="figure number" class:alone={!formula}><Sentence text={answer.headline} /></p>
				{#if answer.second}<p class="figure"><Sentence text={answer.second} /></p>{/if}
			</div>
		{:else}
			<p class="empty">The answer grows here with every reading.</p>
		{/if}
	</div>
{/if}
{#if !verdictElsewhere}<FirstVerdict {run} />{/if}

<style>
	h2 {
		font-family: inherit;
		font-weight: 400;
		font-size: 17px;
	}
	.formula {
		margin: 2px 0 4px;
		font-family: var(--slab);
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
	.nearest {
		display: inline-block;
		font-family: 'Atkinson Hyperlegible Next', sans-serif;
		font-size: 18px;
		font-weight: 400;
		text-decoration: none;
	}
	.number {
		font-size: 21px;
		padding: 4px 0;
	}
	.alone {
		font-size: 26px;
		font-weight: 600;
		line-height: 1.25;
	}
	.later {
		display: inline-grid;
		align-items: center;
		min-height: 44px;
	}
	.held {
		padding: 6px 0 2px;
		font-size: 19px;
		line-height: 1.3;
	}
	.empty {
		padding: 8px 0;
		color: var(--quiet);
	}
	@media (max-width: 1179px) {
		/* beside each other: the pictures keep the height */
		.figures {
			display: flex;
			flex-wrap: wrap;
			align-items: center;
			gap: 2px 28px;
		}
		h2 {
			flex-basis: 100%;
		}
		.formula {
			font-size: 32px;
		}
		.empty {
			padding: 0;
		}
	}
</style>
