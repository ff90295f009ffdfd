<script lang="ts">
	import Wide from '../ui/Wide.svelte';
	import { getWorking, type RunView, type WorkingPage } from '../api/client';
	import { keep, kept } from '../offline/keeping';
	import { route } from '../router';
	import Equation from '../ui/Equation.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import Budget from './Budget.svelte';
	import RunFrame from './RunFrame.svelte';
	import Typeset from './Typeset.svelte';

	type Ways = { pressure: 'kPa' | 'mmHg'; lines: 'symbols' | 'numbers'; route: 'direct' | 'hundred' };

	let page = $state<WorkingPage | null>(null);
	let trouble = $state('');
	/* the class's way stays chosen on this device */
	let ways = $state<Ways>(kept<Ways>('working') ?? { pressure: 'kPa', lines: 'symbols', route: 'direct' });

	$effect(() => {
		void getWorking(route.params['uuid'] ?? '', ways.pressure).then((outcome) => {
			if (outcome.kind === 'done') page = outcome.value;
			trouble = outcome.kind === 'done' ? '' : outcome.title;
		});
	});

	function choose(change: Partial<Ways>): void {
		ways = { ...ways, ...change };
		keep('working', ways);
	}

	const names = (run: RunView) =>
		[
			...new Set(
				[...run.signatures.map((row) => row.name), ...run.readings.map((row) => row.by)].filter(Boolean)
			)
		].join(', ');
</script>

{#snippet way(name: string, value: string, choices: Record<string, string>, set: (value: string) => void)}
	<label class="way"
		><span class="quiet">{name}</span>
		<select {value} onchange={(event) => set(event.currentTarget.value)}>
			{#each Object.entries(choices) as [key, text] (key)}<option value={key}>{text}</option>{/each}
		</select></label
	>
{/snippet}

<RunFrame name="Working" page="/working">
	{#snippet content(run)}
		{@const trial = run.trial}
		{@const worked = page?.trials.find((row) => row.label === trial.label) ?? null}
		{@const formula = run.answer.formula}
		<section class="ways no-print" aria-label="The class's way">
			{@render way(
				'A line shows',
				ways.lines,
				{ symbols: 'symbols', numbers: 'the numbers of the lines' },
				(value) => choose({ lines: value as Ways['lines'] })
			)}
			{#if page?.pressures}
				{@render way('Pressures in', ways.pressure, { kPa: 'kPa', mmHg: 'mmHg' }, (value) =>
					choose({ pressure: value as Ways['pressure'] })
				)}
			{/if}
			{#if worked?.route.length}
				{@render way(
					'To the formula',
					ways.route,
					{ direct: 'by the amounts found', hundred: 'by 100 g, ÷ smallest' },
					(value) => choose({ route: value as Ways['route'] })
				)}
			{/if}
			<button class="button" onclick={() => window.print()}>Print</button>
		</section>
		<section class="given">
			<p class="print-only">
				Bench {run.bench}, {run.section}. Worked by {names(run) || '______________________'}
			</p>
			<p>
				{run.method_title}, {run.date}. {run.schools.map((row) => `${row.title}: ${row.answer}`).join('; ')}.
			</p>
			<p>
				{run.balance.name}{run.balance.half_width ? `, right to within ± ${run.balance.half_width}` : ''}.
				{#if run.tolerance}Constant within {run.tolerance}.{/if}
			</p>
		</section>
		{#if worked === null}
			{#if trouble}<p class="fault" role="alert">{trouble} Reload the page to try again.</p>
			{:else}<p class="quiet" aria-busy="true">Fetching the working …</p>{/if}
		{:else}
			<div class="two">
				<table class="weighings">
					<caption>As read</caption>
					<tbody>
						{#each worked.readings as row (row.name)}
							<tr>
								<td class="count figure">{row.number}</td>
								<th scope="row">{row.label}</th>
								<td class="figure">{row.text}</td>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if worked.lines.length}
					<ol>
						{#each worked.lines as line (line.name)}
							<li>
								<span class="count figure">{line.number}</span>
								<p class="rule">
									<strong>{line.label}</strong>
									{#if ways.lines === 'numbers' && line.by_number}
										<span class="figure">= {line.by_number}</span>
									{:else if line.symbols && line.rule !== line.result}<Typeset mathml={line.symbols} />
									{:else if line.rule !== line.result}<span>= {line.rule}</span>{/if}
								</p>
								{#if line.figures}<Typeset mathml={line.figures} said="= {line.substituted}" />
								{:else if line.substituted !== line.rule}<p class="figure">= {line.substituted}</p>{/if}
								<p class="figure result">= {line.result}</p>
								{#if line.beside}<p class="quiet">{line.beside}</p>{/if}
							</li>
						{/each}
					</ol>
				{:else}
					<p class="quiet">
						Nothing can be computed yet: the first line needs the vessel empty and with its sample.
					</p>
				{/if}
			</div>
			{#if worked.route.length && ways.route === 'hundred'}
				<section aria-labelledby="by-hundred">
					<h2 id="by-hundred">By 100 g to the formula</h2>
					<Wide label="By 100 g, a table">
						<table class="ruled">
							<thead>
								<tr
									><th>Part</th><th class="number">Found</th><th class="number">In 100 g</th><th
										class="number">Moles of it</th
									><th class="number">÷ smallest</th></tr
								>
							</thead>
							<tbody>
								{#each worked.route as row (row.part)}
									<tr>
										<td><Equation text={row.part} /></td>
										<td class="figure number">{row.found} g</td>
										<td class="figure number">{row.grams} g</td>
										<td class="figure number">{row.moles} mol</td>
										<td class="figure number"><strong>{row.ratio}</strong></td>
									</tr>
								{/each}
							</tbody>
						</table>
					</Wide>
					<p class="quiet">From unrounded figures; who rounds on the way may differ in the last one.</p>
				</section>
			{/if}
		{/if}
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
					± is the band in which the true value lies in about 95 of 100 cases, rounded once, here at the end.
					The lines above carry one figure more.
				</p>
				<ul>
					{#each trial.verdicts as verdict (verdict.text)}<Verdict
							level={verdict.level}
							text={verdict.text}
						/>{/each}
				</ul>
			</section>
		{/if}
		{#if worked}<div class="no-print"><Budget trial={worked} /></div>{/if}
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
	.ways {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 12px 24px;
	}
	.way {
		display: grid;
	}
	.way select {
		min-height: 48px;
		padding: 4px 12px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--raised);
		color: var(--ink);
	}
	ol {
		display: grid;
		gap: 2px;
	}
	li:has(.rule) {
		display: grid;
		grid-template-columns: 40px 1fr;
		align-items: baseline;
		padding: 10px 0;
		border-bottom: 1px solid var(--rule);
		break-inside: avoid;
	}
	li > .count {
		grid-row: 1 / 6;
	}
	.count {
		padding-right: 12px;
		color: var(--quiet);
		text-align: left;
	}
	li > :global(:not(.count)) {
		grid-column: 2;
		overflow-wrap: anywhere;
	}
	.print-only {
		display: none;
	}
	@media print {
		.print-only {
			display: block;
		}
		.two {
			grid-template-columns: 62mm 1fr;
			gap: 4mm 8mm;
			font-size: 9pt;
		}
		ol {
			display: block;
			columns: 2;
			column-gap: 8mm;
		}
		li:has(.rule) {
			grid-template-columns: 8mm 1fr;
			padding: 1.2mm 0;
		}
		.weighings td,
		.weighings th {
			padding-block: 1mm;
		}
		.formula {
			font-size: 16pt;
		}
		.answer,
		.given {
			gap: 1mm;
			font-size: 9pt;
		}
		.answer th,
		.answer td {
			padding-block: 0.4mm;
		}
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
		display: block;
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
