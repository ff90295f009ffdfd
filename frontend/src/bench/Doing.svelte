<script lang="ts">
	/* What hands do now, where that is no reading: the step's name and the one button that ends it, where one types too. */
	import CornerDownLeft from '@lucide/svelte/icons/corner-down-left';
	import type { StepView } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';
	import { who } from '../doors/who.svelte';
	import AskWhy from './AskWhy.svelte';
	import type { Bench } from './bench.svelte';

	let { step, bench, focus }: { step: StepView; bench: Bench; focus: () => void } = $props();

	let skipping = $state(false);
	let fault = $state('');
	let looked = $state('');

	const keyed = matchMedia('(pointer: fine)').matches;

	async function finish(): Promise<void> {
		await bench.mark(step.key, 'finished');
		focus();
	}

	async function signOff(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		await bench.mark(step.key, 'finished', looked.trim());
		looked = '';
		focus();
	}

	async function skip(reason: string): Promise<void> {
		fault = reason.trim() ? '' : 'Say why, in a word or two.';
		if (fault) return;
		await bench.mark(step.key, 'skipped', reason.trim());
		skipping = false;
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
	{#if step.sign_off && who.atBench}
		{#if step.is_asked}
			<p class="asked" role="status">Your instructor comes and looks at: {step.sign_off}.</p>
		{:else}
			<button type="button" class="button act" onclick={() => void bench.askForSignOff(step).then(focus)}
				>Ask for sign-off</button
			>
			<p class="quiet asked">Your instructor looks at: {step.sign_off}.</p>
		{/if}
	{:else if step.sign_off}
		<form onsubmit={(event) => void signOff(event)}>
			<div class="field">
				<label for="looked">{step.is_asked ? 'The bench asks; what' : 'What'} you see: {step.sign_off}</label>
				<input id="looked" bind:value={looked} maxlength="400" autocomplete="off" />
			</div>
			<button class="button act" disabled={!looked.trim()}>Sign it off</button>
		</form>
	{:else}
		<button type="button" class={['button', { act: !step.counts }]} onclick={() => void finish()}
			>{step.done_label}
			{#if keyed && !step.counts}<CornerDownLeft size={20} aria-hidden="true" />{/if}</button
		>
	{/if}
	{#if step.sign_off && who.atBench}
		<!-- it is for the instructor to say that it need not be -->
	{:else if skipping}
		<AskWhy
			id="skip-reason"
			label="Why is it skipped?"
			act="Skip it"
			{fault}
			say={(reason) => void skip(reason)}
			leave={() => {
				skipping = false;
				fault = '';
				focus();
			}}
		/>
	{:else}
		<button type="button" class="plain" onclick={() => (skipping = true)}>Skip this step …</button>
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
	.asked {
		flex: 1 1 100%;
	}
	form {
		display: flex;
		flex: 1 1 100%;
		flex-wrap: wrap;
		align-items: end;
		gap: 8px 12px;
	}
	form .field {
		flex: 1 1 220px;
	}
	.plain {
		min-height: 48px;
		padding: 0 4px;
		font-size: 16px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
</style>
