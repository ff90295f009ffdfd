<script lang="ts">
	import { untrack } from 'svelte';
	import Pencil from '@lucide/svelte/icons/pencil';
	import Plus from '@lucide/svelte/icons/plus';
	import type { InstrumentView } from '../api/client';
	import { clock, timeOfDay } from '../ui/clock.svelte';
	import { shown } from '../ui/instruments';
	import TopBar from '../ui/TopBar.svelte';
	import CorrectRoom from './CorrectRoom.svelte';
	import InstrumentSheet from './InstrumentSheet.svelte';
	import RoomSlot from './RoomSlot.svelte';
	import { NOTHING, type Said } from '../ui/said';
	import { Today } from './today.svelte';

	const today = new Today();
	$effect(() => untrack(() => today.begin()));

	let height = $state<string | null>(null);
	let said = $state<Said>(NOTHING);
	let shelfSaid = $state('');
	/* what was taken off the shelf by a tap can be put back by one, for a minute */
	const AT_ONCE_MS = 60_000;
	let takenOff = $state.raw<{ row: InstrumentView; at: number } | null>(null);
	const back = $derived(takenOff && clock.now - takenOff.at < AT_ONCE_MS ? takenOff.row : null);

	async function putBack(row: InstrumentView): Promise<void> {
		const outcome = await today.restore(row);
		shelfSaid = outcome.trouble || (outcome.faults[0]?.message ?? '');
		if (outcome === NOTHING) takenOff = null;
	}

	const view = $derived(today.view);
	const kinds = $derived(
		Object.entries(view?.kinds ?? {}).map(([kind, title]) => ({
			kind,
			title,
			rows: view?.instruments.filter((row) => row.kind === kind) ?? []
		}))
	);
	const DIRECTIONS: Record<string, string> = {
		direct: 'counts from the closed end',
		inverted_burette: 'burette turned over'
	};

	async function keepHeight(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const outcome = await today.elevation(height ?? view?.elevation ?? '');
		said = outcome;
		if (outcome === NOTHING) height = null;
	}
</script>

<TopBar title="Today" place={view ? `${view.section}, ${view.day}` : ''}>
	{#if today.away}<strong class="away" role="status">The server does not answer</strong>{/if}
</TopBar>
<main id="main" tabindex="-1">
	{#if view}
		<section aria-labelledby="room">
			<div class="head">
				<h2 id="room">The room</h2>
				<p class="quiet">Read once. Every run of the day takes what it needs, with its time.</p>
			</div>
			<div class="slots">
				{#each view.slots as slot (slot.slot)}<RoomSlot {slot} {today} />{/each}
			</div>
			<form class="height" onsubmit={keepHeight} novalidate>
				<div class="field">
					<label for="elevation">Elevation of the laboratory</label>
					<input
						id="elevation"
						value={height ?? view.elevation}
						oninput={(event) => {
							height = event.currentTarget.value;
							said = NOTHING;
						}}
						placeholder="such as 520 m"
						autocomplete="off"
						aria-invalid={said.faults.length > 0}
						aria-describedby="elevation-said"
					/>
				</div>
				<button class="button" disabled={height === null || height === view.elevation}>Keep</button>
				<p
					id="elevation-said"
					class={said.faults.length || said.trouble ? 'fault' : 'quiet'}
					aria-live="polite"
				>
					{said.faults[0]?.message ||
						said.trouble ||
						(view.expected
							? `A barometer here shows ${view.expected}; anything else is asked about.`
							: 'With it, a sea-level figure taken for the bench is noticed.')}
				</p>
			</form>
			{#if view.log.length}
				<h3>Read today</h3>
				<div class="wide">
					<table class="ruled">
						<thead>
							<tr
								><th>Time</th><th>What</th><th class="number">Reading</th><th>Instrument</th><th>Remarks</th
								><th></th></tr
							>
						</thead>
						<tbody>
							{#each view.log as row (row.uuid)}
								<tr>
									<td class="figure">{timeOfDay(row.at)}</td>
									<td>{row.label}</td>
									<td class="figure number"
										>{#if row.current}<strong>{row.text} {row.unit}</strong>{:else}{row.text}
											{row.unit}{/if}</td
									>
									<td>{row.instrument}</td>
									<td>
										{row.current ? 'stands' : 'replaced'}; {row.runs === 1 ? 'one run' : `${row.runs} runs`}
										{#if row.corrects}; corrects <span class="figure">{row.corrects}</span>: {row.reason}{/if}
										{#if row.doubt}<span class="doubt">confirmed although: {row.doubt}</span>{/if}
									</td>
									<td
										>{#if !row.corrected}<CorrectRoom {row} {today} />{/if}</td
									>
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
			{/if}
		</section>
		<section aria-labelledby="shelf">
			<div class="head">
				<h2 id="shelf">Instruments</h2>
				<p class="quiet">
					Runs of today take the one marked; a single reading may still be taken with another.
				</p>
				<InstrumentSheet {today} name="Put another on the shelf">
					{#snippet label()}<Plus size={20} aria-hidden="true" /> Put another on the shelf{/snippet}
				</InstrumentSheet>
			</div>
			{#if shelfSaid}<p class="fault" role="alert">{shelfSaid}</p>{/if}
			{#if back}
				{@const row = back}
				<p role="status">
					{row.name} is off the shelf.
					<button class="button" onclick={() => void putBack(row)}>Undo</button>
				</p>
			{/if}
			<div class="kinds">
				{#each kinds as group (group.kind)}
					<fieldset>
						<legend>{group.title}</legend>
						{#each group.rows as row (row.id)}
							<div class="instrument">
								<label>
									<input
										type="radio"
										name={group.kind}
										checked={view.defaults[row.kind] === row.id}
										onchange={() => today.use(row)}
									/>
									<span>
										<strong>{row.name}</strong>
										<span class="figure">± {shown(row.half_width)}</span>
										<span class="quiet"
											>{[
												row.resolution && `division ${row.resolution}`,
												row.capacity && `up to ${row.capacity}`,
												DIRECTIONS[row.direction]
											]
												.filter(Boolean)
												.join(', ')}</span
										>
									</span>
								</label>
								<InstrumentSheet {today} {row} name="Change {row.name}">
									{#snippet label()}<Pencil size={18} aria-hidden="true" />{/snippet}
								</InstrumentSheet>
								{#if group.rows.length > 1}
									<button
										class="button"
										onclick={async () => {
											const outcome = await today.retire(row);
											shelfSaid = outcome.trouble || (outcome.faults[0]?.message ?? '');
											if (outcome === NOTHING) takenOff = { row, at: clock.now };
										}}>Take off<span class="hidden-text"> {row.name}</span></button
									>
								{/if}
							</div>
						{:else}<p class="quiet">None yet.</p>{/each}
					</fieldset>
				{/each}
			</div>
		</section>
	{:else}
		<p class="quiet" aria-busy="true">
			{today.away ? 'Trying again every few seconds.' : 'Fetching the day …'}
		</p>
	{/if}
</main>

<style>
	main {
		display: grid;
		gap: 32px;
		max-width: 1280px;
		margin: 0 auto;
		padding: 24px;
	}
	section {
		display: grid;
		gap: 14px;
		min-width: 0;
	}
	.away {
		color: var(--watch);
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 4px 18px;
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
	}
	.head :global(.button) {
		margin-left: auto;
	}
	h2 {
		font-size: 24px;
	}
	h3 {
		font-size: 19px;
	}
	.slots {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
		gap: 16px;
	}
	.height {
		display: grid;
		grid-template-columns: 240px auto 1fr;
		align-items: end;
		gap: 12px;
	}
	.height p {
		align-self: center;
		padding-top: 34px;
	}
	.doubt {
		display: block;
		color: var(--watch);
	}
	.kinds {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(min(440px, 100%), 1fr));
		gap: 18px 32px;
	}
	fieldset {
		min-width: 0;
	}
	legend {
		padding-bottom: 2px;
		font-family: var(--slab);
		font-weight: 600;
		font-size: 18px;
	}
	.instrument {
		display: flex;
		align-items: center;
		gap: 8px;
		border-top: 1px solid var(--rule);
		padding: 4px 0;
	}
	label {
		display: flex;
		flex: 1;
		align-items: center;
		gap: 12px;
		min-height: 48px;
		min-width: 0;
		cursor: pointer;
	}
	label > span {
		display: flex;
		flex-wrap: wrap;
		gap: 0 12px;
	}
	input[type='radio'] {
		flex-shrink: 0;
		width: 24px;
		height: 24px;
		accent-color: var(--act);
	}
	@media (max-width: 640px) {
		.height {
			grid-template-columns: 1fr auto;
		}
		.height p {
			grid-column: 1 / -1;
			padding-top: 0;
		}
	}
</style>
