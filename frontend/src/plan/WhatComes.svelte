<script lang="ts">
	/* What the table comes to: how much can come, what runs out, what it does to people, and the run to begin. */
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Counted, Reagents } from './reagents.svelte';

	interface Shown {
		table: Reagents;
		found: Counted;
		start: () => void;
		prepare: () => void;
	}
	let { table, found, start, prepare }: Shown = $props();

	const comes = $derived(found.table.path[0]?.text);
	const economy = $derived(found.results.find((row) => row.name === 'atom_economy'));
	const harmful = $derived(
		table.columns.map((column) => table.known(column.formula)).filter((row) => row?.hazards.length)
	);
</script>

<section aria-label="What can come" aria-live="polite" class:old={table.faults.length > 0}>
	<p class="comes">
		{#if comes}<span class="figure">{comes}</span>
			<Formula text={found.values['product'] ?? ''} plain /> can come{:else}How much can come is known once
			every reactant is planned.{/if}
	</p>
	{#if economy}<p>
			Atom economy <strong class="figure">{economy.text}</strong>: of all that goes in, so much stands in the
			product.
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
		Follow your local rules and your safety officer; the label and the safety data sheet in the room decide.
	</p>
	<p>
		<button class="button act" onclick={start} disabled={table.faults.length > 0}
			>Start a run with this</button
		>
		<button class="button" onclick={prepare} disabled={table.faults.length > 0}
			>Prepare a class with it</button
		>
	</p>
</section>

<style>
	section {
		display: grid;
		align-content: start;
		gap: 8px;
	}
	@media (min-width: 1100px) {
		/* what it comes to stands beside the table and not below the fold */
		section {
			position: sticky;
			top: 0;
			align-self: start;
			padding-top: 28px;
		}
	}
	.old {
		opacity: 0.55;
	}
	.comes {
		font-size: 24px;
		font-weight: 600;
	}
</style>
