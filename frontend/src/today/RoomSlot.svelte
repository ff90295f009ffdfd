<script lang="ts">
	/* One thing read of the room: what stands, since when, and the place to type the next. */
	import { tick } from 'svelte';
	import { newUuid, type RoomSlotView } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import { NOTHING, type Said } from '../ui/said';
	import type { Today } from './today.svelte';

	let { slot, today }: { slot: RoomSlotView; today: Today } = $props();

	let text = $state('');
	let said = $state<Said>(NOTHING);
	let busy = $state(false);
	let uuid = newUuid();
	let field = $state<HTMLInputElement | null>(null);

	const fault = $derived(said.faults[0]?.message ?? said.trouble);

	async function send(confirmed: boolean): Promise<void> {
		if (busy) return;
		busy = true;
		said = NOTHING;
		const outcome = await today.read(uuid, slot.slot, text, confirmed);
		busy = false;
		said = outcome;
		if (outcome === NOTHING) {
			text = '';
			uuid = newUuid();
		}
		await tick();
		field?.focus();
	}
</script>

<article>
	<h3>{slot.label}</h3>
	{#if slot.stands}
		<p class="stands">
			<strong class="figure">{slot.stands.text} {slot.stands.unit}</strong>
			<span class="quiet">read {timeOfDay(slot.stands.at)}, {slot.stands.instrument}</span>
			<span class="quiet"
				>{slot.stands.runs === 1 ? 'one run uses it' : `${slot.stands.runs || 'no'} runs use it`}</span
			>
		</p>
	{:else}<p class="quiet none">Not read today.</p>{/if}
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void send(false);
		}}
		novalidate
	>
		<div class="field">
			<label for="room-{slot.slot}">{slot.stands ? 'Read again' : 'Read it'}, in {slot.unit}</label>
			<input
				id="room-{slot.slot}"
				class="figure"
				bind:this={field}
				bind:value={text}
				oninput={() => {
					said = NOTHING;
					uuid = newUuid();
				}}
				inputmode="decimal"
				autocomplete="off"
				maxlength="60"
				aria-invalid={fault !== '' || said.doubt !== ''}
				aria-describedby="room-{slot.slot}-said"
			/>
		</div>
		<button class="button act" disabled={busy}>Record<span class="hidden-text"> {slot.label}</span></button>
	</form>
	<div id="room-{slot.slot}-said" aria-live="polite">
		{#if said.doubt}
			<p class="fault">{said.doubt}</p>
			<button class="button" onclick={() => send(true)}
				><span class="figure">{text}</span> is what I read</button
			>
		{:else if fault}<p class="fault">{fault}</p>
		{:else}<p class="quiet help">{slot.help}</p>{/if}
	</div>
</article>

<style>
	article {
		display: grid;
		grid-template-rows: auto auto auto 1fr;
		gap: 8px;
		padding: 16px 18px;
		border-radius: 8px;
		background: var(--raised);
	}
	h3 {
		font-size: 19px;
	}
	h3::first-letter {
		text-transform: uppercase;
	}
	.stands {
		display: grid;
	}
	.stands strong {
		font-size: 32px;
		line-height: 1.15;
	}
	.none {
		min-height: 86px;
	}
	form {
		display: grid;
		grid-template-columns: 1fr auto;
		align-items: end;
		gap: 10px;
	}
	input {
		font-size: 22px;
	}
	.help {
		font-size: 16px;
	}
</style>
