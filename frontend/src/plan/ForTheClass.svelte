<script lang="ts">
	/* What the class needs of it: how many benches, what to lay out, and the run that begins with it. */
	import Printer from '@lucide/svelte/icons/printer';
	import Sentence from '../ui/Sentence.svelte';
	import type { Plan } from './plan.svelte';

	interface Shown {
		plan: Plan;
		make: (formula: string, concentration: string, each: string) => void;
		start: () => void;
	}
	let { plan, make, start }: Shown = $props();
</script>

<section aria-labelledby="class">
	<h2 id="class">For the class</h2>
	<div class="class no-print">
		<div class="field">
			<label for="benches">Benches</label>
			<input
				id="benches"
				type="number"
				min="1"
				max="60"
				bind:value={plan.benches}
				oninput={() => plan.ask()}
			/>
		</div>
		<div class="field">
			<label for="trials">Trials a bench</label>
			<input id="trials" type="number" min="1" max="20" bind:value={plan.trials} oninput={() => plan.ask()} />
		</div>
		<div class="field">
			<label for="spare">Spare</label>
			<input
				id="spare"
				bind:value={plan.spare}
				oninput={() => plan.ask()}
				aria-invalid={plan.fault('spare') !== ''}
				aria-describedby="spare-said"
			/>
			<p id="spare-said" class="fault">{plan.fault('spare')}</p>
		</div>
	</div>
	{#if plan.found}
		<div class="two">
			<table class="ruled lay">
				<thead
					><tr
						><th>To lay out</th><th class="number">a trial</th><th class="number">in all</th><th
							class="no-print"
						></th></tr
					></thead
				>
				<tbody>
					{#each plan.found.totals as row (row.label)}
						<tr>
							<th scope="row"><Sentence text={row.label} /></th>
							<td class="figure number">{row.each}</td>
							<td class="figure number strong">{row.all}</td>
							<td class="no-print">
								{#if row.formula}<button
										class="button"
										onclick={() => make(row.formula, row.concentration, row.each)}
										>Make it<span class="hidden-text">: {row.label}</span></button
									>{/if}
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
			<div class="kit">
				{#each ['bench', 'room'] as const as place (place)}
					<h3>{place === 'bench' ? 'Each bench' : 'Once for the room'}</h3>
					<ul>
						{#each plan.found.kit.filter((row) => row.place === place) as row (row.item)}
							<li>{row.count} × {row.item}</li>
						{/each}
					</ul>
				{/each}
			</div>
		</div>
		<p class="quiet">{plan.found.caution}</p>
		{#if plan.found.hazards.length}
			<ul class="quiet" aria-label="What it does to people">
				{#each plan.found.hazards as said (said)}<li>{said}</li>{/each}
			</ul>
		{/if}
	{/if}
	<p class="ends no-print">
		{#if plan.procedure}<button class="button act" onclick={start}>Start a run with this</button>{/if}
		<button class="button" onclick={() => window.print()}
			><Printer size={20} aria-hidden="true" /> Print</button
		>
	</p>
</section>

<style>
	section {
		display: grid;
		gap: 10px;
		min-width: 0;
	}
	.two {
		display: grid;
		grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
		gap: 32px;
	}
	.two > * {
		align-self: start;
	}
	h2 {
		font-size: 22px;
	}
	.class {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 160px));
		gap: 20px;
	}
	.strong {
		font-weight: 700;
	}
	.lay th {
		padding-right: 8px;
	}
	.lay .number {
		padding-right: 12px;
	}
	.lay .button {
		min-width: max-content;
		padding: 0 12px;
	}
	.kit {
		display: grid;
		gap: 6px;
	}
	.kit h3 {
		font-size: 18px;
	}
	.kit li {
		padding: 2px 0;
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
	@media (max-width: 900px) {
		.two {
			grid-template-columns: 1fr;
		}
	}
</style>
