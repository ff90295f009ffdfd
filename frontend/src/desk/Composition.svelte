<script lang="ts">
	/* From shares of elements to the formulas that fit: amounts, ratios, and how far off each formula lies. */
	import Wide from '../ui/Wide.svelte';
	import { scaleLinear } from 'd3-scale';
	import type { CompositionSheet } from '../api/client';
	import Formula from '../ui/Formula.svelte';
	import Verdict from '../ui/Verdict.svelte';

	let { sheet }: { sheet: CompositionSheet } = $props();

	const MOST = 8;
	const FITS = { match: 'fits', near: 'near', no: 'no' };
	/* beyond this many standard uncertainties a bar is cut */
	const FAR = 6;
	const bar = scaleLinear().domain([0, FAR]).range([0, 100]).clamp(true);
	const shown = $derived(sheet.candidates.slice(0, MOST));
</script>

{#if sheet.formula}<p class="set"><Formula text={sheet.formula} plain /></p>{/if}
<ul>
	{#each sheet.verdicts as verdict (verdict.code)}<Verdict level={verdict.level} text={verdict.text} />{/each}
</ul>
<Wide label="Shares and formulas, a table">
	<table class="ruled">
		<caption>From shares to ratios</caption>
		<thead>
			<tr>
				<th>Element</th><th class="number">found</th><th class="number">÷ atomic weight</th>
				<th class="number">= amount, mol</th><th class="number">÷ smallest</th>
			</tr>
		</thead>
		<tbody>
			{#each sheet.lines as line (line.symbol)}
				<tr>
					<th scope="row">{line.symbol}</th>
					<td class="figure number">{line.found}</td>
					<td class="figure number">{line.weight}</td>
					<td class="figure number">{line.amount}</td>
					<td class="figure number">{line.ratio}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</Wide>
<Wide label="Shares and formulas, a table">
	<table class="ruled">
		<caption>Formulas with indices up to {sheet.most_index}, the nearest first</caption>
		<thead>
			<tr>
				<th>Formula</th><th class="number">times its uncertainty off</th><th aria-hidden="true"></th><th></th>
			</tr>
		</thead>
		<tbody>
			{#each shown as row (row.text)}
				<tr class={row.status}>
					<th scope="row"><Formula text={row.text} /></th>
					<td class="figure number">{row.off}</td>
					<td class="off" aria-hidden="true"><span style:width="{bar(row.misfit)}%"></span></td>
					<td class="fits">{FITS[row.status]}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</Wide>
<p class="quiet">
	One unit in the last digit typed counts as what each share is right to. Up to twice its uncertainty off a
	formula fits. Smaller indices are simpler, not truer.
</p>

<style>
	.set {
		font-size: 52px;
		font-weight: 700;
		line-height: 1.3;
	}
	caption {
		padding-bottom: 6px;
		text-align: left;
		font-family: var(--slab);
		font-size: 22px;
		font-weight: 600;
	}
	tbody th {
		font-size: 20px;
	}
	.off {
		width: 34%;
	}
	.off span {
		display: block;
		height: 14px;
		min-width: 2px;
		background: var(--bar);
	}
	.match .off span {
		background: var(--settled);
	}
	.fits {
		color: var(--quiet);
	}
	.match .fits {
		color: var(--settled);
		font-weight: 600;
	}
</style>
