<script lang="ts">
	import { untrack } from 'svelte';
	import { searchParams } from 'sv-router';
	import Formula from '../ui/Formula.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Ask from './Ask.svelte';
	import { FormulaDesk } from './formula.svelte';

	const EXAMPLES = ['ZnSO4.7H2O', 'CaSO4.½H2O', 'Cu2(OH)2CO3', 'K4[Fe(CN)6]', 'SO4^2-'];

	const desk = new FormulaDesk();
	const asked = $derived(searchParams.get('f')?.toString() ?? '');
	const sheet = $derived(desk.sheet);

	$effect(() => {
		const text = asked;
		untrack(() => {
			if (text && text !== desk.typed) void desk.ask(text);
		});
	});
</script>

<TopBar title="Formula desk" />
<main>
	<Ask
		label="Formula"
		value={desk.typed}
		ask={(text) => void desk.ask(text)}
		fault={desk.fault}
		help="A dot before crystal water, brackets for groups, ^ before a charge."
		examples={EXAMPLES}
	/>

	{#if sheet}
		{#if desk.fault}<p class="quiet">Below: the last formula that could be read.</p>{/if}
		<article>
			<header>
				<p class="set"><Formula text={sheet.text} plain /></p>
				{#if sheet.name}<p class="quiet name">{sheet.name}{sheet.water ? ', hydrate' : ''}</p>{/if}
				<p class="figure mass">{sheet.molar_mass} g/mol</p>
			</header>
			<section aria-labelledby="composition">
				<h2 id="composition">Molar mass and composition</h2>
				<table>
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
		</article>
	{:else if !desk.fault}
		<p class="quiet">
			Type a formula. Its molar mass, composition and crystal water appear here, with their working.
		</p>
	{/if}
</main>

<style>
	main {
		display: grid;
		gap: 28px;
		max-width: 940px;
		margin: 0 auto;
		padding: 24px;
	}
	article {
		display: grid;
		gap: 28px;
	}
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
	table {
		width: 100%;
	}
	th {
		text-align: left;
		font-weight: 600;
	}
	th,
	td {
		padding: 7px 16px 7px 0;
		border-bottom: 1px solid var(--rule);
	}
	thead th {
		color: var(--quiet);
		font-weight: 400;
	}
	tfoot th,
	tfoot td {
		border-bottom: 0;
		border-top: 2px solid var(--ink);
		font-weight: 600;
	}
	.number {
		text-align: right;
		white-space: nowrap;
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
