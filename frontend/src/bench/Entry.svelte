<script lang="ts">
	import CornerDownLeft from '@lucide/svelte/icons/corner-down-left';
	import Grid3x3 from '@lucide/svelte/icons/grid-3x3';
	import { tick, untrack } from 'svelte';
	import type { RunView } from '../api/client';
	import { secondsLeft } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import type { Bench } from './bench.svelte';
	import { keep, kept } from '../offline/keeping';
	import Asked from './Asked.svelte';
	import Keypad from './Keypad.svelte';
	import Doing from './Doing.svelte';
	import NotTaken from './NotTaken.svelte';
	import ReadWith from './ReadWith.svelte';
	import Undo from './Undo.svelte';
	import Rest from './Rest.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	let again = $state(false);
	/* a tablet gets our keys from the start; anyone may have them or put them away */
	let keys = $state(kept<boolean>('keypad') ?? matchMedia('(pointer: coarse)').matches);
	let input = $state<HTMLInputElement | null>(null);
	let box = $state<HTMLElement | null>(null);

	const entry = $derived(bench.entry);
	const step = $derived(run.steps.find((row) => row.key === entry?.step));
	const left = $derived(step?.timer?.ends_at ? secondsLeft(step.timer.ends_at) : 0);
	/* once the mass is constant the field rests, unless something is typed or on its way */
	const resting = $derived(run.entry?.step === null && !bench.queue.length && bench.returned === null);
	const open = $derived(entry !== null && (!resting || again || bench.typed !== ''));

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!entry) return;
		if (bench.typed.trim() === '' && (await bench.finishByKey())) return;
		const held = document.activeElement;
		await bench.record(entry);
		// who has gone elsewhere while it was saved stays there
		if ([held, document.body].includes(document.activeElement)) await focus();
	}

	/* the field, or what stands in its place: focus is never lost */
	async function focus(): Promise<void> {
		await tick();
		(input ?? box?.querySelector<HTMLElement>('button, a'))?.focus();
		typeAnew();
	}

	/* a figure that came back with a question is typed anew, not typed on; one that is being retyped stays */
	function typeAnew(): void {
		if (bench.returned && bench.typed === bench.returned.text) input?.select();
	}

	/* at the moment it comes back: who types on without a pause would write behind it */
	$effect(() => {
		if (bench.returned && document.activeElement === input) untrack(typeAnew);
	});

	/* in an empty field a letter begins no figure: it is a key of the bench */
	function byKey(event: KeyboardEvent): void {
		if (bench.typed !== '' || event.ctrlKey || event.metaKey || event.altKey) return;
		const key = event.key.toLowerCase();
		if (key === 'u' && run.undo) void bench.undo();
		else if (key === 'o') document.querySelector<HTMLElement>('.seen-tags button')?.focus();
		else if (key === 'n') document.querySelector<HTMLElement>('.strip a')?.focus();
		else return;
		event.preventDefault();
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

	/* turns the sign round, wherever the caret stands */
	async function minus(): Promise<void> {
		bench.type(/^[-−]/.test(bench.typed) ? bench.typed.slice(1) : `-${bench.typed}`);
		await tick();
		input?.focus();
		input?.setSelectionRange(bench.typed.length, bench.typed.length);
	}

	function toggleKeys(): void {
		keys = !keys;
		keep('keypad', keys);
		void focus();
	}
</script>

<div bind:this={box} class="box" class:asks={bench.doubt !== null} class:done={!open}>
	{#if bench.handwork}<Doing step={bench.handwork} {bench} focus={() => void focus()} />{/if}
	{#if entry && !open}
		<Rest
			{run}
			again={() => {
				again = true;
				void focus();
			}}
		/>
	{:else if entry}
		<form onsubmit={submit} class:keys class:later={bench.handwork !== null}>
			<div class="what">
				{#if bench.handwork}<span class="quiet">then</span>{/if}
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
					onkeydown={byKey}
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
				<button class={['button', { act: !bench.handwork }]} disabled={bench.doubt !== null}>
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
			{#if keys}<div class="pad">
					<Keypad {press} {erase} minus={entry.signed ? () => void minus() : null} />
				</div>{/if}
			<div class="state">
				<ReadWith {run} {bench} {entry} cools={left > 0} {focus}>
					{#if !bench.returned}<NotTaken {bench} {entry} {focus} />{/if}
				</ReadWith>
			</div>
			<div class="below"><Asked {bench} kind={entry.instrument} {focus} /></div>
		</form>
	{:else}
		<Rest {run} />
	{/if}
	<Undo {run} {bench} {focus} />
</div>

<style>
	.box {
		padding: 10px 16px;
		border: 2px solid var(--act);
		border-radius: 8px;
		background: var(--raised);
	}
	.done {
		border-color: var(--settled);
	}
	.box {
		container-type: inline-size;
	}
	form {
		display: grid;
		grid-template:
			'what type go' auto 'state state state' auto 'below below below' auto / minmax(130px, 1fr) minmax(
				160px,
				230px
			)
			auto;
		align-items: center;
		gap: 0 18px;
	}
	.later {
		padding-top: 10px;
		border-top: 1px dashed var(--rule);
	}
	.what .quiet {
		font-size: 16px;
	}
	.what {
		grid-area: what;
	}
	.type {
		grid-area: type;
	}
	.go {
		grid-area: go;
	}
	.pad {
		grid-area: pad;
	}
	.state {
		grid-area: state;
		align-self: start;
	}
	.below {
		grid-area: below;
	}
	form.keys {
		grid-template:
			'what pad' auto 'type pad' auto 'go pad' auto 'state pad' 1fr 'below below' auto / minmax(0, 1fr)
			minmax(220px, 300px);
		row-gap: 8px;
	}
	@container (max-width: 600px) {
		form:not(.keys) {
			grid-template:
				'what what' auto 'type go' auto 'state state' auto 'below below' auto / minmax(0, 1fr)
				auto;
		}
	}
	@container (max-width: 440px) {
		form.keys {
			grid-template:
				'what what' auto 'type go' auto 'pad pad' auto 'state state' auto 'below below' auto / minmax(0, 1fr)
				auto;
		}
	}
	.go {
		display: flex;
		gap: 8px;
	}
	.go .button {
		min-height: 56px;
	}
	.keys .go .button:not(.toggle) {
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
		min-width: 0;
		padding-top: 6px;
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
	@container (max-width: 380px) {
		/* a phone: seven digits beside the button */
		form {
			column-gap: 8px;
		}
		input {
			font-size: 32px;
		}
		.go .button:not(.toggle) {
			padding: 0 10px;
		}
		.go .button:not(.toggle) :global(svg) {
			display: none;
		}
	}
</style>
