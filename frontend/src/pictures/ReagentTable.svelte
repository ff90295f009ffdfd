<script lang="ts">
	/* Substances as columns, planned beside actual, the limiting one marked; below it the path of the yield. */
	import type { ReagentTableView } from '../api/client';
	import Formula from '../ui/Formula.svelte';
	import TakeAlong from '../ui/TakeAlong.svelte';

	let { table }: { table: ReagentTableView } = $props();

	const ROWS = [
		['molar_mass', 'g/mol'],
		['planned', 'planned'],
		['actual', 'actual'],
		['amount', 'amount'],
		['equivalents', 'equivalents'],
		['supply', 'of the need, times']
	] as const;
	const shown = $derived(ROWS.filter(([key]) => table.columns.some((column) => column[key] !== '')));
	const roles = $derived(table.columns.some((column) => column.role !== 'reactant'));
	const most = $derived(Math.max(...table.path.map((step) => step.percent), 100));
	const rows = $derived([
		['', ...table.columns.map((column) => column.formula)],
		...shown.map(([key, title]) => [title, ...table.columns.map((column) => column[key])])
	]);
</script>

<section aria-label="Reagent table">
	<header>
		<h3 class="quiet">Reagents</h3>
		<TakeAlong {rows} file="reagents.csv" />
	</header>
	<!-- more columns than the page is wide are looked at by scrolling, also by keyboard -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div class="scroll" tabindex="0" role="group" aria-label="Reagents, a column each">
		<table>
			<thead>
				<tr>
					<td></td>
					{#each table.columns as column (column.formula)}
						<th scope="col" class:limiting={column.is_limiting}>
							<Formula text={column.formula} plain />
							{#if column.name}<span class="small">{column.name}</span>{/if}
							{#if roles && column.role !== 'reactant'}<span class="small">{column.role}</span>{/if}
						</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each shown as [key, title] (key)}
					<tr>
						<th scope="row">{title}</th>
						{#each table.columns as column (column.formula)}
							<td class="figure" class:limiting={column.is_limiting}>{column[key]}</td>
						{/each}
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	{#if table.path.length}
		<h3 class="quiet">From what can come to what came</h3>
		<ol>
			{#each table.path as step, index (step.label)}
				<li>
					<span>{step.label}</span>
					<span class="track"
						><span class="bar" class:all={index === 0} style:width="{(100 * step.percent) / most}%"
						></span></span
					>
					<span class="figure">{step.said}</span>
					{#if step.lost}<span class="small lost">{step.lost}</span>{/if}
				</li>
			{/each}
		</ol>
	{/if}
</section>

<style>
	section {
		display: grid;
		align-content: start;
		gap: 8px;
		min-width: 0;
	}
	header {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	h3 {
		font-family: inherit;
		font-weight: 400;
	}
	.scroll {
		min-height: min-content;
		overflow-x: auto;
	}
	table {
		min-width: 100%;
	}
	th,
	td {
		padding: 4px 10px;
		text-align: right;
		white-space: nowrap;
		border-bottom: 1px solid var(--rule);
	}
	tbody th {
		padding-left: 0;
		text-align: left;
		font-weight: 400;
		color: var(--quiet);
	}
	thead th {
		vertical-align: bottom;
	}
	.limiting {
		font-weight: 700;
	}
	th.limiting {
		border-bottom: 4px solid var(--act);
	}
	.small {
		display: block;
		font-size: 16px;
		font-weight: 400;
		color: var(--quiet);
	}
	ol {
		display: grid;
		grid-template-columns: auto minmax(80px, 1fr) auto;
		gap: 6px 14px;
	}
	li {
		display: grid;
		grid-template-columns: subgrid;
		grid-column: 1 / -1;
		align-items: center;
	}
	.track {
		height: 22px;
	}
	.bar {
		display: block;
		height: 100%;
		background: var(--settled);
		border-radius: 3px;
	}
	.bar.all {
		background: var(--band);
	}
	.lost {
		grid-column: 2 / -1;
	}
</style>
