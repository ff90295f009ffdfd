<script lang="ts">
	/* A running run decided otherwise: its options, its schools, its instruments. All is judged anew, nothing is lost. */
	import { tick } from 'svelte';
	import { changeRun, getShelf, newUuid, type RunView, type ShelfView } from '../api/client';
	import { who } from '../doors/who.svelte';
	import InstrumentFields from '../ui/InstrumentFields.svelte';
	import OptionFields from '../ui/OptionFields.svelte';
	import { changedOptions, isAsked, optionFields, setOption, settle, valueOf } from '../ui/options';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import SchoolFields from '../ui/SchoolFields.svelte';
	import ReasonField from '../ui/ReasonField.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import Sheet from '../ui/Sheet.svelte';
	import SheetEnds from '../ui/SheetEnds.svelte';
	import { backToField } from '../ui/focus';

	let { run, done }: { run: RunView; done: () => Promise<void> } = $props();

	const REASONS = [
		'wrong school',
		'label found',
		'another instrument was used',
		'chosen by mistake',
		'the clock was wrong'
	];

	let open = $state(false);
	let busy = $state(false);
	let shelf = $state<ShelfView | null>(null);
	let values = $state<Record<string, string | boolean>>({});
	let schools = $state<Record<string, string>>({});
	let instruments = $state<Record<string, number>>({});
	let reason = $state('');
	let day = $state('');
	let said = $state<Said>(NOTHING);
	let more = $state(false);
	let uuid = '';
	/* as it stood when the sheet was opened: what somebody else decides meanwhile is not overwritten */
	let known = 0;
	let before = $state<RunView | null>(null);

	const method = $derived(shelf?.methods.find((row) => row.name === run.method));
	/* what the tablet is to find itself is neither shown nor sent; it stays as the instructor decided */
	const hidden = $derived(before?.held_back ? (method?.answers ?? []) : []);
	const fields = $derived(
		(method ? optionFields(method.options) : []).filter((field) => !hidden.includes(field.name))
	);
	const shown = $derived(fields.filter((field) => field.name in values && isAsked(field, values)));
	const asked = (first: boolean) =>
		shown.filter((field) => field.first === first).sort((a, b) => a.order - b.order);
	const procedure = $derived(method?.procedures[0]);
	const kinds = $derived(
		(method?.reads ?? [])
			.map((kind) => {
				const rows = shelf?.instruments.filter((row) => row.kind === kind) ?? [];
				const name = kind === 'balance' ? before?.balance.name : before?.instruments[kind]?.name;
				return { kind, rows, usual: rows.find((row) => row.name === name)?.id };
			})
			.filter((group) => group.rows.length > 1 || (group.rows.length === 1 && group.usual === undefined))
	);

	async function change(isOpen: boolean): Promise<void> {
		open = isOpen;
		if (!isOpen) return;
		before = run;
		known = run.changes.length;
		uuid = newUuid();
		reason = '';
		day = run.date;
		said = NOTHING;
		more = false;
		instruments = {};
		schools = Object.fromEntries(run.schools.map((row) => [row.name, row.chosen]));
		const outcome = await getShelf();
		if (outcome.kind !== 'done') {
			said = saidOf(outcome);
			return;
		}
		shelf = outcome.value;
		await tick();
		values = Object.fromEntries(
			fields.flatMap((field) => {
				const value = valueOf(field, run.options);
				return value === null ? [] : [[field.name, value]];
			})
		);
	}

	function touch(): void {
		said = NOTHING;
	}

	async function submit(aside: boolean): Promise<void> {
		if (!before) return;
		busy = true;
		said = NOTHING;
		const was = before.schools;
		const body = {
			uuid,
			known,
			reason,
			options: changedOptions(fields, before.options, values),
			schools: was.some((row) => schools[row.name] !== row.chosen) ? schools : null,
			instruments,
			by: '',
			aside,
			day: day === before.date ? null : day
		};
		const outcome = saidOf(await changeRun(run.uuid, body));
		said = outcome;
		busy = false;
		if (outcome === NOTHING) {
			await done();
			open = false;
			return;
		}
		more ||= asked(false).some((field) => fault(field.name) !== '');
		await tick();
		const dialog = '[role="dialog"][data-state="open"]';
		document.querySelector<HTMLElement>(`${dialog} [aria-invalid="true"], ${dialog} .ask button`)?.focus();
	}

	const fault = (field: string) =>
		said.faults.find((row) => row.path.startsWith(`options.${field}`))?.message ?? '';
	const set = (field: string, value: string | boolean) => {
		setOption(fields, values, schools, field, value);
		touch();
	};
	/* what belongs to no field that is shown */
	const elsewhere = $derived(
		said.faults
			.filter(
				(row) =>
					!['reason', 'day'].includes(row.path) &&
					!shown.some((field) => row.path.startsWith(`options.${field.name}`))
			)
			.map((row) => row.message)
	);
</script>

<Sheet
	{open}
	change={(isOpen) => void change(isOpen)}
	width="860px"
	title="Change how this run is done"
	look="button"
	back={backToField}
>
	{#snippet button()}Change …{/snippet}
	{#snippet description()}Everything is judged anew. What was recorded stays, and the log shows what was
		changed.{/snippet}
	{#if shelf && before}
		<form
			onsubmit={(event) => {
				event.preventDefault();
				void submit(false);
			}}
			novalidate
		>
			<SchoolFields
				schools={procedure?.schools ?? []}
				chosen={schools}
				choose={(school, answer) => {
					settle(fields, values, schools, school, answer);
					touch();
				}}
			/>
			<InstrumentFields
				{kinds}
				chosen={instruments}
				choose={(kind, id) => {
					instruments[kind] = id;
					touch();
				}}
			/>
			<OptionFields fields={asked(true)} {values} {fault} {set} name="change" />
			{#if asked(false).length}
				<details class="across unfold" bind:open={more}>
					<summary
						>More: {asked(false)
							.map((field) => field.title.toLowerCase())
							.slice(0, 3)
							.join(', ')}</summary
					>
					<div class="grid"><OptionFields fields={asked(false)} {values} {fault} {set} name="change" /></div>
				</details>
			{/if}
			{#if !who.atBench}
				<div class="field">
					<label for="change-day">Day to which it belongs</label>
					<input
						id="change-day"
						type="date"
						required
						bind:value={day}
						oninput={touch}
						aria-invalid={faultAt(said, 'day') !== ''}
						aria-describedby="change-day-fault"
					/>
					<p class="fault" id="change-day-fault">{faultAt(said, 'day')}</p>
				</div>
			{/if}
			<div class="across">
				<ReasonField
					id="change-why"
					label="Why it is changed"
					bind:value={reason}
					reasons={REASONS}
					fault={faultAt(said, 'reason')}
					typed={touch}
				/>
			</div>
			<div class="across ask" aria-live="assertive">
				{#each elsewhere as text (text)}<p class="fault">{text}</p>{/each}
				{#if said.trouble}<p class="fault">{said.trouble}</p>{/if}
				{#if said.doubt}
					<p class="fault"><Sentence text={said.doubt} /></p>
					<button type="button" class="button" onclick={() => void submit(true)}
						>Set it aside and change</button
					>
				{/if}
			</div>
			<div class="across"><SheetEnds act="Change it" {busy} /></div>
		</form>
	{:else}
		<p class="quiet">{said.trouble || 'Fetching what can be chosen …'}</p>
		<SheetEnds act="Change it" busy />
	{/if}
</Sheet>

<style>
	form,
	.grid {
		display: grid;
		grid-template-columns: repeat(2, minmax(0, 1fr));
		gap: 14px 20px;
		padding-top: 16px;
	}
	.across {
		grid-column: 1 / -1;
	}
	.ask {
		display: grid;
		gap: 8px;
		justify-items: start;
	}
	.ask:empty {
		display: none;
	}
	@media (max-width: 560px) {
		form,
		.grid {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
