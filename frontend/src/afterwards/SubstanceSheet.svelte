<script lang="ts">
	/* What is said of a substance that the register lacks, or says otherwise. */
	import type { Snippet } from 'svelte';
	import { addSubstance, newUuid, type RegisterView } from '../api/client';
	import Sheet from '../ui/Sheet.svelte';
	import SheetEnds from '../ui/SheetEnds.svelte';
	import TextField from '../ui/TextField.svelte';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';

	let { view, kept, label }: { view: RegisterView; kept: (register: RegisterView) => void; label: Snippet } =
		$props();

	const FIELDS = [
		['formula', 'Formula', 'With its water: NiCl2.6H2O'],
		['name', 'Name', 'What stands on its jar.'],
		['density', 'Density', 'In g/mL; empty where it is not needed.'],
		['source', 'Where that is from', 'The label, a data sheet and its date.']
	] as const;
	const EMPTY = {
		formula: '',
		name: '',
		density: '',
		source: '',
		hazards: '',
		dissolved: '',
		solid: '',
		remarks: ''
	};

	let open = $state(false);
	let values = $state({ ...EMPTY });
	let said = $state<Said>(NOTHING);
	let uuid = newUuid();
	const at = (path: string) => faultAt(said, path);

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const outcome = await addSubstance({ uuid, by: '', ...values });
		said = saidOf(outcome);
		if (outcome.kind !== 'done') return;
		kept(outcome.value);
		values = { ...EMPTY };
		uuid = newUuid();
		open = false;
	}
</script>

<Sheet
	{open}
	change={(isOpen) => (open = isOpen)}
	width="760px"
	title="Add a substance"
	look="button act"
	button={label}
>
	<form class="pairs" onsubmit={submit} novalidate>
		{#each FIELDS as [field, title, help] (field)}
			<TextField id="substance-{field}" label={title} bind:value={values[field]} fault={at(field)} {help} />
		{/each}
		<div class="field wide">
			<label for="substance-hazards">What it does to people</label>
			<textarea
				id="substance-hazards"
				rows="3"
				bind:value={values.hazards}
				aria-invalid={at('hazards') !== ''}
				aria-describedby="substance-hazards-help"
			></textarea>
			<p id="substance-hazards-help" class={at('hazards') ? 'fault' : 'quiet'}>
				{at('hazards') || 'One hazard a line, in plain words, as its label has it.'}
			</p>
		</div>
		{#each [['dissolved', 'Its solution goes to'], ['solid', 'What is left as a solid goes to']] as const as [field, title] (field)}
			<div class="field">
				<label for="substance-{field}">{title}</label>
				<select id="substance-{field}" bind:value={values[field]} aria-invalid={at(field) !== ''}>
					<option value="">open: to be asked</option>
					{#each view.streams as stream (stream.name)}<option value={stream.name}>{stream.title}</option
						>{/each}
				</select>
				{#if at(field)}<p class="fault">{at(field)}</p>{/if}
			</div>
		{/each}
		<div class="field wide">
			<label for="substance-remarks">Remarks</label>
			<input
				id="substance-remarks"
				bind:value={values.remarks}
				autocomplete="off"
				placeholder="Draws water; reject when browned"
			/>
		</div>
		{#if said.trouble}<p class="fault wide" role="alert">{said.trouble}</p>{/if}
		<div class="wide"><SheetEnds act="Add" /></div>
	</form>
</Sheet>
