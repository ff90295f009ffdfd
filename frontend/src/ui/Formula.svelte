<script lang="ts">
	/* A formula, set properly; it leads to the formula desk unless it stands inside another link. */
	import { drawer } from './drawer.svelte';
	import { pieces } from './formula';

	let { text, plain = false }: { text: string; plain?: boolean } = $props();
</script>

{#snippet set()}{#each pieces(text) as piece, index (index)}{#if piece.style === 'sub'}<sub>{piece.text}</sub
			>{:else if piece.style === 'sup'}<sup>{piece.text}</sup>{:else}{piece.text}{/if}{/each}{/snippet}

{#if plain}<span class="formula">{@render set()}</span>{:else}<a
		class="formula"
		href="/formula?f={encodeURIComponent(text)}"
		onclick={(event) => drawer.byLink(event, 'formula', text)}>{@render set()}</a
	>{/if}

<style>
	.formula {
		font-family: var(--slab);
		white-space: nowrap;
	}
	a {
		color: inherit;
		text-decoration: none;
	}
	a:hover {
		text-decoration: underline dotted;
		text-underline-offset: 0.2em;
	}
	sub,
	sup {
		font-size: 0.68em;
		line-height: 0;
	}
</style>
