<script lang="ts">
	/* An equation, each formula set; one formula alone is set as such. */
	import Formula from './Formula.svelte';

	let { text, plain = false }: { text: string; plain?: boolean } = $props();

	const SPECIES = /^(\d+(?:\/\d+)? )?(.+?)(\((?:s|l|g|aq)\))?$/;
	const parts = $derived(
		text.split(/( -> | \+ )/).map((part, index) => {
			const [, count = '', formula = part, state = ''] = index % 2 ? [] : (SPECIES.exec(part) ?? []);
			return { sign: index % 2 ? part.replace('->', '→') : '', count, formula, state };
		})
	);
</script>

{#each parts as part, index (index)}{#if part.sign}{part.sign}{:else}<span class="species"
			>{part.count}<Formula text={part.formula} {plain} />{#if part.state}<small>{part.state}</small
				>{/if}</span
		>{/if}{/each}

<style>
	.species {
		white-space: nowrap;
	}
	small {
		font-size: 0.7em;
	}
</style>
