<script lang="ts">
	/* What is said of an instrument: its name, how finely it shows, how much it carries. */
	import type { Snippet } from 'svelte';
	import type { InstrumentView } from '../api/client';
	import Sheet from '../ui/Sheet.svelte';
	import SheetEnds from '../ui/SheetEnds.svelte';
	import TextField from '../ui/TextField.svelte';
	import { faultAt, NOTHING, type Said } from '../ui/said';
	import type { Today } from './today.svelte';

	let { today, row, label, name }: { today: Today; row?: InstrumentView; label: Snippet; name: string } =
		$props();

	const FIELDS = [
		['name', 'Name', 'What stands on it.'],
		['half_width', 'Right to within ±', 'Such as 0.001 g; empty: half a division.'],
		['resolution', 'Division', 'The smallest that is marked or shown.'],
		['capacity', 'Carries or holds', 'The most that it shows; a tube’s last mark.']
	] as const;

	let open = $state(false);
	let kind = $state('balance');
	let direction = $state('');
	let values = $state({ name: '', half_width: '', resolution: '', capacity: '' });
	let said = $state<Said>(NOTHING);
	const at = (path: string) => faultAt(said, path);

	function change(isOpen: boolean): void {
		open = isOpen;
		kind = row?.kind ?? 'balance';
		direction = row?.direction ?? '';
		values = {
			name: row?.name ?? '',
			half_width: row?.half_width ?? '',
			resolution: row?.resolution ?? '',
			capacity: row?.capacity ?? ''
		};
		said = NOTHING;
	}

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const outcome = await today.keep({
			number: row?.id ?? null,
			kind,
			direction: kind === 'volume' ? direction : '',
			...values
		});
		said = outcome;
		if (outcome === NOTHING) open = false;
	}
</script>

<Sheet {open} {change} width="640px" title={row ? row.name : 'Another instrument'} {name} button={label}>
	<form class="pairs" onsubmit={submit} novalidate>
		<div class="field">
			<label for="instrument-kind">What it is</label>
			<select id="instrument-kind" bind:value={kind} disabled={row !== undefined}>
				{#each Object.entries(today.view?.kinds ?? {}) as [value, text] (value)}<option {value}>{text}</option
					>{/each}
			</select>
		</div>
		{#if kind === 'volume'}
			<div class="field">
				<label for="instrument-direction">Its scale counts</label>
				<select id="instrument-direction" bind:value={direction} aria-invalid={at('direction') !== ''}>
					<option value="">not said</option>
					<option value="direct">from the closed end</option>
					<option value="inverted_burette">from the open end: a burette turned over</option>
				</select>
				<p class="fault">{at('direction')}</p>
			</div>
		{/if}
		{#each FIELDS as [field, title, help] (field)}
			<TextField id="instrument-{field}" label={title} bind:value={values[field]} fault={at(field)} {help} />
		{/each}
		<p class="quiet wide">Runs that have begun keep the figure that they began with.</p>
		{#if said.trouble}<p class="fault wide" role="alert">{said.trouble}</p>{/if}
		<div class="wide"><SheetEnds act="Keep" /></div>
	</form>
</Sheet>
