<script lang="ts">
	/* What the last tap did, for as long as it can be taken back without a word. */
	import Undo2 from '@lucide/svelte/icons/undo-2';
	import type { RunView } from '../api/client';
	import { clock } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';

	let { run, bench, focus }: { run: RunView; bench: Bench; focus: () => void } = $props();

	const tap = $derived(
		run.undo && (run.undo.until === null || Date.parse(run.undo.until) > clock.now) ? run.undo : null
	);
</script>

{#if tap}
	<p class="undo">
		<span class="quiet"><Sentence text={tap.text} plain />.</span>
		<button type="button" class="plain" onclick={() => void bench.undo().then(focus)}
			><Undo2 size={18} aria-hidden="true" /> Undo</button
		>
	</p>
{/if}

<style>
	.undo {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0 10px;
		font-size: 16px;
		line-height: 1.3;
	}
	.plain {
		display: inline-flex;
		align-items: center;
		gap: 6px;
		min-height: 48px;
		padding: 0 8px;
		font-weight: 600;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
</style>
