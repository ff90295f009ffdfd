<script lang="ts">
	/* A figure that was recorded and is wrong: its digits, what read it, its line, or that it was taken at all. */
	import { tick } from 'svelte';
	import {
		correctReading,
		leaveReading,
		moveReading,
		newUuid,
		type ReadingView,
		type RunView
	} from '../api/client';
	import { clock } from '../ui/clock.svelte';
	import { shown } from '../ui/instruments';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import FigureField from '../ui/FigureField.svelte';
	import ReasonField from '../ui/ReasonField.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Sheet from '../ui/Sheet.svelte';
	import SheetEnds from '../ui/SheetEnds.svelte';
	import type { Bench } from './bench.svelte';
	import { backToField } from '../ui/focus';
	import { placesBeside } from './places';

	let { run, bench, row }: { run: RunView; bench: Bench; row: ReadingView } = $props();

	/* a slip of the finger needs no reason */
	const REASON_AFTER_MS = 30_000;
	const REASONS = [
		'digits swapped',
		'mistyped',
		'wrong line',
		'wrong instrument',
		'spilled',
		'vessel broken'
	];

	type Wrong = 'figure' | 'line' | 'taken';

	let open = $state(false);
	let busy = $state(false);
	let wrong = $state<Wrong>('figure');
	let text = $state('');
	let instrument = $state('');
	let line = $state('');
	let reason = $state('');
	let said = $state<Said>(NOTHING);
	let uuid = '';

	const old = $derived(clock.now - Date.parse(row.at) > REASON_AFTER_MS);
	const asksWhy = $derived(old || wrong === 'taken');
	const kind = $derived(bench.shelf.find((one) => one.name === row.instrument)?.kind);
	const others = $derived(kind ? bench.shelf.filter((one) => one.kind === kind) : []);
	const lines = $derived(placesBeside(run, row));
	const target = $derived(lines.find((one) => one.slot === line));
	const ACTS: Record<Wrong, string> = $derived({
		figure: 'Correct',
		line: target?.taken ? 'Exchange the two' : 'Move it',
		taken: 'Leave it out'
	});

	function change(isOpen: boolean): void {
		open = isOpen;
		if (!isOpen) return;
		wrong = 'figure';
		text = row.text;
		instrument = row.instrument;
		line = lines[0]?.slot ?? '';
		reason = '';
		said = NOTHING;
		uuid = newUuid();
	}

	function touch(): void {
		said = NOTHING;
	}

	function send(confirmed: boolean) {
		const of = { uuid, reason, by: '' };
		if (wrong === 'line')
			return moveReading(run.uuid, {
				...of,
				reading: row.uuid,
				slot: line,
				trial: row.trial,
				exchange: target?.taken !== '',
				confirmed
			});
		if (wrong === 'taken')
			return leaveReading(run.uuid, { ...of, slot: row.slot, position: row.position, trial: row.trial });
		const other = instrument === row.instrument ? '' : instrument;
		return correctReading(run.uuid, { ...of, supersedes: row.uuid, text, instrument: other, confirmed });
	}

	async function submit(confirmed: boolean): Promise<void> {
		busy = true;
		said = NOTHING;
		const outcome = saidOf(await send(confirmed));
		said = outcome;
		busy = false;
		if (outcome === NOTHING) {
			await bench.look();
			open = false;
			return;
		}
		await tick();
		const sheet = '[role="dialog"][data-state="open"]';
		document.querySelector<HTMLElement>(`${sheet} [aria-invalid="true"], ${sheet} .ask button`)?.focus();
	}
</script>

<Sheet
	{open}
	{change}
	width="520px"
	title={row.label}
	name="Correct {row.label}, {row.text} {row.unit}"
	look="figure recorded"
	back={backToField}
>
	{#snippet button()}{row.text}{/snippet}
	{#snippet description()}
		<span class="figure">{row.text} {row.unit}</span> stays in the log, struck through.
	{/snippet}
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void submit(false);
		}}
		novalidate
	>
		<fieldset>
			<legend class="quiet">What is wrong with it?</legend>
			{#each [['figure', 'the figure'], ['line', 'its line'], ['taken', 'it should not count']] as [name, words] (name)}
				<label class="one" class:chosen={wrong === name}
					><input type="radio" name="wrong" value={name} bind:group={wrong} onchange={touch} />{words}</label
				>
			{/each}
		</fieldset>
		{#if wrong === 'figure'}
			<FigureField
				id="sheet-text"
				unit={row.unit}
				bind:value={text}
				fault={faultAt(said, 'text')}
				typed={touch}
			/>
			{#if others.length > 1}
				<div class="field">
					<label for="sheet-instrument">Read with</label>
					<select id="sheet-instrument" bind:value={instrument} onchange={touch}>
						{#each others as one (one.id)}<option value={one.name}
								>{one.name}, ± {shown(one.half_width)}</option
							>{/each}
					</select>
				</div>
			{/if}
		{:else if wrong === 'line'}
			<div class="field">
				<label for="sheet-line">It belongs to</label>
				<select
					id="sheet-line"
					bind:value={line}
					onchange={touch}
					aria-invalid={faultAt(said, 'slot') !== ''}
					aria-describedby="sheet-line-said"
				>
					{#each lines as one (one.slot)}<option value={one.slot}
							>{one.label}{one.taken ? `, now ${one.taken}` : ''}</option
						>{/each}
				</select>
				<p id="sheet-line-said" class="fault" aria-live="polite">{faultAt(said, 'slot')}</p>
			</div>
		{/if}
		{#if asksWhy}
			<ReasonField
				id="sheet-why"
				label="Why"
				bind:value={reason}
				reasons={REASONS}
				fault={faultAt(said, 'reason')}
				typed={touch}
			/>
		{/if}
		<div class="ask" aria-live="assertive">
			{#if said.trouble}<p class="fault">{said.trouble}</p>{/if}
			{#if said.doubt}
				<p class="fault"><Sentence text={said.doubt} /></p>
				<button type="button" class="button" onclick={() => void submit(true)}
					>{#if wrong === 'figure'}<span class="figure">{text}</span> is right all the same{:else}It is so all
						the same{/if}</button
				>
			{/if}
		</div>
		<SheetEnds act={ACTS[wrong]} {busy} />
	</form>
</Sheet>

<style>
	:global(.recorded) {
		min-height: 48px;
		margin: -12px -8px;
		padding: 0 8px;
		text-decoration: underline dotted var(--quiet) 1.5px;
		text-underline-offset: 5px;
		cursor: pointer;
	}
	form {
		display: grid;
		gap: 12px;
		padding-top: 12px;
	}
	fieldset {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	legend {
		padding-bottom: 4px;
	}
	.one {
		display: flex;
		align-items: center;
		gap: 8px;
		min-height: 48px;
		padding: 0 14px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		cursor: pointer;
	}
	.one input {
		width: 20px;
		height: 20px;
		accent-color: var(--act);
	}
	.chosen {
		border-color: var(--act);
	}
	.ask {
		display: grid;
		gap: 8px;
		justify-items: start;
	}
</style>
