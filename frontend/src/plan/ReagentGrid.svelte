<script lang="ts">
	/* The table itself: what is typed of each substance, then what was counted for it. */
	import X from '@lucide/svelte/icons/x';
	import { COUNTED, ROLES, TYPED, type Column, type Reagents } from './reagents.svelte';

	let { table }: { table: Reagents } = $props();

	const answer = (column: Column) => table.answer(column);
	const faultOf = (column: Column, key: string) => table.faultOf(column, key);
</script>

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
</style>
