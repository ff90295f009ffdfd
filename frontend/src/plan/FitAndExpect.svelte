<script lang="ts">
	/* One amount asked about: will it fit, and what the readings would be. */
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import type { Sizing } from '../api/client';
	import type { Plan } from './plan.svelte';

	let { plan, sizing, fit }: { plan: Plan; sizing: Sizing; fit: Sizing['remarks'][number] | undefined } =
		$props();

	const look = $derived(sizing.asked ?? sizing.about);
</script>

<div class="two">
	<section aria-labelledby="fit">
		<h2 id="fit">Will it fit?</h2>
		<div class="field">
			<label for="sample">This much {sizing.label}, in {sizing.unit}</label>
			<input
				id="sample"
				class="figure"
				bind:value={plan.sample}
				oninput={() => plan.ask()}
				inputmode="decimal"
				autocomplete="off"
				placeholder={sizing.about?.text ?? ''}
				aria-invalid={plan.fault('sample') !== ''}
				aria-describedby="sample-said"
			/>
		</div>
		<div id="sample-said" aria-live="polite">
			{#if plan.fault('sample')}<p class="fault">{plan.fault('sample')}</p>
			{:else if fit}<ul><Verdict level={fit.level} text={fit.text} /></ul>
			{:else}<p class="quiet">Type what lies on the balance, or in the jar.</p>{/if}
		</div>
	</section>
	{#if look}
		<section aria-labelledby="expect">
			<h2 id="expect">Expect with {look.text}</h2>
			<table class="ruled">
				<tbody>
					{#each look.readings as row (row.label)}
						<tr><th scope="row">{row.label}</th><td class="figure number">{row.text}</td></tr>
					{/each}
				</tbody>
			</table>
			<p class="quiet">{look.limit}</p>
			{#each look.statements as row (row.title)}<p><strong>{row.title}.</strong> {row.text}</p>{/each}
			{#each look.needs as row (row.formula)}<p>
					<strong><Sentence text={row.formula} />.</strong>
					{row.text}
				</p>{/each}
		</section>
	{/if}
</div>

<style>
	.two {
		display: grid;
		grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
		gap: 32px;
	}
	.two > * {
		align-self: start;
	}
	.two section {
		display: grid;
		gap: 10px;
	}
	h2 {
		font-size: 22px;
	}
	#sample {
		min-height: 60px;
		font-size: 28px;
		font-weight: 600;
	}
	@media (max-width: 900px) {
		.two {
			grid-template-columns: 1fr;
		}
	}
</style>
