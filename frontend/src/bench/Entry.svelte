<script lang="ts">
	import CornerDownLeft from '@lucide/svelte/icons/corner-down-left';
	import { tick } from 'svelte';
	import type { RunView } from '../api/client';
	import { secondsLeft, timeOfDay } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const DECIMALS = [
		'no decimals',
		'one decimal',
		'two decimals',
		'three decimals',
		'four decimals',
		'five decimals'
	];

	let again = $state(false);
	let input = $state<HTMLInputElement | null>(null);

	const entry = $derived(run.entry);
	const step = $derived(run.steps.find((row) => row.key === entry?.step));
	const left = $derived(step?.timer?.ends_at ? secondsLeft(step.timer.ends_at) : 0);
	const balance = $derived(
		[run.balance.name, DECIMALS[run.balance.decimals ?? -1]].filter((part) => part !== undefined).join(', ')
	);
	const latest = $derived(run.readings.at(-1));
	const saved = $derived(latest ? `saved ${timeOfDay(bench.savedAt || latest.at)}` : 'nothing weighed yet');
	const open = $derived(entry !== null && (entry.step !== null || again || bench.typed !== ''));

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!entry) return;
		await bench.record(entry);
		await focus();
	}

	async function focus(): Promise<void> {
		await tick();
		input?.focus();
	}

	function correct(): void {
		bench.doubt = null;
		void focus();
	}
</script>

{#if entry && !open}
	<div class="rest">
		<p>
			<strong>Constant mass.</strong> <span class="quiet">In doubt? A flat mass does not prove dryness.</span>
		</p>
		<button
			class="button"
			onclick={() => {
				again = true;
				void focus();
			}}>Heat and weigh once more</button
		>
	</div>
{:else if entry}
	<form onsubmit={submit} class:asks={bench.doubt !== null}>
		<div class="what">
			<label for="reading">{entry.label}</label>
		</div>
		<div class="type">
			<!-- the one thing to do on this page is to type the next weighing -->
			<!-- svelte-ignore a11y_autofocus -->
			<input
				id="reading"
				class="figure"
				bind:this={input}
				value={bench.typed}
				oninput={(event) => bench.type(event.currentTarget.value)}
				inputmode="decimal"
				autocomplete="off"
				autofocus
				maxlength="60"
				readonly={bench.waiting !== null}
				aria-invalid={bench.fault !== ''}
				aria-describedby="reading-fault reading-state"
			/>
			<span class="figure unit" aria-hidden="true">{entry.unit}</span>
		</div>
		<button class="button act" disabled={bench.busy || bench.waiting !== null || bench.doubt !== null}>
			Record <CornerDownLeft size={20} aria-hidden="true" />
		</button>
		<p class="state" id="reading-state">
			{#if left > 0}<strong class="warm">Still cooling: a warm vessel reads light.</strong>{/if}
			<span class="quiet">{balance}{entry.hint ? `. ${entry.hint}` : ''}.</span>
			{#if bench.waiting && bench.away}<strong class="waiting">Waiting to be saved</strong>
			{:else}<span class="quiet">{saved}</span>{/if}
		</p>
		<div class="below" id="reading-fault" aria-live="assertive">
			{#if bench.doubt}
				<p class="fault"><Sentence text={bench.doubt.text} /></p>
				<button type="button" class="button act" onclick={correct}>Let me correct it</button>
				<button type="button" class="button" onclick={() => bench.confirm()}
					>It is what the balance shows</button
				>
			{:else if bench.fault}
				<p class="fault">{bench.fault}</p>
			{:else if bench.waiting && bench.away}
				<p class="waiting">
					The server does not answer. {bench.typed}
					{entry.unit} is kept here and sent as soon as it does.
				</p>
			{:else if bench.notice}
				<p class="fault">{bench.notice}</p>
			{/if}
		</div>
	</form>
{/if}

<style>
	form,
	.rest {
		display: grid;
		grid-template-columns: minmax(150px, 1fr) minmax(180px, 230px) auto;
		align-items: center;
		gap: 0 18px;
		padding: 12px 16px;
		border: 2px solid var(--act);
		border-radius: 8px;
		background: var(--raised);
	}
	.rest {
		grid-template-columns: 1fr auto;
		border-color: var(--settled);
	}
	.asks {
		border-color: var(--stop);
	}
	label {
		display: block;
		font-family: var(--slab);
		font-weight: 600;
		font-size: 20px;
		line-height: 1.2;
	}
	label::first-letter {
		text-transform: uppercase;
	}
	.state {
		grid-column: 1 / -1;
		display: flex;
		flex-wrap: wrap;
		gap: 0 14px;
		padding-top: 8px;
		font-size: 16px;
		line-height: 1.3;
	}
	.state :last-child {
		margin-left: auto;
	}
	.warm,
	.waiting {
		color: var(--watch);
		font-weight: 600;
	}
	.type {
		display: flex;
		align-items: baseline;
		border-bottom: 3px solid var(--ink);
	}
	input {
		width: 100%;
		min-width: 0;
		padding: 4px 8px;
		border: 0;
		background: transparent;
		font-size: 38px;
		font-weight: 600;
		text-align: right;
	}
	input:focus-visible {
		outline: none;
	}
	.type:focus-within {
		border-color: var(--act);
	}
	.unit {
		padding-right: 6px;
		font-size: 26px;
		color: var(--quiet);
	}
	form > .button {
		min-height: 56px;
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
</style>
