<script lang="ts">
	import { getComparison, type ComparisonView, type RunView } from '../api/client';
	import RunFrame from '../log/RunFrame.svelte';
	import { route } from '../router';
	import Verdict from '../ui/Verdict.svelte';
	import TrialsScale from '../pictures/TrialsScale.svelte';
	import { trialQuery } from './trial';

	let found = $state<ComparisonView | null>(null);
	let trouble = $state('');

	$effect(() => {
		void getComparison(route.params['uuid'] ?? '').then((outcome) => {
			if (outcome.kind === 'done') found = outcome.value;
			else trouble = outcome.title;
		});
	});

	const odd = $derived(found?.verdicts.find((verdict) => verdict.code === 'odd-trial')?.about ?? null);
	const counted = $derived(found?.rows.filter((row) => row.value !== null).length ?? 0);
</script>

<RunFrame name="Trials">
	{#snippet content(run: RunView)}
		{#if found}
			{#if counted}
				<TrialsScale {found} {odd} />
			{/if}
			<section aria-label="What the trials say together">
				{#if found.mean}<p class="mean">
						<span class="quiet">weighted mean</span> <strong class="figure">{found.mean.text}</strong>
						{#if found.accepted_text}<span class="quiet">accepted</span>
							<span class="figure">{found.accepted_text}</span>{/if}
					</p>{/if}
				<ul>
					{#each found.verdicts as verdict (verdict.code)}<Verdict
							level={verdict.level}
							text={verdict.text}
						/>{/each}
					{#if counted === 1}<Verdict level="remark" text="One trial has a result; two can be compared." />
					{:else if counted === 0}<Verdict level="remark" text="No trial has a result yet." />
					{:else if found.accepted === null}<Verdict
							level="remark"
							text="No value is accepted for this run, so whether the mean is right is not judged."
						/>{/if}
					{#each found.predictions as row (row.said)}<Verdict level="remark" text={row.said} />{/each}
				</ul>
			</section>
			{#if found.results.length}
				<section aria-labelledby="all-results">
					<h2 id="all-results">All results</h2>
					<div class="wide">
						<table class="ruled">
							<thead>
								<tr>
									<th>Result</th>
									{#each found.rows as row (row.label)}
										<th class="number"
											><a href="/runs/{run.uuid}/working{trialQuery(row.label)}">Trial {row.label}</a></th
										>
									{/each}
									<th class="number">mean</th>
									<th class="number"><i>s</i></th>
								</tr>
							</thead>
							<tbody>
								{#each found.results as row (row.label)}
									<tr>
										<th scope="row">{row.label}{row.unit ? `, ${row.unit}` : ''}</th>
										{#each row.values as value, index (index)}
											<td class="figure number">{value || '—'}</td>
										{/each}
										<td class="figure number">{row.mean || '—'}</td>
										<td class="figure number">{row.deviation || '—'}</td>
									</tr>
								{/each}
							</tbody>
						</table>
					</div>
					<p class="quiet">
						Plain mean and standard deviation <i>s</i> (n − 1). The weighted mean above counts a finer weighing
						for more.
					</p>
				</section>
			{/if}
		{:else}
			<p class:fault={trouble !== ''} class:quiet={!trouble} aria-busy={!trouble}>
				{trouble || 'Comparing the trials …'}
			</p>
		{/if}
	{/snippet}
</RunFrame>

<style>
	.mean {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 4px 14px;
		font-size: 20px;
	}
	.mean strong {
		font-size: 26px;
	}
	h2 {
		margin-bottom: 8px;
		font-size: 22px;
	}
	th[scope='row'] {
		font-weight: 400;
	}
	th[scope='row']::first-letter {
		text-transform: uppercase;
	}
	th a {
		display: inline-grid;
		place-items: center;
		min-height: 40px;
		text-decoration: underline;
		text-underline-offset: 4px;
	}
</style>
