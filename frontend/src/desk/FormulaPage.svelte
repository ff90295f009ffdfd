<script lang="ts">
	import { untrack } from 'svelte';
	import { searchParams } from 'sv-router';
	import type { FormulaDeskView, FormulaSheetView } from '../api/client';
	import Formula from '../ui/Formula.svelte';
	import Composition from './Composition.svelte';
	import Desk from './Desk.svelte';
	import { FormulaDesk } from './formula.svelte';

	const EXAMPLES = ['ZnSO4.7H2O', 'CaSO4.½H2O', 'Cu2(OH)2CO3', 'K4[Fe(CN)6]', 'Na 43.4 %, C 11.3 %, O rest'];

	const desk = new FormulaDesk();
	const asked = $derived(searchParams.get('f')?.toString() ?? '');

	$effect(() => {
		const text = asked;
		untrack(() => {
			if (text && text !== desk.typed) void desk.ask(text);
		});
	});
</script>

<Desk
	what="Formula"
	help="A dot before crystal water, brackets for groups, ^ before a charge. Or what was found of each element."
	hint="Type a formula: its molar mass, composition and crystal water appear here. Or type what was found of each element, in percent or by mass: the formulas that fit appear."
	examples={EXAMPLES}
	{desk}
>
	{#snippet content(found: FormulaDeskView)}
		{#if found.composition}<Composition sheet={found.composition} />
		{:else if found.formula}{@render taken(found.formula)}{/if}
	{/snippet}
</Desk>

{#snippet taken(sheet: FormulaSheetView)}
	<header>
		<p class="set"><Formula text={sheet.text} plain /></p>
		{#if sheet.name}<p class="quiet name">{sheet.name}{sheet.water ? ', hydrate' : ''}</p>{/if}
		<p class="figure mass">{sheet.molar_mass} g/mol</p>
	</header>
	<section aria-labelledby="composition">
		<h2 id="composition">Molar mass and composition</h2>
		<table class="ruled">
			<thead>
				<tr>
					<th>Element</th><th class="number">Atoms × atomic weight</th><th class="number">g/mol</th>
					<th class="number">Percent by mass</th><th aria-hidden="true"></th>
				</tr>
			</thead>
			<tbody>
				{#each sheet.lines as line (line.symbol)}
					<tr>
						<th scope="row">{line.symbol}</th>
						<td class="figure number">{line.count} × {line.weight}</td>
						<td class="figure number">{line.mass}</td>
						<td class="figure number">{line.percent} %</td>
						<td class="share" aria-hidden="true"><span style:width="{line.percent}%"></span></td>
					</tr>
				{/each}
			</tbody>
			<tfoot>
				<tr>
					<th scope="row">Sum</th><td></td><td class="figure number">{sheet.molar_mass}</td>
					<td class="figure number">100 %</td><td aria-hidden="true"></td>
				</tr>
			</tfoot>
		</table>
		<p class="quiet">Percent = share of the mass / {sheet.molar_mass} × 100 %.</p>
	</section>
	{#if sheet.water}
		<section aria-labelledby="water">
			<h2 id="water">Crystal water</h2>
			<p class="figure big">{sheet.water.percent} %</p>
			<p class="figure">{sheet.water.rule}</p>
			<p>
				Heated dry, <Formula text={sheet.water.anhydrous} /> stays:
				<span class="figure">{sheet.water.anhydrous_mass} g/mol</span>.
			</p>
		</section>
	{/if}
	{#if sheet.relatives.length}
		<section aria-labelledby="relatives">
			<h2 id="relatives">{sheet.water ? 'Other hydrates known' : 'Hydrates known'}</h2>
			<ul>
				{#each sheet.relatives as text (text)}<li><Formula {text} /></li>{/each}
			</ul>
		</section>
	{/if}
	<p class="quiet source">
		Standard atomic weights: IUPAC 2021, abridged. The mass of electrons is left out of ions.
	</p>
{/snippet}

<style>
	.set {
		font-size: 52px;
		font-weight: 700;
		line-height: 1.3;
	}
	.name {
		font-size: 18px;
	}
	.mass {
		font-size: 28px;
		font-weight: 600;
	}
	h2 {
		margin-bottom: 8px;
		font-size: 22px;
	}
	tfoot th,
	tfoot td {
		border-bottom: 0;
		border-top: 2px solid var(--ink);
		font-weight: 600;
	}
	.share {
		width: 26%;
		padding-right: 0;
	}
	.share span {
		display: block;
		height: 14px;
		background: var(--clay);
		border: 1px solid var(--clay-edge);
	}
	.big {
		font-size: 28px;
		font-weight: 600;
	}
	ul {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 28px;
		font-size: 20px;
	}
	ul li {
		min-height: 48px;
		display: flex;
		align-items: center;
	}
	@media (max-width: 640px) {
		.share {
			display: none;
		}
	}
</style>
