<script lang="ts">
	/* The waste sheet of a run, or of the day. */
	import { untrack } from 'svelte';
	import {
		getDayWaste,
		getRunSubstances,
		getRunWaste,
		type RunSubstancesView,
		type WasteView
	} from '../api/client';
	import { route } from '../router';
	import Formula from '../ui/Formula.svelte';
	import BackToBench from '../ui/BackToBench.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Parts from './Parts.svelte';

	const uuid = $derived(route.params['uuid'] ?? null);
	let view = $state<WasteView | null>(null);
	let known = $state<RunSubstancesView | null>(null);
	let trouble = $state('');

	async function look(run: string | null): Promise<void> {
		const outcome = run === null ? await getDayWaste() : await getRunWaste(run);
		if (outcome.kind !== 'done') {
			trouble = outcome.title;
			return;
		}
		view = outcome.value;
		if (run === null) return;
		const substances = await getRunSubstances(run);
		if (substances.kind === 'done') known = substances.value;
	}

	$effect(() => {
		const run = uuid;
		untrack(() => void look(run));
	});
	const isFormula = (what: string) => /^[A-Z(][A-Za-z0-9()·.[\]]*$/.test(what);
</script>

<TopBar
	title={uuid ? `Waste: ${view?.title ?? ''}` : 'Waste of the day'}
	place={uuid ? '' : (view?.title ?? '')}
>
	{#if uuid}<BackToBench href="/runs/{uuid}" />{/if}
</TopBar>
<main id="main" tabindex="-1" class="page">
	{#if !uuid}<Parts here="/waste" />{/if}
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if view}
		<div class="head">
			<p class="rules"><strong>{view.sheet.rules}</strong></p>
			<button class="button no-print" onclick={() => window.print()}>Print the sheet</button>
		</div>
		<div class="sheet-of-waste">
			{#each view.sheet.containers as container (container.name)}
				<section class:open={container.name === ''} aria-label={container.title}>
					<svg viewBox="0 0 40 52" width="40" height="52" aria-hidden="true">
						{#if container.name === 'bin'}
							<path d="M6 12 H34 L30 48 H10 Z M4 12 H36 M15 12 V7 H25 V12" />
						{:else if container.name.includes('solid') || container.name === 'reclaim'}
							<path d="M8 14 H32 V46 Q32 49 29 49 H11 Q8 49 8 46 Z M9 6 H31 V14 H9 Z M8 26 H32 M8 38 H32" />
						{:else}
							<path
								d="M15 4 H25 V14 L33 22 V46 Q33 49 30 49 H10 Q7 49 7 46 V22 L15 14 Z M7 30 H33 M7 42 H33"
							/>
						{/if}
					</svg>
					<div>
						<h2>{container.title}</h2>
						<p class="quiet">{container.say}</p>
						{#if container.fill}<p class="fill">{container.fill}</p>{/if}
					</div>
					<table>
						<tbody>
							{#each container.lines as line, index (index)}
								<tr>
									<th scope="row">
										{#if isFormula(line.what)}<Formula text={line.what} plain />{:else}{line.what}{/if}
										{#if line.name}<span class="quiet name">{line.name}</span>{/if}
										{#if line.holds.length && line.amount}<span class="name">{line.amount}</span>{/if}
										{#if line.holds.length}
											<ul class="holds" aria-label="What it holds">
												{#each line.holds as held (held.what)}
													<li>
														{#if isFormula(held.what)}<Formula
																text={held.what}
																plain
															/>{:else}{held.what}{/if}
														<span class="figure">{held.amount || 'not weighed'}</span>
													</li>
												{/each}
											</ul>
										{/if}
									</th>
									<td class="figure">{line.holds.length ? '' : line.amount}</td>
									<td class="first">{line.first}</td>
								</tr>
							{/each}
						</tbody>
					</table>
				</section>
			{/each}
		</div>
		{#if known}
			<section class="known" aria-labelledby="known">
				<h2 id="known">What it works with</h2>
				<ul>
					{#each known.substances as row (row.formula)}
						<li>
							<strong><Formula text={row.formula} plain /></strong>
							<span>{row.name}: {row.hazards.join(', ')}. {row.remarks}</span>
						</li>
					{/each}
				</ul>
				{#if known.unknown.length}
					<p class="fault">
						Not in the register: {known.unknown.join(', ')}.
						<a href="/substances">Add what its label says</a>.
					</p>
				{/if}
			</section>
		{:else if view.runs.length}
			<p class="quiet">Of {view.runs.length} runs: {view.runs.join('; ')}.</p>
		{/if}
	{:else if !trouble}
		<p class="quiet" aria-busy="true">Sorting …</p>
	{/if}
</main>

<style>
	.head {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 24px;
	}
	.rules {
		font-size: 19px;
	}
	.sheet-of-waste {
		display: grid;
		gap: 14px;
	}
	.sheet-of-waste section {
		display: grid;
		grid-template-columns: 48px minmax(220px, 1fr) minmax(0, 1.9fr);
		gap: 20px;
		align-items: start;
		padding: 14px 18px;
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
	}
	.sheet-of-waste section.open {
		border: 2px dashed var(--stop);
	}
	.open h2 {
		color: var(--stop);
	}
	svg path {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2;
		stroke-linejoin: round;
	}
	h2 {
		font-size: 20px;
	}
	table {
		width: 100%;
	}
	th {
		min-width: 230px;
		padding: 4px 12px 4px 0;
		text-align: left;
		font-weight: 600;
	}
	.name {
		display: block;
		font-weight: 400;
		font-size: 16px;
	}
	.fill {
		margin-top: 6px;
		font-weight: 600;
	}
	.holds {
		padding-top: 2px;
		font-weight: 400;
	}
	.holds li {
		display: grid;
		grid-template-columns: minmax(110px, 1fr) auto;
		gap: 12px;
		max-width: 280px;
		font-size: 17px;
	}
	td {
		padding: 4px 0 4px 12px;
		vertical-align: top;
	}
	.first {
		width: 38%;
		font-size: 17px;
	}
	td.figure {
		white-space: nowrap;
		text-align: right;
	}
	.known {
		display: grid;
		gap: 8px;
	}
	.known li {
		display: grid;
		grid-template-columns: 130px 1fr;
		gap: 16px;
		padding: 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	@media (max-width: 560px) {
		/* liquid, what it holds and what to mind below one another */
		table,
		tbody,
		tr,
		td,
		th {
			display: block;
			width: auto;
			padding-left: 0;
		}
		.first {
			width: auto;
		}
	}
	@media (max-width: 900px) {
		.sheet-of-waste section {
			grid-template-columns: 48px 1fr;
		}
		table {
			grid-column: 1 / -1;
		}
	}
</style>
