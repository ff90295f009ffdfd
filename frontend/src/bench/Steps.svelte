<script lang="ts">
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import type { RunView } from '../api/client';
	import type { Bench } from './bench.svelte';
	import StepTimer from './StepTimer.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const SIGNS = { done: 'done', now: 'now', ahead: 'to come', missed: 'forgotten' };
	const current = $derived(run.steps.find((step) => step.state === 'now'));
	/* finished handwork is folded away, so that the step to do now and its caution stay in sight */
	const MOST_DONE = 4;
	const folded = $derived(run.steps.filter((step) => step.state === 'done').length > MOST_DONE);
	const shown = $derived(
		folded ? run.steps.filter((step) => step.state !== 'done' || step.slot !== null) : run.steps
	);
</script>

<h2 class="hidden-text">Procedure</h2>
<ol>
	{#each shown as step (step.key)}
		{#if step.state === 'now'}
			<li class="now" aria-current="step">
				<h3>{step.title}</h3>
				<p>{step.say}</p>
				{#if step.timer}<StepTimer {step} {bench} />{/if}
				{#if !step.slot}
					<button class="button act" onclick={() => bench.mark(step.key, 'finished')}
						>{step.done_label}</button
					>
				{/if}
				{#if step.caution}
					<p class="caution"><TriangleAlert size={22} aria-hidden="true" /><span>{step.caution}</span></p>
				{/if}
				{#if step.why}<p class="why quiet">{step.why}</p>{/if}
			</li>
		{:else}
			<li class={step.state}>
				<span class="dot" aria-hidden="true"></span>
				<span>{step.short}<span class="hidden-text">, {SIGNS[step.state]}</span></span>
				{#if step.value}<span class="figure value">{step.value}</span>{/if}
				{#if step.state === 'missed'}<strong class="value">forgotten</strong>{/if}
			</li>
		{/if}
	{/each}
</ol>
{#if !current}<p class="finished">All steps are done.</p>{/if}

<section class="no-print">
	<h3 class="seen quiet">Seen at the bench: one tap</h3>
	<div class="tags">
		{#each run.observe as tag (tag)}
			<button onclick={() => bench.see(tag)}>{tag}</button>
		{/each}
	</div>
	<p class="quiet last" aria-live="polite">
		{#if run.observations.length}Noted: {run.observations
				.map((row) => row.tag)
				.slice(-3)
				.join(', ')}{/if}
	</p>
</section>
<p class="quiet rules">{run.caution}</p>

<style>
	ol {
		display: grid;
		gap: 2px;
	}
	li:not(.now) {
		display: grid;
		grid-template-columns: 22px 1fr auto;
		align-items: baseline;
		padding: 4px 0;
	}
	.dot {
		width: 12px;
		height: 12px;
		border-radius: 50%;
		border: 2px solid var(--quiet);
	}
	.done .dot {
		border-color: var(--settled);
		background: var(--settled);
	}
	.missed .dot {
		border-color: var(--stop);
		border-style: dashed;
	}
	.missed .value {
		color: var(--stop);
	}
	.ahead {
		color: var(--quiet);
	}
	.now {
		display: grid;
		gap: 8px;
		margin: 6px 0;
		padding: 14px 16px;
		border: 1px solid var(--rule);
		border-left: 5px solid var(--act);
		border-radius: 6px;
		background: var(--raised);
	}
	.now h3 {
		font-size: 20px;
	}
	.why {
		font-size: 16px;
	}
	.caution {
		display: grid;
		grid-template-columns: 24px 1fr;
		gap: 8px;
		padding-top: 10px;
		border-top: 1px dashed var(--rule);
		color: var(--stop);
		font-weight: 600;
	}
	.finished {
		padding: 10px 0;
		font-weight: 600;
		color: var(--settled);
	}
	.seen {
		margin: 18px 0 8px;
		font-family: inherit;
		font-weight: 400;
		font-size: 16px;
	}
	.tags {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	.tags button {
		min-height: 48px;
		padding: 0 16px;
		border: 1.5px solid var(--quiet);
		border-radius: 24px;
		background: var(--raised);
		cursor: pointer;
	}
	.last,
	.rules {
		margin-top: 10px;
		font-size: 16px;
	}
</style>
