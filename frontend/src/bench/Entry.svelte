<script lang="ts">
	import CornerDownLeft from '@lucide/svelte/icons/corner-down-left';
	import Grid3x3 from '@lucide/svelte/icons/grid-3x3';
	import { tick } from 'svelte';
	import type { RunView } from '../api/client';
	import { secondsLeft, timeOfDay } from '../ui/clock.svelte';
	import { shown } from '../ui/instruments';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';
	import { keep, kept } from '../offline/keeping';
	import Keypad from './Keypad.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const DECIMALS = [
		'no decimals',
		'one decimal',
		'two decimals',
		'three decimals',
		'four decimals',
		'five decimals'
	];

	const ROUNDS: Record<string, string> = { heating: 'Heat', drying: 'Dry' };

	let again = $state(false);
	/* a tablet gets our keys from the start; anyone may have them or put them away */
	let keys = $state(kept<boolean>('keypad') ?? matchMedia('(pointer: coarse)').matches);
	let input = $state<HTMLInputElement | null>(null);

	const entry = $derived(bench.entry);
	const step = $derived(run.steps.find((row) => row.key === entry?.step));
	const left = $derived(step?.timer?.ends_at ? secondsLeft(step.timer.ends_at) : 0);
	const balance = $derived(
		[run.balance.name, DECIMALS[run.balance.decimals ?? -1]].filter((part) => part !== undefined).join(', ')
	);
	const shows = $derived(
		entry?.instrument.endsWith('balance') ? 'is what the balance shows' : 'is what I read'
	);
	const used = $derived(entry ? run.instruments[entry.kind] : undefined);
	const own = $derived(entry?.kind === 'balance' ? run.balance.name : (used?.name ?? ''));
	const others = $derived(bench.shelf.filter((row) => row.kind === entry?.kind));
	const instrument = $derived(
		!entry || entry.kind === 'balance'
			? balance
			: used?.name
				? `${used.name}, ± ${shown(used.half_width)}`
				: entry.instrument
	);
	const signed = $derived([
		...new Set(run.signatures.filter((row) => row.later === 0).map((row) => row.name))
	]);
	const latest = $derived(run.readings.filter((row) => row.trial === run.trial.label).at(-1));
	const saved = $derived(latest ? `saved ${timeOfDay(bench.savedAt || latest.at)}` : 'nothing saved yet');
	/* once the mass is constant the field rests, unless something is typed or on its way */
	const resting = $derived(run.entry?.step === null && !bench.queue.length && bench.returned === null);
	const open = $derived(entry !== null && (!resting || again || bench.typed !== ''));

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!entry) return;
		const held = document.activeElement;
		await bench.record(entry);
		// who has gone elsewhere while it was saved stays there
		if ([held, document.body].includes(document.activeElement)) await focus();
	}

	async function focus(): Promise<void> {
		await tick();
		input?.focus();
	}

	async function put(text: string, from: number, to: number): Promise<void> {
		bench.type(bench.typed.slice(0, from) + text + bench.typed.slice(to));
		await tick();
		input?.focus();
		input?.setSelectionRange(from + text.length, from + text.length);
	}

	const press = (character: string) =>
		put(character, input?.selectionStart ?? bench.typed.length, input?.selectionEnd ?? bench.typed.length);

	function erase(): void {
		const to = input?.selectionEnd ?? bench.typed.length;
		const from = input?.selectionStart ?? to;
		void put('', from === to ? Math.max(0, from - 1) : from, to);
	}

	function toggleKeys(): void {
		keys = !keys;
		keep('keypad', keys);
		void focus();
	}

	function correct(): void {
		bench.doubt = null;
		void focus();
	}
</script>

{#if entry && !open}
	<div class="rest">
		<p>
			<strong>Constant mass.</strong>
			<span class="quiet">In doubt? A flat mass does not prove that it is done.</span>
		</p>
		<button
			class="button"
			onclick={() => {
				again = true;
				void focus();
			}}>{ROUNDS[run.round] ?? 'Fill'} and weigh once more</button
		>
	</div>
{:else if entry}
	<form onsubmit={submit} class:asks={bench.doubt !== null} class:keys>
		<div class="what">
			<label for="reading"><Sentence text={entry.label} plain /></label>
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
				inputmode={keys ? 'none' : 'decimal'}
				autocomplete="off"
				autofocus
				maxlength="60"
				aria-invalid={bench.fault !== ''}
				aria-describedby="reading-fault reading-state"
			/>
			<span class="figure unit" aria-hidden="true">{entry.unit}</span>
		</div>
		<div class="go">
			<button class="button act" disabled={bench.doubt !== null}>
				Record <CornerDownLeft size={20} aria-hidden="true" />
			</button>
			<button
				type="button"
				class="button toggle"
				aria-label="Keypad on the screen"
				aria-pressed={keys}
				onclick={toggleKeys}
			>
				<Grid3x3 size={22} aria-hidden="true" />
			</button>
		</div>
		{#if keys}<div class="pad"><Keypad {press} {erase} /></div>{/if}
		<p class="state" id="reading-state">
			{#if left > 0}<strong class="warm">Still cooling: a warm vessel reads light.</strong>{/if}
			{#if others.length > 1 && own}
				<label class="read-with">
					<span class="hidden-text">Read with</span>
					<select
						value={bench.instrument[entry.kind] ?? own}
						onchange={(event) => bench.readWith(entry.kind, event.currentTarget.value)}
					>
						{#each others as row (row.id)}<option value={row.name}
								>{row.name}, ± {shown(row.half_width)}</option
							>{/each}
					</select>
				</label>
				{#if entry.hint}<span class="quiet">{entry.hint}.</span>{/if}
			{:else}
				<span class="quiet"
					><span class="instrument">{instrument}</span>{entry.hint ? `. ${entry.hint}` : ''}.</span
				>
			{/if}
			{#if entry.suggested && bench.typed === ''}
				{@const suggested = entry.suggested}
				<button type="button" class="take" onclick={() => bench.suggest(suggested).then(focus)}
					>Go on from <span class="figure">{suggested}</span></button
				>
			{/if}
			{#if bench.waiting.length}<strong class="waiting">{bench.waiting.length} waiting to be saved</strong>
			{:else}<span class="quiet">{saved}</span>{/if}
		</p>
		<div class="below" id="reading-fault" aria-live="assertive">
			{#if bench.doubt}
				{@const suggestion = bench.doubt.suggestion}
				<p class="fault"><Sentence text={bench.doubt.text} /></p>
				{#if suggestion}
					<button type="button" class="button act" onclick={() => bench.suggest(suggestion).then(focus)}>
						It is <span class="figure">{suggestion}</span>
					</button>
				{/if}
				<button type="button" class="button" class:act={!suggestion} onclick={correct}
					>Let me correct it</button
				>
				<button type="button" class="button" onclick={() => bench.confirm().then(focus)}>
					<span class="figure">{bench.doubt.reading.text}</span>
					{shows}
				</button>
			{:else if bench.fault}
				<p class="fault">{bench.fault}</p>
				{#if bench.returned}
					<button type="button" class="button" onclick={() => bench.leaveOut().then(focus)}
						>Leave it out</button
					>
				{/if}
			{:else if bench.notice}
				<p class="fault">{bench.notice}</p>
			{/if}
			{#if bench.waiting.length}
				<p class="waiting">
					The server does not answer. Kept on this device and sent in order as soon as it does:
					{#each bench.waiting as reading (reading.uuid)}
						<span class="kept">{reading.label} <span class="figure">{reading.text} {reading.unit}</span></span
						>
					{/each}
				</p>
			{/if}
		</div>
	</form>
{:else}
	<div class="rest">
		<p>
			<strong>All readings are taken.</strong>
			{#if signed.length}<br />Signed by {signed.join(' and ')}.{/if}
		</p>
		<a class="button sign" href="/runs/{run.uuid}/log#sign">Sign the record</a>
	</div>
{/if}

<style>
	.sign {
		grid-column: 3;
	}
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
	form.keys {
		grid-template:
			'what pad' auto 'type pad' auto 'go pad' auto 'state pad' 1fr 'below below' auto / minmax(0, 1fr)
			minmax(220px, 300px);
		row-gap: 8px;
	}
	.keys > .what {
		grid-area: what;
	}
	.keys > .type {
		grid-area: type;
	}
	.keys > .go {
		grid-area: go;
	}
	.keys > .pad {
		grid-area: pad;
	}
	.keys > .state {
		grid-area: state;
		align-self: start;
		padding-top: 0;
	}
	.keys > .below {
		grid-area: below;
	}
	.go {
		display: flex;
		gap: 8px;
	}
	.go .button {
		min-height: 56px;
	}
	.keys .go .act {
		flex: 1;
	}
	.toggle {
		padding: 0;
		width: 56px;
		border-color: var(--quiet);
	}
	.toggle[aria-pressed='true'] {
		background: var(--rule);
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
	.read-with {
		font-size: 16px;
	}
	.read-with select {
		min-height: 48px;
		padding: 4px 8px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
		color: var(--ink);
	}
	.take {
		min-height: 48px;
		padding: 0 14px;
		border: 1.5px solid var(--act);
		border-radius: 22px;
		color: var(--act);
		font-weight: 600;
		cursor: pointer;
	}
	.instrument {
		display: inline-block;
	}
	.instrument::first-letter {
		text-transform: uppercase;
	}
	.warm,
	.waiting {
		color: var(--watch);
		font-weight: 600;
	}
	.kept {
		display: inline-block;
		margin-right: 14px;
		color: var(--ink);
		font-weight: 400;
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
