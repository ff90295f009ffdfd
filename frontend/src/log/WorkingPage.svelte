<script lang="ts">
	import { getWorking, type WorkedTrial } from '../api/client';
	import { route } from '../router';
	import Equation from '../ui/Equation.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import Budget from './Budget.svelte';
	import RunFrame from './RunFrame.svelte';

	let pages = $state<WorkedTrial[] | null>(null);

	$effect(() => {
		void getWorking(route.params['uuid'] ?? '').then((outcome) => {
			if (outcome.kind === 'done') pages = outcome.value.trials;
		});
	});
</script>

<RunFrame name="Working" page="/working">
	{#snippet content(run)}
		{@const trial = run.trial}
		{@const worked = pages?.find((row) => row.label === trial.label) ?? null}
		{@const working = worked?.working ?? null}
		{@const formula = run.answer.formula}
		<section class="given">
			<p>
				{run.method_title}, {run.date}. {run.schools.map((row) => `${row.title}: ${row.answer}`).join('; ')}.
			</p>
			<p>
				{run.balance.name}{run.balance.half_width ? `, right to within ± ${run.balance.half_width}` : ''}.
				{#if run.tolerance}Constant within {run.tolerance}.{/if}
			</p>
			<button class="button no-print" onclick={() => window.print()}>Print</button>
		</section>
		<div class="two">
			<table class="weighings">
				<caption>As weighed</caption>
				<tbody>
					{#each run.readings.filter((row) => row.current && ['shared', trial.label].includes(row.trial)) as row (row.uuid)}
						<tr><th scope="row">{row.label}</th><td class="figure">{row.text} {row.unit}</td></tr>
					{/each}
				</tbody>
			</table>
			{#if working === null}
				<p class="quiet" aria-busy="true">Fetching the working …</p>
			{:else if working.length}
				<ol>
					{#each working as line (line.name)}
						<li>
							<p class="rule"><strong>{line.label}</strong> = {line.rule}</p>
							{#if line.substituted !== line.rule}<p class="figure">= {line.substituted}</p>{/if}
							<p class="figure result">= {line.result}</p>
						</li>
					{/each}
				</ol>
			{:else}
				<p class="quiet">
					Nothing can be computed yet: the first line needs the vessel empty and with its sample.
				</p>
			{/if}
		</div>
		{#if run.answer.text}
			<section class="answer">
				<h2>{run.answer.provisional ? run.answer.why_provisional : 'Result'}</h2>
				{#if formula}<p class="formula">
						<Equation text={formula.text ?? formula.nearest} />{formula.text ? '' : ' (nearest, no match)'}
					</p>{/if}
				<table>
					<caption class="hidden-text">Results</caption>
					<tbody>
						{#each trial.results as row (row.name)}
							<tr><th scope="row">{row.label}</th><td class="figure">{row.text}</td></tr>
						{/each}
					</tbody>
				</table>
				<p class="quiet">
					± is the band in which the true value lies in about 95 of 100 cases (two standard uncertainties),
					rounded once, here at the end. The lines above carry one figure more.
				</p>
				<ul>
					{#each trial.verdicts as verdict (verdict.text)}<Verdict
							level={verdict.level}
							text={verdict.text}
						/>{/each}
				</ul>
			</section>
		{/if}
		{#if worked}<Budget trial={worked} />{/if}
	{/snippet}
</RunFrame>

<style>
	.two {
		display: grid;
		grid-template-columns: minmax(280px, auto) 1fr;
		align-items: start;
		gap: 24px 56px;
	}
	caption {
		padding-bottom: 6px;
		text-align: left;
		font-family: var(--slab);
		font-weight: 600;
		font-size: 20px;
	}
	.weighings td,
	.weighings th {
		border-bottom: 1px solid var(--rule);
		padding-block: 8px;
	}
	@media (max-width: 900px) {
		.two {
			grid-template-columns: 1fr;
		}
	}
	.given {
		display: grid;
		gap: 6px;
		justify-items: start;
	}
	ol {
		counter-reset: line;
		display: grid;
		gap: 2px;
	}
	li:has(.rule) {
		counter-increment: line;
		display: grid;
		grid-template-columns: 40px 1fr;
		padding: 10px 0;
		border-bottom: 1px solid var(--rule);
		break-inside: avoid;
	}
	li:has(.rule)::before {
		content: counter(line);
		grid-row: 1 / 4;
		color: var(--quiet);
		font-family: var(--mono);
	}
	li p {
		grid-column: 2;
		overflow-wrap: anywhere;
	}
	.result {
		font-weight: 600;
	}
	th {
		padding: 4px 32px 4px 0;
		text-align: left;
		font-weight: 400;
	}
	th::first-letter {
		text-transform: uppercase;
	}
	.rule strong {
		display: inline-block;
	}
	.rule strong::first-letter {
		text-transform: uppercase;
	}
	td {
		text-align: right;
	}
	.answer {
		display: grid;
		gap: 10px;
		justify-items: start;
		break-inside: avoid;
	}
	.formula {
		font-size: 32px;
		font-weight: 700;
	}
</style>
