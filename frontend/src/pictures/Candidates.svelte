<script lang="ts">
	/* What an unknown may be, the likeliest first: its share as a bar and as a figure, and how it looks. */
	import type { CandidateView } from '../api/client';
	import Equation from '../ui/Equation.svelte';
	import Formula from '../ui/Formula.svelte';

	let { candidates, held }: { candidates: CandidateView[]; held: number } = $props();

	const MOST = 5;
	const LEAST = 0.001;
	const shown = $derived(candidates.filter((row) => (row.likelihood ?? 0) >= LEAST).slice(0, MOST));
	const FITS = { match: 'fits', near: 'near', no: 'no' };
	const equations = $derived(candidates.filter((row) => row.text.includes('->')));
</script>

{#if shown.length}
	<table>
		<caption>
			Of {held} hydrates it may be
			<span class="quiet">(share if only the instruments were at work)</span>
		</caption>
		<tbody>
			{#each shown as row (row.text)}
				<tr>
					<th scope="row"><Formula text={row.text} /><span class="quiet seen">{row.seen}</span></th>
					<td class="figure water">{row.expected_text}</td>
					<td class="share">
						<span class="bar" aria-hidden="true"
							><span style:width="{100 * (row.likelihood ?? 0)}%"></span></span
						>
						<span class="figure">{row.share_text}</span>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
{#if equations.length > 1}
	<table>
		<caption>What each equation would leave</caption>
		<tbody>
			{#each equations as row (row.text)}
				<tr class={row.status}>
					<th scope="row"><Equation text={row.text} /></th>
					<td class="figure water">{row.expected_text}</td>
					<td class="fits">{FITS[row.status]}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}

<style>
	tr.match .fits {
		color: var(--settled);
		font-weight: 600;
	}
	.fits {
		text-align: right;
	}
	table {
		width: 100%;
		margin-top: 10px;
	}
	caption {
		padding-bottom: 4px;
		text-align: left;
		line-height: 1.25;
	}
	th {
		text-align: left;
		font-weight: 600;
		font-size: 18px;
	}
	th,
	td {
		padding: 5px 0;
		border-bottom: 1px solid var(--rule);
		vertical-align: top;
	}
	.seen {
		display: block;
		font-weight: 400;
		font-size: 16px;
		line-height: 1.2;
	}
	.water {
		padding-inline: 10px;
		text-align: right;
	}
	.share {
		width: 92px;
		text-align: right;
	}
	.bar {
		display: block;
		height: 8px;
		margin-top: 5px;
		background: var(--rule);
	}
	.bar span {
		display: block;
		height: 100%;
		background: var(--ink);
	}
</style>
