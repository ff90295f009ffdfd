<script lang="ts">
	import { who } from '../doors/who.svelte';
	import { MediaQuery } from 'svelte/reactivity';
	import Download from '@lucide/svelte/icons/download';
	import type { ReadingView, RunView } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import Correct from './Correct.svelte';
	import Marks from './Marks.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import RunFrame from './RunFrame.svelte';
	import Signatures from './Signatures.svelte';

	/* on a narrow page instrument, hand and remarks stand below the reading's name */
	const narrow = new MediaQuery('max-width: 900px');
	const phone = new MediaQuery('max-width: 560px');
	const several = (run: RunView) => run.trials.length > 1;
</script>

{#snippet remarks(row: ReadingView)}
	{#if row.corrects && row.state === 'taken'}corrects
		<span class="figure">{row.corrects}</span>: {row.reason}
	{:else if row.corrects}in place of <span class="figure">{row.corrects}</span>: {row.reason}
	{:else}{row.reason}{/if}
	{#if row.doubt}<span class="doubt">confirmed although: {row.doubt}</span>{/if}
{/snippet}

{#snippet correct(run: RunView, row: ReadingView, look: () => Promise<void>)}
	{#if row.current && row.state === 'taken'}<Correct {run} {row} done={look} />{/if}
{/snippet}

<RunFrame name="Log">
	{#snippet content(run: RunView, look: () => Promise<void>)}
		<nav aria-label="Take it with you" class="no-print">
			<a class="button" href="/api/runs/{run.uuid}/run-file" download
				><Download size={20} aria-hidden="true" /> Run file</a
			>
			<a class="button" href="/api/runs/{run.uuid}/csv" download
				><Download size={20} aria-hidden="true" /> CSV</a
			>
			{#each [['pdf', 'Report, for print'], ['odt', 'Report, to write on'], ['html', 'Report, as a page']] as [to, words] (to)}<a
					class="button"
					href="/api/runs/{run.uuid}/report?to={to}"
					target="_blank">{words}</a
				>{/each}
			{#if !who.atBench && who.is?.kind !== 'board'}<a class="button" href="/prepare?run={run.uuid}"
					>Make a practical of it</a
				>{/if}
		</nav>
		<section aria-labelledby="readings">
			<h2 id="readings">Readings</h2>
			<div class="wide">
				<table class="ruled">
					<thead>
						<tr
							><th>Time</th>{#if several(run)}<th>Trial</th>{/if}<th>What</th><th class="number">Reading</th
							>{#if !narrow.current}<th>Instrument</th><th>By</th><th>Remarks</th>{/if}{#if !phone.current}<th
								></th>{/if}</tr
						>
					</thead>
					<tbody>
						{#each run.readings as row (row.uuid)}
							<tr class:old={!row.current}>
								<td class="figure">{timeOfDay(row.at)}</td>
								{#if several(run)}<td
										>{run.trials.some((trial) => trial.label === row.trial) ? row.trial : 'all'}</td
									>{/if}
								<td class="what"
									>{row.label}{#if narrow.current}<p class="quiet">{row.instrument}, {row.by}</p>
										<p>{@render remarks(row)}</p>{/if}{#if phone.current}{@render correct(
											run,
											row,
											look
										)}{/if}</td
								>
								<td class="figure number">
									{#if row.state === 'not-taken'}not taken
									{:else if row.state === 'withdrawn'}nothing
									{:else if row.current}{row.text} {row.unit}{:else}<s>{row.text} {row.unit}</s><span
											class="hidden-text"
										>
											superseded</span
										>{/if}
								</td>
								{#if !narrow.current}
									<td>{row.instrument}</td>
									<td>{row.by}</td>
									<td>{@render remarks(row)}</td>
								{/if}
								{#if !phone.current}<td class="no-print">{@render correct(run, row, look)}</td>{/if}
							</tr>
						{:else}
							<tr><td colspan="8" class="quiet">Nothing has been weighed yet.</td></tr>
						{/each}
					</tbody>
				</table>
			</div>
		</section>
		<section aria-labelledby="seen">
			<h2 id="seen">Seen at the bench</h2>
			<ul>
				{#each run.observations as seen (seen.uuid)}
					<li>
						<span class="figure quiet">{timeOfDay(seen.at)}</span>
						{#if seen.trial && several(run)}Trial {seen.trial}:{/if}
						{#if seen.taken_back}<s>{seen.tag}{seen.text ? `, ${seen.text}` : ''}</s>
							<span class="quiet">{seen.taken_back}</span>
						{:else}{seen.tag}{seen.text ? `, ${seen.text}` : ''}{/if}
						<span class="quiet">{seen.by}</span>
					</li>
				{:else}
					<li class="quiet">Nothing noted. The bench page notes what is seen by one tap.</li>
				{/each}
			</ul>
		</section>
		<Marks {run} />
		{#if run.changes.length}
			<section aria-labelledby="changes">
				<h2 id="changes">Decided otherwise</h2>
				<ul>
					{#each run.changes as change, index (index)}
						<li>
							<span class="figure quiet">{timeOfDay(change.at)}</span>
							<Sentence text={change.text} />: {change.reason} <span class="quiet">{change.by}</span>
						</li>
					{/each}
				</ul>
			</section>
		{/if}
		<Signatures {run} done={look} />
		{#if run.note}<p>{run.note}</p>{/if}
		<p class="quiet">
			{[run.procedure, ...run.schools.map((row) => `${row.title}: ${row.answer}`)].join('; ')}.
		</p>
	{/snippet}
</RunFrame>

<style>
	nav {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
	.old,
	s {
		color: var(--quiet);
	}
	s {
		text-decoration-thickness: 2px;
	}
	.what {
		min-width: 110px;
	}
	.what p {
		font-size: 16px;
		line-height: 1.3;
	}
	.doubt {
		color: var(--watch);
	}
	h2 {
		margin-bottom: 8px;
		font-size: 22px;
	}
	li {
		padding: 3px 0;
	}
</style>
