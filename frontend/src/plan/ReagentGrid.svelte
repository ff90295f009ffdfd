<script lang="ts">
	/* The reagents, a row each: what is in the jar, what is planned, what to take, and how far that goes. */
	import X from '@lucide/svelte/icons/x';
	import { COUNTED, ROLES, TYPED, type Column, type Reagents } from './reagents.svelte';

	let { table }: { table: Reagents } = $props();

	const answer = (column: Column) => table.answer(column);
	const faultOf = (column: Column, key: string) => table.faultOf(column, key);

	/* so many times what is needed a bar shows at most */
	const MOST = 3;
	const times = (column: Column) => Number.parseFloat(answer(column)?.supply ?? '');
</script>

<ul class="rows" aria-label="Reagents">
	{#each table.columns as column, index (index)}
		{@const found = answer(column)}
		{@const supply = times(column)}
		<li class:limiting={found?.is_limiting}>
			<div class="jar">
				<label
					><span class="quiet">In the jar</span>
					<input
						class="formula"
						bind:value={column.formula}
						oninput={() => table.ask()}
						aria-label="Substance {index + 1}"
						placeholder="H3PO4"
						autocomplete="off"
						spellcheck="false"
						aria-invalid={faultOf(column, 'formula') !== ''}
						aria-describedby="said-{index}-formula"
					/></label
				>
				<span class="quiet name">{table.known(column.formula)?.name ?? ''}</span>
				{@render said(column, index, 'formula')}
			</div>
			<label class="role"
				><span class="quiet">Role</span>
				<select bind:value={column.role} onchange={() => table.ask()} aria-label="Role of {column.formula}">
					{#each ROLES as role (role)}<option>{role}</option>{/each}
				</select></label
			>
			{#each TYPED as row (row.key)}
				<div class={row.key}>
					<label
						><span class="quiet">{row.title}</span>
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
						/></label
					>
					{@render said(column, index, row.key)}
				</div>
			{/each}
			<div class="out">
				<button
					type="button"
					class="leave"
					aria-label="Leave out {column.formula || `row ${index + 1}`}"
					onclick={() => table.leaveOut(index)}><X size={20} aria-hidden="true" /></button
				>
			</div>
			<dl class:old={table.faults.length > 0}>
				{#each COUNTED as [key, title] (key)}
					{#if found?.[key]}
						<div class:actual={key === 'actual'}>
							<dt class="quiet">{title}</dt>
							<dd class="figure">{found[key]}</dd>
						</div>
					{/if}
				{/each}
			</dl>
			{#if Number.isFinite(supply)}
				<div class="supply" class:old={table.faults.length > 0} aria-hidden="true">
					<span class="bar" style:width="{(Math.min(supply, MOST) / MOST) * 100}%"></span>
					<span class="need" style:left="{100 / MOST}%"></span>
					<span class="word" style:left="calc({100 / MOST}% + 8px)"
						>{found?.is_limiting ? 'runs out first' : supply > MOST ? 'far more than needed' : 'needed'}</span
					>
				</div>
			{/if}
		</li>
	{/each}
</ul>

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
	.rows {
		display: grid;
		gap: 14px;
		container-type: inline-size;
	}
	li {
		display: grid;
		grid-template-areas:
			'jar role planned purity density concentration out'
			'counted counted counted counted counted counted counted'
			'supply supply supply supply supply supply supply';
		grid-template-columns: minmax(130px, 1.4fr) 112px repeat(4, minmax(100px, 1fr)) 48px;
		gap: 6px 12px;
		padding: 14px 16px;
		border: 1px solid var(--rule);
		border-left: 6px solid var(--salt);
		border-radius: 6px;
		background: var(--raised);
	}
	li.limiting {
		border-left-color: var(--act);
	}
	@container (max-width: 760px) {
		li {
			grid-template-areas:
				'jar jar out'
				'role planned planned'
				'purity density concentration'
				'counted counted counted'
				'supply supply supply';
			grid-template-columns: repeat(3, minmax(0, 1fr));
		}
		.out {
			justify-self: end;
		}
	}
	.jar {
		grid-area: jar;
	}
	.role {
		grid-area: role;
	}
	.planned {
		grid-area: planned;
	}
	.purity {
		grid-area: purity;
	}
	.density {
		grid-area: density;
	}
	.concentration {
		grid-area: concentration;
	}
	.out {
		grid-area: out;
		padding-top: 22px;
	}
	.leave {
		display: grid;
		place-items: center;
		width: 48px;
		height: 48px;
		cursor: pointer;
	}
	label {
		display: grid;
		align-content: start;
		font-size: 16px;
	}
	label :is(input, select) {
		width: 100%;
		min-width: 0;
		min-height: 48px;
		padding: 0 8px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--paper);
		font-size: 17px;
	}
	.formula {
		font-family: var(--slab);
		font-weight: 700;
	}
	[aria-invalid='true'] {
		border-color: var(--stop);
		background: var(--stop-wash);
	}
	.name {
		display: block;
		font-size: 16px;
	}
	.said {
		font-size: 16px;
	}
	.said:empty {
		display: none;
	}
	dl {
		grid-area: counted;
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 2px 24px;
	}
	dl div {
		display: flex;
		align-items: baseline;
		gap: 8px;
	}
	.actual dd {
		font-size: 24px;
		font-weight: 700;
	}
	.supply {
		grid-area: supply;
		position: relative;
		height: 26px;
		border-bottom: 1.5px solid var(--rule);
	}
	.bar {
		position: absolute;
		bottom: 0;
		height: 16px;
		border: 1.5px solid var(--salt-edge);
		background: var(--salt);
	}
	.limiting .bar {
		border-color: var(--act);
		background: var(--clay);
	}
	.need {
		position: absolute;
		bottom: -4px;
		height: 28px;
		border-left: 3px solid var(--ink);
	}
	.word {
		position: absolute;
		top: -6px;
		padding: 0 4px;
		background: var(--raised);
		font-size: 16px;
		line-height: 1;
	}
	.limiting .word {
		color: var(--act);
		font-weight: 600;
	}
	.old {
		opacity: 0.55;
	}
</style>
