<script lang="ts">
	/* What a class needs: how much to weigh, what to set out, to make, to order, to label, and what it leaves. */
	import ReagentTable from '../pictures/ReagentTable.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Prepare } from './prepare.svelte';
	import WindowBar from './WindowBar.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const found = $derived(prepare.found);
	const sizing = $derived(found?.sizing ?? null);
	const look = $derived(sizing?.asked ?? sizing?.about ?? null);
	const benches = $derived(prepare.draft.benches.length);
	/* the two ends that hold, with their reasons */
	const reasons = $derived(
		[sizing?.low, sizing?.high].filter((row) => row !== null && row !== undefined).map((row) => row.reason)
	);
	const bottles = $derived(found?.labels.filter((row) => row.on !== 'pencil') ?? []);
	const pencil = $derived(found?.labels.filter((row) => row.on === 'pencil') ?? []);
	const kit = $derived(
		(found?.kit ?? []).map((row) => ({
			...row,
			count: row.place === 'bench' ? row.count * benches : row.count
		}))
	);
</script>

{#if found}
	<section aria-labelledby="weigh">
		<div class="head">
			<h2 id="weigh">How much to weigh</h2>
			{#if sizing}<button
					type="button"
					id="part-sample"
					class="worded no-print"
					aria-expanded={prepare.open === 'sample'}
					onclick={() => (prepare.open = prepare.open === 'sample' ? '' : 'sample')}>change it</button
				>{/if}
		</div>
		{#if sizing}
			<WindowBar {sizing} />
			<p class="no-print"><a class="whole" href="/plan">The whole curve, for one sample</a></p>
			{#each sizing.remarks as remark (remark.text)}<ul>
					<Verdict level={remark.level} text={remark.text} />
				</ul>{/each}
			{#each reasons as reason (reason)}<p><Sentence text={reason} /></p>{/each}
			{#if look}
				<details class="unfold">
					<summary>Readings to expect</summary>
					<table class="ruled">
						<tbody>
							{#each look.readings as row (row.label)}
								<tr
									><th scope="row"><Sentence text={row.label} /></th><td class="figure number">{row.text}</td
									></tr
								>
							{/each}
						</tbody>
					</table>
					{#each look.needs as row (row.formula)}<p><Sentence text="{row.formula}: {row.text}" /></p>{/each}
					{#each look.statements as row (row.title)}<p><Sentence text="{row.title}: {row.text}" /></p>{/each}
				</details>
			{/if}
		{:else if prepare.sizable}
			<p class="quiet">Nothing to size yet: say what is weighed, and with what.</p>
		{:else}
			<p class="quiet">Nothing is sized for this: take what the table or the vessel asks for.</p>
		{/if}
	</section>

	{#if found.table}
		<section aria-labelledby="reagents">
			<h2 id="reagents">Reagents</h2>
			<ReagentTable table={found.table} />
			{#each found.table_says as row (row.text)}<ul><Verdict level={row.level} text={row.text} /></ul>{/each}
		</section>
	{/if}

	<section aria-labelledby="set-out">
		<h2 id="set-out">What to set out</h2>
		{#if found.order.length}
			<table class="ruled">
				<thead><tr><th>From the store, {prepare.draft.spare} spare</th><th class="number"></th></tr></thead>
				<tbody>
					{#each found.order as row, index (index)}
						<tr>
							<th scope="row"
								><Sentence text={row.what} />{#if row.makes}
									<span class="quiet">for <Sentence text={row.makes} /></span>{/if}</th
							>
							<td class="figure number">{row.amount}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
		<ul class="kit">
			{#each kit as row (row.item)}<li><span class="figure">{row.count} ×</span> {row.item}</li>{/each}
		</ul>
		<p class="quiet">{found.caution}</p>
		{#if found.hazards.length}
			<ul class="quiet" aria-label="What it does to people">
				{#each found.hazards as said (said)}<li>{said}</li>{/each}
			</ul>
		{/if}
	</section>

	{#each found.recipes as recipe (recipe.title)}
		<section aria-label="Solution {recipe.title}">
			<h2><Sentence text={recipe.title} /></h2>
			<p>
				{recipe.need}; make <strong>{recipe.make}</strong>. <span class="figure quiet">{recipe.rule}</span>
			</p>
			{#if recipe.basis}<p class="quiet">{recipe.basis}</p>{/if}
			<ol>
				{#each recipe.steps as step (step.text)}
					<li>
						<Sentence text={step.text} />
						{#if step.caution}<strong class="caution"><Sentence text={step.caution} /></strong>{/if}
					</li>
				{/each}
			</ol>
			<p class="quiet">{recipe.caution}</p>
		</section>
	{/each}

	{#if found.waste}
		<section aria-labelledby="waste">
			<h2 id="waste">Waste to expect</h2>
			<ul class="waste">
				{#each found.waste.containers as box (box.title)}
					<li>
						<strong>{box.title}</strong>{#if box.fill}: {box.fill}{/if}
						{#if !box.fill && box.lines.length && box.name !== 'bin'}<span class="quiet"
								>{box.lines
									.map((line) => [line.amount, line.name || line.what].filter(Boolean).join(' '))
									.join(', ')}</span
							>{/if}
					</li>
				{/each}
			</ul>
			<p class="quiet">{found.waste.rules}</p>
		</section>
	{/if}

	<section aria-labelledby="labels">
		<h2 id="labels">Labels</h2>
		{#if bottles.length}<ul class="kit">
				{#each bottles as row (row.text)}<li><Sentence text={row.text} /></li>{/each}
			</ul>{/if}
		{#if pencil.length}
			<details class="unfold">
				<summary>{pencil.length} names in pencil, before anything is weighed</summary>
				<ul class="names">
					{#each pencil as row (row.text)}<li>{row.text}</li>{/each}
				</ul>
			</details>
		{/if}
	</section>
{/if}

<style>
	section {
		display: grid;
		gap: 6px;
		min-width: 0;
	}
	h2 {
		font-size: 20px;
	}
	.head {
		display: flex;
		align-items: baseline;
		justify-content: space-between;
		gap: 12px;
	}
	.whole {
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.kit li,
	.waste li {
		padding: 2px 0;
	}
	.ruled th {
		overflow-wrap: anywhere;
	}
	.ruled td,
	.ruled th {
		padding-right: 8px;
	}
	ol {
		display: grid;
		gap: 4px;
		padding-left: 20px;
		list-style: decimal;
	}
	.caution {
		display: block;
		color: var(--watch);
	}
	.names {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px 12px;
	}
</style>
