<script lang="ts">
	/* The reagent table as a form of its own: filled in before anything is weighed, worked out at every keystroke. */
	import Plus from '@lucide/svelte/icons/plus';
	import { untrack } from 'svelte';
	import { navigate } from '../router';
	import TakeAlong from '../ui/TakeAlong.svelte';
	import TextField from '../ui/TextField.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import { handOver } from './handover';
	import ReagentGrid from './ReagentGrid.svelte';
	import { COUNTED, Reagents, TYPED } from './reagents.svelte';
	import WhatComes from './WhatComes.svelte';

	const table = new Reagents();
	$effect(() => untrack(() => void table.begin()));

	const found = $derived(table.found);
	/* as it stands: what is typed, then what was counted */
	const rows = $derived([
		['', ...table.sent.map((column) => column.formula)],
		...[{ key: 'role', title: 'Role' } as const, ...TYPED].map((row) => [
			row.title,
			...table.sent.map((column) => column[row.key])
		]),
		...COUNTED.map(([key, title]) => [
			title,
			...table.sent.map((column) => table.answer(column)?.[key] ?? '')
		])
	]);

	async function start(): Promise<void> {
		const plan = table.handover;
		if (!plan) return;
		handOver(plan);
		await navigate('/');
	}

	async function prepare(): Promise<void> {
		const plan = table.handover;
		if (!plan) return;
		handOver(plan);
		await navigate('/prepare');
	}
</script>

<TopBar title="Reagent table" place="before anything is weighed" />
<main id="main" tabindex="-1" class:answered={found}>
	<form onsubmit={(event) => event.preventDefault()} novalidate>
		<div class="head">
			<TextField
				id="equation"
				label="Equation"
				bind:value={table.equation}
				typed={() => table.ask()}
				placeholder="C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
				fault={table.fault('options.equation')}
				proposal={table.faults.find((row) => row.path === 'options.equation')?.suggestion ?? ''}
				help="With all its products, water too; it is balanced or proposed."
			/>
			<TextField
				id="product"
				label="Product"
				bind:value={table.product}
				typed={() => table.ask()}
				placeholder={found?.values['product'] ?? 'the first'}
				fault={table.fault('options.product')}
				help="Empty: the first product."
			/>
		</div>
		{#if table.columns.length}
			<ReagentGrid {table} />
			<p class="more">
				<button type="button" class="button" disabled={table.full} onclick={() => table.add('catalyst')}
					><Plus size={20} aria-hidden="true" /> Catalyst</button
				>
				<button type="button" class="button" disabled={table.full} onclick={() => table.add('solvent')}
					><Plus size={20} aria-hidden="true" /> Solvent</button
				>
				<button type="button" class="button" disabled={table.full} onclick={() => table.add('reactant')}
					><Plus size={20} aria-hidden="true" /> Reactant</button
				>
				<TakeAlong {rows} file="reagents.csv" />
				<span class="quiet"
					>Planned in g, mL or mol; the others also in equivalents of the first: 1.2 eq.</span
				>
			</p>
		{:else if !table.fault('options.equation')}
			<p class="empty quiet">
				Type the equation: each of its reactants gets a row. Then say how much of the first is planned, and of
				the others how many equivalents; what to weigh, what runs out and what can come stand here at once.
			</p>
		{/if}
	</form>
	{#if table.trouble || table.general}<p class="fault" role="alert">{table.trouble || table.general}</p>{/if}
	{#if found}
		<WhatComes {table} {found} {start} {prepare} />
	{/if}
</main>

<style>
	main {
		display: grid;
		gap: 22px;
		max-width: 1280px;
		margin: 0 auto;
		padding: 24px;
	}
	form {
		display: grid;
		align-content: start;
		gap: 18px;
		min-width: 0;
	}
	@media (min-width: 1100px) {
		.answered {
			grid-template-columns: minmax(0, 1fr) 300px;
			column-gap: 32px;
		}
	}
	.head {
		display: grid;
		grid-template-columns: minmax(0, 2.4fr) minmax(0, 1fr);
		gap: 20px;
	}
	.more {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 12px;
	}
	.empty {
		max-width: 62ch;
	}
	@media (max-width: 700px) {
		.head {
			grid-template-columns: 1fr;
		}
	}
</style>
