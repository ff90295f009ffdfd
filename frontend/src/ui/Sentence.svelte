<script lang="ts">
	/* A sentence from the server with its formulas set: ZnSO4·7H2O gets real subscripts. */
	import Formula from './Formula.svelte';

	let { text, plain = false }: { text: string; plain?: boolean } = $props();

	const FORMULA =
		/((?<![A-Za-z])(?=[A-Za-z()[\]]*\d)(?:[A-Z][a-z]?\d*|\((?!(?:s|l|g|aq)\))[A-Za-z0-9]+\)\d*|\[[^\]]+\]\d*)+(?:·[\d.]*(?:[A-Z][a-z]?\d*)+)*|(?:[A-Z][a-z]?\d*)+\^\d*[+-])/;
	const parts = $derived(text.replaceAll(' -> ', ' → ').split(FORMULA));
</script>

{#each parts as part, index (index)}{#if index % 2}<Formula text={part} {plain} />{:else}{part}{/if}{/each}
