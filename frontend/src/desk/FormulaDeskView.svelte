<script lang="ts">
	/* The formula desk: a formula taken apart, or the formulas that fit what was found of each element. */
	import Wide from '../ui/Wide.svelte';
	import type { FormulaDeskView, FormulaSheetView } from '../api/client';
	import Formula from '../ui/Formula.svelte';
	import Brick from './Brick.svelte';
	import Composition from './Composition.svelte';
	import Desk from './Desk.svelte';
	import { FormulaDesk } from './formula.svelte';
	import { follow } from './follow.svelte';

	let {
		asked,
		hand = null
	}: {
		asked: string;
		/** Who wants the formula that is found. */
		hand?: ((found: string) => void) | null;
	} = $props();

	const desk = new FormulaDesk();
	const found = $derived(
		desk.trouble ? '' : (desk.sheet?.formula?.text ?? desk.sheet?.composition?.formula ?? '')
	);

	follow(desk, () => asked);
</script>

<Desk
	what="Formula"
	help="A dot before crystal water, brackets for groups, ^ before a charge. Or what was found of each element."
	hint="Type a formula: its molar mass, composition and crystal water appear here. Or type what was found of each element, in percent or by mass: the formulas that fit appear."
	placeholder="Na2B4O7.10H2O, borax"
	{desk}
>
	{#snippet content(sheet: FormulaDeskView)}
		{#if hand && found}
			{@const give = hand}
			<button class="button act hand" onclick={() => give(found)}
				>Take <Formula text={found} plain /> into the field</button
			>
		{/if}
		{#if sheet.composition}<Composition sheet={sheet.composition} />
		{:else if sheet.formula}{@render taken(sheet.formula)}{/if}
	{/snippet}
</Desk>

{#snippet taken(sheet: FormulaSheetView)}
	<header>
		<p class="set"><Formula text={sheet.text} plain /></p>
		{#if sheet.name}<p class="quiet name">{sheet.name}{sheet.water ? ', hydrate' : ''}</p>{/if}
		<p class="figure mass">{sheet.molar_mass} g/mol</p>
	</header>
	<Brick lines={sheet.lines} water={sheet.water?.percent ?? null} />
	<section aria-labelledby="composition">
		<h2 id="composition">Molar mass and composition</h2>
		<Wide label="Composition, a table">
			<table class="ruled">
				<thead>
					<tr>
						<th>Element</th><th class="number">Atoms × atomic weight</th><th class="number">g/mol</th>
						<th class="number">Percent by mass</th>
					</tr>
				</thead>
				<tbody>
					{#each sheet.lines as line (line.symbol)}
						<tr>
							<th scope="row">{line.symbol}</th>
							<td class="figure number">{line.count} × {line.weight}</td>
							<td class="figure number">{line.mass}</td>
							<td class="figure number">{line.percent} %</td>
						</tr>
					{/each}
				</tbody>
				<tfoot>
					<tr>
						<th scope="row">Sum</th><td></td><td class="figure number">{sheet.molar_mass}</td>
						<td class="figure number">100 %</td>
					</tr>
				</tfoot>
			</table>
		</Wide>
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
		/* a long formula grows no wider than a phone */
		font-size: clamp(30px, 8.5vw, 52px);
		font-weight: 700;
		line-height: 1.3;
	}
	.set :global(.formula) {
		white-space: normal;
		overflow-wrap: anywhere;
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
	.hand {
		justify-self: start;
	}
</style>
