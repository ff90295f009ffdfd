<script lang="ts">
	import { pieces } from './formula';

	let { text }: { text: string } = $props();
</script>

<span class="formula"
	>{#each pieces(text) as piece, index (index)}{#if piece.style === 'sub'}<sub>{piece.text}</sub
			>{:else if piece.style === 'sup'}<sup>{piece.text}</sup>{:else}{piece.text}{/if}{/each}</span
>

<style>
	.formula {
		font-family: var(--slab);
		white-space: nowrap;
	}
	sub,
	sup {
		font-size: 0.68em;
		line-height: 0;
	}
</style>
