<script lang="ts">
	/* The equation desk: balanced, its masses in balance, what runs out first, what to expect in water. */
	import type { EquationSheet } from '../api/client';
	import Equation from '../ui/Equation.svelte';
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import Desk from './Desk.svelte';
	import MassBalance from './MassBalance.svelte';
	import { EquationDesk } from './equation.svelte';
	import { follow } from './follow.svelte';

	let {
		asked = '',
		hand = null
	}: {
		asked?: string;
		/** Who wants the equation that balances. */
		hand?: ((found: string) => void) | null;
	} = $props();

	const desk = new EquationDesk();
	follow(desk, () => asked);
</script>

<Desk
	what="Equation"
	help="An arrow between the sides, with or without coefficients; (s), (l), (g), (aq) for states."
	hint="Type an equation. It is balanced here, with its mole ratios and the masses that go together."
	placeholder="Zn + HCl -> ZnCl2 + H2"
	{desk}
>
	{#snippet content(sheet: EquationSheet)}
		{#if hand && !desk.trouble}
			{@const give = hand}
			<button class="button act hand" onclick={() => give(sheet.text)}>Take it into the field</button>
		{/if}
		<p class="set"><Equation text={sheet.text} /></p>
		<MassBalance lines={sheet.lines} />
		<p aria-live="polite">
			{#if desk.faults.length}
				The figures are those of the last amounts that could be read.
			{:else}<Sentence text={sheet.sentence} />{/if}
		</p>
		<div class="wide">
			<table class="ruled">
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
		{#if sheet.expectations.length}
			<section aria-labelledby="in-water">
				<h2 id="in-water">What to expect in water</h2>
				<ul>
					{#each sheet.expectations as row (row.text)}<Verdict level={row.level} text={row.text} />{/each}
				</ul>
				<p class="quiet">By solubility rules and standard potentials: what can happen, not how fast.</p>
			</section>
		{/if}
		<p class="quiet">
			One amount of any substance fixes all others. Give two reactants, and the one that runs out first
			counts.
		</p>
	{/snippet}
</Desk>

<style>
	.set {
		font-family: var(--slab);
		font-size: 30px;
		font-weight: 700;
		line-height: 1.35;
	}
	.hand {
		justify-self: start;
	}
	h2 {
		margin-bottom: 6px;
		font-size: 22px;
	}
	tbody th {
		font-size: 20px;
	}
	.first :is(th, td) {
		border-top: 2px solid var(--ink);
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
		max-width: 40ch;
		margin-top: 8px;
		font-size: 16px;
	}
</style>
