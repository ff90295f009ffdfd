<script lang="ts">
	/* A solution for the class: what is wanted, and how it is made, in order, each caution at its step. */
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import OptionField from '../ui/OptionField.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import type { Solution } from './solution.svelte';

	let { solution }: { solution: Solution } = $props();
</script>

<section aria-labelledby="solution">
	<h2 id="solution">Make a solution</h2>
	<div class="both">
		<form class="no-print" onsubmit={(event) => event.preventDefault()}>
			{#each solution.shown as field (field.name)}
				<OptionField
					{field}
					id="wish-{field.name}"
					value={solution.values[field.name]}
					fault={solution.fault(field.name)}
					set={(value) => solution.set(field.name, value)}
				/>
			{/each}
		</form>
		<div class="recipe" aria-live="polite">
			{#if solution.recipe}
				{@const recipe = solution.recipe}
				<p class="what">
					<span><Sentence text={recipe.title} /></span>
					<strong class="figure">{recipe.make}</strong>
				</p>
				<p class="quiet">{recipe.need}</p>
				<ol>
					{#each recipe.steps as step, index (index)}
						<li>
							<Sentence text={step.text} />
							{#if step.caution}
								<p class="caution"><TriangleAlert size={20} aria-hidden="true" /> {step.caution}</p>
							{/if}
						</li>
					{/each}
				</ol>
				<p class="figure rule"><Sentence text={recipe.rule} /></p>
				{#if recipe.basis}<p class="quiet rule">{recipe.basis}.</p>{/if}
				<p class="quiet">{recipe.caution}</p>
			{:else}
				<p class="quiet">
					Fill in the substance, the concentration and the volume for one trial: how much to make, from what
					and in which order stands here.
				</p>
			{/if}
			{#if solution.trouble}<p class="fault">{solution.trouble}</p>{/if}
		</div>
	</div>
</section>

<style>
	h2 {
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
		font-size: 22px;
	}
	.both {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
		gap: 32px;
		padding-top: 16px;
	}
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		align-content: start;
		gap: 14px 20px;
	}
	.recipe {
		display: grid;
		align-content: start;
		gap: 10px;
	}
	.what {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		justify-content: space-between;
		gap: 4px 16px;
		font-family: var(--slab);
		font-size: 22px;
		font-weight: 600;
	}
	.what strong {
		font-size: 30px;
	}
	ol {
		display: grid;
		gap: 10px;
		padding-left: 28px;
		list-style: decimal;
		font-size: 18px;
	}
	li::marker {
		font-weight: 700;
	}
	.caution {
		display: flex;
		gap: 8px;
		margin-top: 4px;
		padding: 8px 12px;
		border-left: 5px solid var(--watch);
		background: var(--raised);
		font-weight: 600;
		font-size: 17px;
	}
	.caution :global(svg) {
		flex-shrink: 0;
		margin-top: 2px;
		color: var(--watch);
	}
	.rule {
		overflow-wrap: anywhere;
	}
	@media (max-width: 900px) {
		.both {
			grid-template-columns: 1fr;
		}
	}
</style>
