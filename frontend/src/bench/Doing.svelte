<script lang="ts">
	/* What hands do now, where that is no reading: the step's name and the one button that ends it, where one types too. */
	import CornerDownLeft from '@lucide/svelte/icons/corner-down-left';
	import type { StepView } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';

	let { step, bench, focus }: { step: StepView; bench: Bench; focus: () => void } = $props();

	let skipping = $state<string | null>(null);

	const keyed = matchMedia('(pointer: fine)').matches;

	async function finish(): Promise<void> {
		await bench.mark(step.key, 'finished');
		focus();
	}

	async function skip(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!skipping?.trim()) return;
		await bench.mark(step.key, 'skipped', skipping.trim());
		skipping = null;
		focus();
	}
</script>

<div class="doing" role="group" aria-label="To do now">
	<p><span class="quiet">Now:</span> <strong><Sentence text={step.short} plain /></strong></p>
	{#if step.counts}
		<button
			type="button"
			class="button act"
			onclick={() => void bench.see(step.counts?.tag ?? '').then(focus)}
		>
			Rinsed: {step.counts.counted} of {step.counts.times}
		</button>
	{/if}
	<button type="button" class={['button', { act: !step.counts }]} onclick={() => void finish()}
		>{step.done_label}
		{#if keyed && !step.counts}<CornerDownLeft size={20} aria-hidden="true" />{/if}</button
	>
	{#if skipping === null}
		<button type="button" class="plain" onclick={() => (skipping = '')}>Skip this step …</button>
	{:else}
		<form class="skipping" onsubmit={skip}>
			<label for="skip-reason">Why is it skipped?</label>
			<!-- opened by a tap on “skip”: the reason comes next -->
			<!-- svelte-ignore a11y_autofocus -->
			<input id="skip-reason" bind:value={skipping} maxlength="200" autocomplete="off" autofocus />
			<button class="button">Skip it</button>
			<button
				type="button"
				class="button"
				onclick={() => {
					skipping = null;
					focus();
				}}>Leave it</button
			>
		</form>
	{/if}
</div>

<style>
	.doing {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px 12px;
		padding-bottom: 10px;
	}
	p {
		flex: 1 1 180px;
	}
	.plain {
		min-height: 48px;
		padding: 0 4px;
		font-size: 16px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
	.skipping {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		flex-basis: 100%;
		gap: 8px;
	}
	.skipping input {
		flex: 1 1 160px;
		min-width: 0;
		min-height: 48px;
		padding: 8px 12px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--paper);
	}
</style>
