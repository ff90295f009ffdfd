<script lang="ts">
	/* What limits the answer: the readings' shares of its variance as bars, and what other choices would buy. */
	import type { WorkedTrial } from '../api/client';

	let { trial }: { trial: WorkedTrial } = $props();

	const LEAST = 0.005;
	const shares = $derived(trial.budget.filter((row) => row.result === trial.key && row.share >= LEAST));
</script>

{#if shares.length}
	<section aria-labelledby="limits">
		<h2 id="limits">What limits the answer</h2>
		<table>
			<tbody>
				{#each shares as row (row.reading)}
					<tr>
						<th scope="row">{trial.labels[row.reading] ?? row.reading}</th>
						<td class="bar" aria-hidden="true"><span style:width="{100 * row.share}%"></span></td>
						<td class="figure">{row.text}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="quiet">What each reading brings to the square of the uncertainty; together 100 %.</p>
		{#if trial.advice.length}
			<h3>What would narrow the band</h3>
			<ul>
				{#each trial.advice as row (row.choice)}<li>{row.text}</li>{/each}
			</ul>
		{/if}
	</section>
{/if}

<style>
	section {
		break-inside: avoid;
	}
	h2 {
		margin-bottom: 8px;
		font-size: 22px;
	}
	h3 {
		margin: 14px 0 4px;
		font-size: 18px;
	}
	table {
		width: min(720px, 100%);
	}
	th {
		padding: 5px 20px 5px 0;
		font-weight: 400;
		text-align: left;
	}
	th::first-letter {
		text-transform: uppercase;
	}
	.bar {
		width: 46%;
	}
	.bar span {
		display: block;
		min-width: 2px;
		height: 20px;
		background: var(--bar);
	}
	td.figure {
		padding-left: 16px;
		text-align: right;
	}
</style>
