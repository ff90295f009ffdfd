<script lang="ts">
	/* What stands below the field: a doubt with its ways out, a fault, and what waits on this device. */
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';

	let { bench, kind, focus }: { bench: Bench; kind: string; focus: () => void } = $props();

	const shows = $derived(kind.endsWith('balance') ? 'is what the balance shows' : 'is what I read');

	function correct(): void {
		bench.doubt = null;
		focus();
	}

	/* on a small screen a question stands below the keys: whoever typed must see it without looking for it */
	let box = $state<HTMLElement | null>(null);
	$effect(() => {
		if (bench.doubt || bench.fault || bench.notice) box?.scrollIntoView({ block: 'nearest' });
	});
</script>

<div bind:this={box} class="below" id="reading-fault" aria-live="assertive">
	{#if bench.doubt}
		{@const suggestion = bench.doubt.suggestion}
		<p class="fault"><Sentence text={bench.doubt.text} /></p>
		<!-- what the instrument shows comes first; what it may have been is only a guess -->
		<button type="button" class="button act" onclick={correct}>Read it again</button>
		{#if suggestion}
			<button type="button" class="button" onclick={() => bench.suggest(suggestion).then(focus)}>
				It is <span class="figure">{suggestion}</span>
			</button>
		{/if}
		<button type="button" class="button" onclick={() => bench.confirm().then(focus)}>
			<span class="figure">{bench.doubt.reading.text}</span>
			{shows}
		</button>
	{:else if bench.fault}
		<p class="fault">{bench.fault}</p>
		{#if bench.returned}
			<button type="button" class="button" onclick={() => bench.leaveOut().then(focus)}>Leave it out</button>
		{/if}
	{:else if bench.notice}
		<p class="fault">{bench.notice}</p>
	{/if}
	{#if bench.waiting.length}
		<p class="waiting">
			{bench.why} Waiting on this device, to be sent in order:
			{#each bench.waiting as reading (reading.uuid)}
				<span class="kept">{reading.label} <span class="figure">{reading.text} {reading.unit}</span></span>
			{/each}
		</p>
	{/if}
</div>

<style>
	.kept {
		display: inline-block;
		margin-right: 14px;
		color: var(--ink);
		font-weight: 400;
	}
	.below {
		grid-column: 1 / -1;
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 10px;
	}
	.below:not(:empty) p {
		flex-basis: 100%;
		padding-top: 8px;
	}
	.waiting {
		color: var(--watch);
		font-weight: 600;
	}
</style>
