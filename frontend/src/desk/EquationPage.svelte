<script lang="ts">
	import Equation from '../ui/Equation.svelte';
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Ask from './Ask.svelte';
	import { EquationDesk } from './equation.svelte';

	const EXAMPLES = [
		'Mg + O2 -> MgO',
		'Cu2(OH)2CO3(s) -> CuO(s) + H2O(g) + CO2(g)',
		'BaCl2 + Na2SO4 -> BaSO4 + NaCl',
		'MnO4^- + Fe^2+ + H^+ -> Mn^2+ + Fe^3+ + H2O'
	];
	const desk = new EquationDesk();
	const sheet = $derived(desk.sheet);
</script>

<TopBar title="Equation desk" />
<main>
	<Ask
		label="Equation"
		value={desk.typed}
		ask={(text) => void desk.ask(text)}
		fault={desk.title}
		help="An arrow between the sides, with or without coefficients; (s), (l), (g), (aq) for states."
		examples={EXAMPLES}
	/>

	{#if sheet}
		{#if desk.title}<p class="quiet">Below: the last equation that could be read.</p>{/if}
		<article>
			<p class="set"><Equation text={sheet.text} /></p>
			<p aria-live="polite"><Sentence text={sheet.sentence} /></p>
			<div class="wide">
				<table>
					<thead>
						<tr>
							<th>Substance</th><th class="number">mol</th><th class="number">g/mol</th>
							<th>Given (g, or with mol)</th><th class="number">takes part, mol</th>
							<th class="number">takes part, g</th><th class="number">left, g</th>
						</tr>
					</thead>
					<tbody>
						{#each sheet.lines as line, index (line.text + index)}
							{@const fault = desk.fault(line.formula)}
							<tr
								class:limiting={line.is_limiting}
								class:first={index > 0 && !line.is_reactant && sheet.lines[index - 1]?.is_reactant}
							>
								<th scope="row"><Formula text={line.formula} /></th>
								<td class="figure number">{line.coefficient}</td>
								<td class="figure number">{line.molar_mass}</td>
								<td class="give">
									<input
										class="figure"
										aria-label="Given of {line.formula}"
										value={desk.given[line.formula] ?? ''}
										oninput={(event) => desk.give(line.formula, event.currentTarget.value)}
										inputmode="decimal"
										autocomplete="off"
										aria-invalid={fault !== ''}
									/>
									{#if line.is_limiting}<strong>runs out first</strong>{/if}
									{#if fault}<span class="fault" role="alert">{fault}</span>{/if}
								</td>
								<td class="figure number">{line.amount}</td>
								<td class="figure number">{line.mass}</td>
								<td class="figure number">{line.left}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
			<p class="quiet">
				One amount of any substance fixes all others. Give two reactants, and the one that runs out first
				counts.
			</p>
		</article>
	{:else if !desk.title}
		<p class="quiet">
			Type an equation. It is balanced here, with its mole ratios and the masses that go together.
		</p>
	{/if}
</main>

<style>
	main {
		display: grid;
		gap: 24px;
		max-width: 1080px;
		margin: 0 auto;
		padding: 24px;
	}
	article {
		display: grid;
		gap: 16px;
	}
	.set {
		font-family: var(--slab);
		font-size: 30px;
		font-weight: 700;
		line-height: 1.35;
	}
	.wide {
		overflow-x: auto;
	}
	table {
		width: 100%;
	}
	th {
		text-align: left;
		font-weight: 600;
		white-space: nowrap;
	}
	th,
	td {
		padding: 6px 16px 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	thead th {
		color: var(--quiet);
		font-weight: 400;
	}
	tbody th {
		font-size: 20px;
	}
	.first :is(th, td) {
		border-top: 2px solid var(--ink);
	}
	.number {
		text-align: right;
		white-space: nowrap;
	}
	.give input {
		width: 130px;
		min-height: 48px;
		padding: 6px 10px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--raised);
	}
	.give [aria-invalid='true'] {
		border-color: var(--stop);
	}
	.give strong {
		margin-left: 8px;
		color: var(--watch);
	}
	.give .fault {
		display: block;
		max-width: 34ch;
		font-size: 16px;
	}
</style>
