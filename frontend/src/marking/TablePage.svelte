<script lang="ts">
	/* The class as one table: what each bench found, how far off, its marks and why it is odd; an earlier class beside. */
	import { untrack } from 'svelte';
	import { getTable, type ClassTableView } from '../api/client';
	import { follow } from '../api/feed.svelte';
	import ClassScale from '../pictures/ClassScale.svelte';
	import { route } from '../router';
	import { day } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import ClassSigned from './ClassSigned.svelte';

	const number = $derived(Number(route.params['number'] ?? 0));
	let found = $state.raw<ClassTableView | null>(null);
	let trouble = $state('');
	let beside = $state<number | null>(null);

	async function look(): Promise<boolean> {
		const outcome = await getTable(number, beside);
		trouble = outcome.kind === 'done' ? '' : outcome.title;
		if (outcome.kind !== 'done') return false;
		found = outcome.value;
		return true;
	}
	$effect(() => {
		const wanted = number;
		return untrack(() => follow(look, false, wanted));
	});
	const SIGNS = { good: '✓', watch: '▲', stop: '■' } as const;
	const several = $derived((found?.rows ?? []).some((row) => row.trials.length > 1));
</script>

<TopBar title={found ? `${found.title}: the class` : 'Class table'} place={found ? day(found.date) : ''} />
<main id="main" tabindex="-1" class="page">
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if !found}
		<p class="quiet" aria-busy="true">Fetching the class …</p>
	{:else}
		<p class="ways no-print">
			<a class="button" href="/desk/{found.id}">The sheets</a>
			<a class="button" href="/api/classes/{found.id}/table/file?written=ods" download>Spreadsheet</a>
			<a class="button" href="/api/classes/{found.id}/table/file?written=csv" download>CSV</a>
			<a class="button" href="/api/classes/{found.id}/report" target="_blank">Report</a>
		</p>
		<div class="wide" role="region" aria-label="Results of the class" tabindex="-1">
			<table>
				<thead>
					<tr>
						<th scope="col">Bench</th>
						<th scope="col" class="right">{found.label}</th>
						<th scope="col" class="right">Off</th>
						<th scope="col">Stands</th>
						<th scope="col" class="right">Marks</th>
					</tr>
				</thead>
				<tbody>
					{#each found.rows as row (row.bench)}
						<tr class={row.level ?? ''} class:out={row.is_out}>
							<th scope="row">
								<a href="/runs/{row.run}">{row.name}</a>
								{#if row.students.length}<span class="quiet">{row.students.join(', ')}</span>{/if}
							</th>
							<td class="figure right">
								{row.found || '–'}
								{#if several}<span class="quiet trials"
										>{row.trials
											.filter((one) => one.text)
											.map((one) => `${one.label}: ${one.text}`)
											.join('; ')}</span
									>{/if}
							</td>
							<td class="figure right">{row.off}</td>
							<td class="stands">
								<span class="sign" aria-hidden="true">{row.level && !row.is_out ? SIGNS[row.level] : ''}</span
								>
								{row.is_outside ? `${row.word}, outside the class` : row.word}
								{#if row.why}<span class="why"><Sentence text={row.why} /></span>{/if}
							</td>
							<td class="figure right">{row.marks === null ? '–' : `${row.marks} of ${row.of}`}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
		{#if found.scale}<ClassScale scale={found.scale} />{/if}
		{#if found.spread}<p>{found.spread}</p>{/if}
		<p>{found.marks}</p>
		<ClassSigned number={found.id} />
		<section aria-labelledby="earlier">
			<h2 id="earlier">An earlier class beside it</h2>
			{#if found.beside}
				{#if found.earlier.length > 1}
					<div class="field which">
						<label for="beside">Which</label>
						<select
							id="beside"
							value={String(found.beside.id)}
							onchange={(event) => {
								beside = Number(event.currentTarget.value);
								void look();
							}}
						>
							{#each found.earlier as one (one.id)}<option value={String(one.id)}
									>{one.title}, {day(one.date)}</option
								>{/each}
						</select>
					</div>
				{/if}
				<p>{found.beside.title}, {day(found.beside.date)}. {found.beside.said}</p>
				{#if found.beside.scale}<ClassScale scale={found.beside.scale} />{/if}
			{:else}
				<p class="quiet">No earlier class of yours did the same work.</p>
			{/if}
		</section>
	{/if}
</main>

<style>
	main {
		display: grid;
		gap: 16px;
		align-content: start;
	}
	.wide {
		overflow-x: auto;
	}
	table {
		width: 100%;
		border-collapse: collapse;
	}
	th,
	td {
		padding: 9px 16px 9px 0;
		border-bottom: 1px solid var(--rule);
		text-align: left;
		vertical-align: top;
		line-height: 1.3;
	}
	thead th {
		font-weight: 600;
		color: var(--quiet);
	}
	tbody th {
		font-family: var(--slab);
		font-weight: 600;
	}
	tbody th a {
		color: var(--ink);
	}
	tbody th .quiet {
		display: block;
		font-family: 'Atkinson Hyperlegible Next', sans-serif;
		font-weight: 400;
		font-size: 16px;
	}
	.right {
		text-align: right;
		white-space: nowrap;
	}
	.trials,
	.why {
		display: block;
		white-space: normal;
	}
	.trials {
		font-size: 15px;
	}
	.why {
		padding-top: 2px;
	}
	.sign {
		display: inline-block;
		min-width: 20px;
	}
	.good .sign {
		color: var(--settled);
	}
	.watch .sign {
		color: var(--watch);
	}
	.stop .sign {
		color: var(--stop);
	}
	.out {
		opacity: 0.7;
	}
	section {
		display: grid;
		gap: 8px;
		padding-top: 10px;
	}
	h2 {
		font-size: 21px;
	}
	.which {
		max-width: 360px;
	}
</style>
