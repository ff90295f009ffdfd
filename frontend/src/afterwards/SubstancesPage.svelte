<script lang="ts">
	import { untrack } from 'svelte';
	import Plus from '@lucide/svelte/icons/plus';
	import { getSubstances, type RegisterView } from '../api/client';
	import Formula from '../ui/Formula.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Parts from './Parts.svelte';
	import SubstanceSheet from './SubstanceSheet.svelte';

	let view = $state<RegisterView | null>(null);
	let trouble = $state('');
	let sought = $state('');

	$effect(() =>
		untrack(() => {
			void getSubstances().then((outcome) => {
				if (outcome.kind === 'done') view = outcome.value;
				else trouble = outcome.title;
			});
		})
	);

	const plain = (text: string) => text.toLowerCase().replaceAll('·', '.');
	const found = $derived(
		view?.substances.filter((row) =>
			plain(`${row.name} ${row.formula} ${row.hazards.join(' ')} ${row.dissolved} ${row.solid}`).includes(
				plain(sought.trim())
			)
		) ?? []
	);
</script>

<TopBar title="Substances" />
<main id="main" tabindex="-1" class="page">
	<Parts here="/substances" />
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if view}
		<div class="do no-print">
			<div class="field search">
				<label for="sought">Look for</label>
				<input
					id="sought"
					bind:value={sought}
					placeholder="Name, formula, hazard or container"
					autocomplete="off"
				/>
			</div>
			<SubstanceSheet {view} kept={(register) => (view = register)}>
				{#snippet label()}<Plus size={22} aria-hidden="true" /> Add a substance{/snippet}
			</SubstanceSheet>
			<p class="quiet" role="status">{found.length} of {view.substances.length}</p>
		</div>
		<ul>
			{#each found as row (row.formula)}
				<li>
					<div class="what">
						<strong class="formula"><Formula text={row.formula} /></strong>
						<span>{row.name}{row.own ? ', added here' : ''}</span>
						<span class="figure quiet"
							>{row.molar_mass} g/mol{row.density ? `, ${row.density} g/mL` : ''}</span
						>
					</div>
					<div>
						<p class:calm={row.hazards[0]?.startsWith('none known')} class="hazards">
							{row.hazards.join('; ')}
						</p>
						{#if row.remarks}<p class="quiet">{row.remarks}</p>{/if}
					</div>
					<dl>
						<dt>dissolved</dt>
						<dd class:open={!row.dissolved}>{row.dissolved || 'open: ask'}</dd>
						<dt>solid</dt>
						<dd class:open={!row.solid}>{row.solid || 'open: ask'}</dd>
					</dl>
				</li>
			{:else}
				<li class="empty quiet">
					Nothing of that name is in the register. Add it, with what its label says.
				</li>
			{/each}
		</ul>
		<p class="quiet">
			Hazards as on labels, entered from memory: the label and the safety data sheet in the room decide. Local
			rules come first.
		</p>
	{:else if !trouble}
		<p class="quiet" aria-busy="true">Fetching the register …</p>
	{/if}
</main>

<style>
	.do {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 20px;
	}
	.search {
		flex: 1 1 300px;
		max-width: 420px;
	}
	.do p {
		padding-bottom: 12px;
	}
	li {
		display: grid;
		grid-template-columns: minmax(210px, 0.9fr) minmax(0, 1.3fr) minmax(260px, 1fr);
		gap: 24px;
		padding: 14px 0;
		border-bottom: 1px solid var(--rule);
	}
	li.empty {
		display: block;
	}
	.what {
		display: grid;
		align-content: start;
		gap: 2px;
	}
	.formula {
		font-size: 20px;
	}
	.hazards {
		font-weight: 600;
	}
	.hazards::first-letter {
		text-transform: uppercase;
	}
	.calm {
		font-weight: 400;
		color: var(--quiet);
	}
	dl {
		display: grid;
		grid-template-columns: 84px 1fr;
		gap: 4px 10px;
		align-content: start;
		font-size: 17px;
	}
	dt {
		color: var(--quiet);
	}
	dd {
		margin: 0;
	}
	.open {
		color: var(--stop);
		font-weight: 600;
	}
	@media (max-width: 900px) {
		li {
			grid-template-columns: 1fr 1.3fr;
			gap: 8px 20px;
		}
		dl {
			grid-column: 1 / -1;
		}
	}
</style>
