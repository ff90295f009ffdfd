<script lang="ts">
	/* The reagent table as a form of its own: filled in before anything is weighed, worked out at every keystroke. */
	import Plus from '@lucide/svelte/icons/plus';
	import X from '@lucide/svelte/icons/x';
	import { untrack } from 'svelte';
	import { navigate } from '../router';
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TakeAlong from '../ui/TakeAlong.svelte';
	import TextField from '../ui/TextField.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import { handOver } from './handover';
	import { Reagents, ROLES, type Column } from './reagents.svelte';

	const table = new Reagents();
	$effect(() => untrack(() => void table.begin()));

	const TYPED: { key: keyof Column; title: string; hint: string }[] = [
		{ key: 'purity', title: 'Purity', hint: '98 %' },
		{ key: 'density', title: 'Density', hint: '1.08 g/mL' },
		{ key: 'concentration', title: 'Concentration', hint: '2 mol/L' },
		{ key: 'planned', title: 'Planned', hint: '2.0 g' }
	];
	const COUNTED = [
		['actual', 'Take'],
		['molar_mass', 'g/mol'],
		['amount', 'Amount'],
		['equivalents', 'Equivalents'],
		['supply', 'Of the need, times']
	] as const;

	const found = $derived(table.found);
	/* the answer to a column, by place: those without a substance are not sent */
	const sent = $derived(table.columns.filter((row) => row.formula.trim()));
	const answer = (column: Column) => found?.table.columns[sent.indexOf(column)];
	const path = (column: Column, key: string) => {
		const place = `options.reagents[${sent.indexOf(column)}]`;
		return key === 'formula' ? [place, `${place}.formula`] : [`${place}.${key}`];
	};
	const faultOf = (column: Column, key: string) =>
		path(column, key)
			.map((one) => table.fault(one))
			.find(Boolean) ?? '';
	const harmful = $derived(
		table.columns.map((column) => table.known(column.formula)).filter((row) => row?.hazards.length)
	);
	const comes = $derived(found?.table.path[0]?.text);
	const economy = $derived(found?.results.find((row) => row.name === 'atom_economy'));

	/* as it stands: what is typed, then what was counted */
	const rows = $derived([
		['', ...sent.map((column) => column.formula)],
		...[{ key: 'role', title: 'Role' } as const, ...TYPED].map((row) => [
			row.title,
			...sent.map((column) => column[row.key])
		]),
		...COUNTED.map(([key, title]) => [title, ...sent.map((column) => answer(column)?.[key] ?? '')])
	]);

	async function start(): Promise<void> {
		const plan = table.handover;
		if (!plan) return;
		handOver(plan);
		await navigate('/');
	}
</script>

<TopBar title="Reagent table" place="before anything is weighed" />
<main class:answered={found}>
	<form onsubmit={(event) => event.preventDefault()} novalidate>
		<div class="head">
			<TextField
				id="equation"
				label="Equation"
				bind:value={table.equation}
				typed={() => table.ask()}
				placeholder="C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
				fault={table.fault('options.equation')}
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
			<!-- more columns than the page is wide are looked at by scrolling, also by keyboard -->
			<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
			<div class="scroll" tabindex="0" role="group" aria-label="Reagents, a column each">
				<table>
					<thead>
						<tr>
							<th scope="row">In the jar</th>
							{#each table.columns as column, index (index)}
								<th scope="col" class:limiting={answer(column)?.is_limiting}>
									<div class="jar">
										<input
											bind:value={column.formula}
											oninput={() => table.ask()}
											aria-label="Substance {index + 1}"
											placeholder="H3PO4"
											autocomplete="off"
											spellcheck="false"
											aria-invalid={faultOf(column, 'formula') !== ''}
											aria-describedby="said-{index}-formula"
										/>
										<button
											type="button"
											aria-label="Leave out {column.formula || `column ${index + 1}`}"
											onclick={() => table.leaveOut(index)}><X size={20} aria-hidden="true" /></button
										>
									</div>
									<span class="quiet name">{table.known(column.formula)?.name ?? ''}</span>
									{@render said(column, index, 'formula')}
								</th>
							{/each}
						</tr>
					</thead>
					<tbody>
						<tr>
							<th scope="row">Role</th>
							{#each table.columns as column, index (index)}
								<td class:limiting={answer(column)?.is_limiting}>
									<select
										bind:value={column.role}
										onchange={() => table.ask()}
										aria-label="Role of {column.formula}"
									>
										{#each ROLES as role (role)}<option>{role}</option>{/each}
									</select>
								</td>
							{/each}
						</tr>
						{#each TYPED as row (row.key)}
							<tr>
								<th scope="row">{row.title}</th>
								{#each table.columns as column, index (index)}
									<td class:limiting={answer(column)?.is_limiting}>
										<input
											class="figure"
											bind:value={column[row.key]}
											oninput={() => table.ask()}
											aria-label="{row.title} of {column.formula}"
											placeholder={row.hint}
											autocomplete="off"
											spellcheck="false"
											aria-invalid={faultOf(column, row.key) !== ''}
											aria-describedby="said-{index}-{row.key}"
										/>
										{@render said(column, index, row.key)}
									</td>
								{/each}
							</tr>
						{/each}
						{#each COUNTED as [key, title] (key)}
							<tr class="counted">
								<th scope="row">{title}</th>
								{#each table.columns as column, index (index)}
									<td
										class={['figure', { limiting: answer(column)?.is_limiting, strong: key === 'actual' }]}
										class:old={table.faults.length > 0}>{answer(column)?.[key] ?? ''}</td
									>
								{/each}
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
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
				Type the equation: each of its reactants becomes a column. Then say how much of the first is planned,
				and of the others how many equivalents; what to weigh, what runs out and what can come stand here at
				once.
			</p>
		{/if}
	</form>
	{#if table.trouble || table.general}<p class="fault" role="alert">{table.trouble || table.general}</p>{/if}
	{#if found}
		<section aria-label="What can come" aria-live="polite" class:old={table.faults.length > 0}>
			<p class="comes">
				{#if comes}<span class="figure">{comes}</span>
					<Formula text={found.values['product'] ?? ''} plain /> can come{:else}How much can come is known
					once every reactant is planned.{/if}
			</p>
			{#if economy}<p>
					Atom economy <strong class="figure">{economy.text}</strong>: of all that goes in, so much stands in
					the product.
				</p>{/if}
			{#each found.statements as row (row.title)}<p>
					<strong>{row.title}.</strong>
					<Sentence text={row.text} />
				</p>{/each}
			<ul>
				{#each found.verdicts as row (row.text)}<Verdict level={row.level} text={row.text} />{/each}
			</ul>
			{#if harmful.length}
				<ul class="quiet" aria-label="What it does to people">
					{#each harmful as row (row?.formula)}<li>{row?.name}: {row?.hazards.join(', ')}</li>{/each}
				</ul>
			{/if}
			<p class="quiet">
				Follow your local rules and your safety officer; the label and the safety data sheet in the room
				decide.
			</p>
			<p class="more">
				<button class="button act" onclick={() => void start()} disabled={table.faults.length > 0}
					>Start a run with this</button
				>
			</p>
		</section>
	{/if}
</main>

{#snippet said(column: Column, index: number, key: string)}
	{@const text = faultOf(column, key)}
	{@const density = key === 'density' ? table.known(column.formula)?.density : ''}
	<div class="fault said" id="said-{index}-{key}" aria-live="polite">{text}</div>
	{#if text && density}<button
			type="button"
			class="button"
			onclick={() => {
				column.density = `${density} g/mL`;
				table.ask();
			}}>Take {density} g/mL</button
		>{/if}
{/snippet}

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
		/* what it comes to stands beside the table and not below the fold */
		.answered {
			grid-template-columns: minmax(0, 1fr) 300px;
			column-gap: 32px;
		}
		.answered section {
			position: sticky;
			top: 0;
			align-self: start;
			padding-top: 28px;
		}
	}
	.head {
		display: grid;
		grid-template-columns: minmax(0, 2.4fr) minmax(0, 1fr);
		gap: 20px;
	}
	.scroll {
		overflow-x: auto;
		padding: 3px;
	}
	th,
	td {
		min-width: 168px;
		padding: 5px 8px;
		text-align: right;
		border-bottom: 1px solid var(--rule);
		vertical-align: top;
	}
	th[scope='row'] {
		position: sticky;
		left: 0;
		min-width: 150px;
		padding-left: 0;
		background: var(--paper);
		text-align: left;
		font-weight: 400;
		color: var(--quiet);
		vertical-align: middle;
	}
	.said {
		font-size: 16px;
		font-weight: 400;
		text-align: left;
	}
	.scroll :is(input, select) {
		width: 100%;
		min-height: 48px;
		padding: 0 10px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
		text-align: right;
	}
	.scroll thead input {
		font-weight: 700;
		text-align: left;
	}
	.scroll [aria-invalid='true'] {
		border-color: var(--stop);
		background: var(--stop-wash);
	}
	.jar {
		display: grid;
		grid-template-columns: 1fr 48px;
	}
	.jar button {
		display: grid;
		place-items: center;
		cursor: pointer;
	}
	.name {
		display: block;
		min-height: 1.4em;
		font-size: 16px;
		font-weight: 400;
		text-align: left;
	}
	.limiting {
		background: var(--settled-wash);
	}
	.counted td {
		padding: 9px 18px;
	}
	.strong,
	.counted .limiting {
		font-weight: 700;
	}
	.strong {
		font-size: 21px;
	}
	.old {
		opacity: 0.55;
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
	section {
		display: grid;
		align-content: start;
		gap: 8px;
	}
	.comes {
		font-size: 24px;
		font-weight: 600;
	}
	@media (max-width: 700px) {
		.head {
			grid-template-columns: 1fr;
		}
	}
</style>
