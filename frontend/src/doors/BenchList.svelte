<script lang="ts">
	/* The benches of the laboratory: named, renamed, put out of use. */
	import { nameBench, type ClassView } from '../api/client';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, type Said } from '../ui/said';
	import TextField from '../ui/TextField.svelte';
	import type { Shelf } from './shelf.svelte';

	let { shelf, found }: { shelf: Shelf; found: ClassView } = $props();
	let name = $state('');
	let editing = $state<number | null>(null);
	let said = $state.raw<Said>(NOTHING);

	async function keep(number: number | null, retired = false): Promise<void> {
		const known = found.benches.find((row) => row.id === number);
		said = await shelf.atClass(nameBench({ number, name: name.trim() || (known?.name ?? ''), retired }));
		if (said !== NOTHING) return focusFault();
		name = '';
		editing = null;
		document.getElementById('bench-name')?.focus();
	}
</script>

<section aria-labelledby="benches">
	<h2 id="benches">Benches</h2>
	<ul>
		{#each found.benches as bench (bench.id)}
			<li class="acted" class:retired={bench.retired}>
				<span>{bench.name}{bench.retired ? ', not in use' : ''}</span>
				<span class="acts">
					{#if !bench.retired}
						<button
							class="button"
							onclick={() => {
								editing = bench.id;
								name = bench.name;
								document.getElementById('bench-name')?.focus();
							}}>Rename<span class="hidden-text"> {bench.name}</span></button
						>
					{/if}
					<button
						class="button"
						onclick={() => {
							name = '';
							void keep(bench.id, !bench.retired);
						}}
						>{bench.retired ? 'Use again' : 'Out of use'}<span class="hidden-text">
							{bench.name}</span
						></button
					>
				</span>
			</li>
		{:else}<li class="quiet">None yet.</li>{/each}
	</ul>
	<form
		class="field-and-act"
		novalidate
		onsubmit={(event) => {
			event.preventDefault();
			void keep(editing);
		}}
	>
		<TextField
			id="bench-name"
			label={editing === null ? 'Another bench' : 'New name of the bench'}
			bind:value={name}
			fault={faultAt(said, 'name')}
			help="What stands on it: Flint, 3, window."
		/>
		<button class="button" class:act={!found.benches.length}>{editing === null ? 'Add' : 'Rename'}</button>
	</form>
	{#if said.trouble}<p class="fault" role="alert">{said.trouble}</p>{/if}
</section>

<style>
	.retired {
		color: var(--quiet);
	}
	.acts {
		display: flex;
		flex-shrink: 0;
		gap: 8px;
	}
</style>
