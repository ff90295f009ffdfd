<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import CircleAlert from '@lucide/svelte/icons/circle-alert';
	import Hand from '@lucide/svelte/icons/hand';
	import Minus from '@lucide/svelte/icons/minus';
	import Sentence from './Sentence.svelte';

	let { level, text }: { level: 'good' | 'watch' | 'stop' | 'remark'; text: string } = $props();

	const SIGNS = { good: Check, watch: CircleAlert, stop: Hand, remark: Minus };
	const WORDS = { good: 'fine', watch: 'look', stop: 'stop', remark: '' };
	const Sign = $derived(SIGNS[level]);
</script>

<li class={level}>
	<span class="sign" aria-hidden="true"><Sign size={22} strokeWidth={2.5} /></span>
	<span
		>{#if level === 'good'}<span class="hidden-text">{WORDS.good}: </span>{:else if WORDS[level]}<strong
				class="word">{WORDS[level]}:</strong
			>&nbsp;{/if}<Sentence {text} /></span
	>
</li>

<style>
	li {
		display: grid;
		grid-template-columns: 26px 1fr;
		gap: 8px;
		padding: 5px 0;
	}
	.sign,
	.word {
		color: var(--quiet);
	}
	.good :is(.sign, .word) {
		color: var(--settled);
	}
	.watch :is(.sign, .word) {
		color: var(--watch);
	}
	.stop :is(.sign, .word) {
		color: var(--stop);
	}
	.remark {
		color: var(--quiet);
	}
</style>
