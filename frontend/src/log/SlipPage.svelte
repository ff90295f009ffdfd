<script lang="ts">
	/* The result slip: half a sheet to hand in or to glue into a notebook. */
	import { getSeal, type SealView } from '../api/client';
	import { clock, dayAndTime } from '../ui/clock.svelte';
	import Equation from '../ui/Equation.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import RunFrame from './RunFrame.svelte';

	/* how far all records are sealed when this is printed: a chain that was cut or made anew bears another head */
	let seal = $state.raw<SealView | null>(null);
	$effect(() => {
		void getSeal().then((outcome) => {
			if (outcome.kind === 'done') seal = outcome.value;
		});
	});

	const isMass = (row: { unit: string; name: string }) =>
		row.unit === 'g' && !row.name.startsWith('theoretical');
</script>

<RunFrame name="Result slip" page="/slip">
	{#snippet content(run)}
		{@const trial = run.trial}
		{@const answer = run.answer}
		<p class="no-print do">
			<button class="button act" onclick={() => window.print()}>Print the slip</button>
		</p>
		<article aria-label="Result slip">
			<header>
				<div>
					<h2>{run.title}</h2>
					<p>{run.method_title}, bench {run.bench}{run.trials.length > 1 ? `, trial ${trial.label}` : ''}</p>
				</div>
				<p class="when">{run.section}<br /><span class="figure">{run.date}</span></p>
			</header>
			<div class="two">
				<table>
					<caption>As weighed</caption>
					<tbody>
						{#each run.readings.filter((row) => row.current && ['shared', trial.label].includes(row.trial)) as row (row.uuid)}
							<tr><th scope="row">{row.label}</th><td class="figure">{row.text} {row.unit}</td></tr>
						{:else}
							<tr><th scope="row">Nothing yet</th><td></td></tr>
						{/each}
						{#each trial.results.filter(isMass) as row (row.name)}
							<tr><th scope="row">{row.label}</th><td class="figure">{row.text}</td></tr>
						{/each}
					</tbody>
				</table>
				<section class="result">
					<h3>
						{#if answer.provisional}{answer.why_provisional}
						{:else if answer.standing.word === 'settled'}Result
						{:else}Result: {answer.standing.word}{/if}
					</h3>
					{#if answer.formula}
						<p class="formula">
							<Equation text={answer.formula.text ?? answer.formula.nearest} plain />
						</p>
						{#if answer.formula.matches !== 1}
							<p>
								{answer.formula.matches ? `one of ${answer.formula.matches} that fit` : 'nearest, no match'}
							</p>
						{/if}
					{/if}
					<p class="figure number">{answer.headline ?? 'not yet'}</p>
					{#if answer.second}<p class="figure">{answer.second}</p>{/if}
					<ul>
						{#each trial.verdicts.filter((row) => row.code !== 'missing-reading') as verdict (verdict.text)}
							<Verdict level={verdict.level} text={verdict.text} />
						{/each}
					</ul>
				</section>
			</div>
			<footer>
				<p>
					± holds the true value in about 95 of 100 cases. {run.balance.name}{run.balance.half_width
						? `, ± ${run.balance.half_width}`
						: ''}{run.tolerance ? `; constant within ${run.tolerance}` : ''}.
				</p>
				{#if run.signatures.length}
					<p>
						{#each run.signatures as row (row.uuid)}
							<span class="signed"
								>Signed by {row.name}, {dayAndTime(row.at, clock.now)}, record
								<span class="figure">{row.fingerprint}</span>{row.later ? '; entries came after' : ''}.</span
							>
						{/each}
					</p>
				{/if}
				{#if seal?.head}
					<p>
						All records here sealed {dayAndTime(seal.at, clock.now)}, head
						<span class="figure">{seal.head}</span>.
					</p>
				{/if}
				<p class="sign"><span>Worked by</span><span>Seen by</span></p>
			</footer>
		</article>
	{/snippet}
</RunFrame>

<style>
	.do {
		display: flex;
		justify-content: flex-end;
	}
	article {
		display: grid;
		gap: 18px;
		padding: 24px 28px;
		border: 1.5px solid var(--ink);
		background: var(--raised);
	}
	header {
		display: flex;
		justify-content: space-between;
		gap: 24px;
		padding-bottom: 10px;
		border-bottom: 2px solid var(--ink);
	}
	h2 {
		font-size: 24px;
	}
	h3,
	caption {
		padding-bottom: 6px;
		text-align: left;
		font-family: var(--slab);
		font-size: 18px;
		font-weight: 600;
	}
	.when {
		text-align: right;
	}
	.two {
		display: grid;
		grid-template-columns: minmax(280px, 1fr) 1.2fr;
		gap: 16px 40px;
		align-items: start;
	}
	th {
		padding: 4px 16px 4px 0;
		text-align: left;
		font-weight: 400;
	}
	th::first-letter {
		text-transform: uppercase;
	}
	td {
		text-align: right;
		white-space: nowrap;
	}
	.formula {
		font-size: 34px;
		font-weight: 700;
		line-height: 1.25;
	}
	.number {
		font-size: 19px;
		font-weight: 600;
	}
	ul {
		margin-top: 8px;
		font-size: 16px;
	}
	footer {
		display: grid;
		gap: 34px;
		font-size: 16px;
	}
	.signed {
		display: block;
	}
	.sign {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 40px;
	}
	.sign span {
		padding-top: 4px;
		border-top: 1px solid var(--ink);
	}
	@media (max-width: 760px) {
		.two {
			grid-template-columns: 1fr;
		}
	}
	@media print {
		article {
			padding: 0;
			border: 0;
		}
	}
</style>
