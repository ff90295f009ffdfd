<script lang="ts">
	/* The choices of one part of the sentence, in place. */
	import InstrumentFields from '../ui/InstrumentFields.svelte';
	import OptionFields from '../ui/OptionFields.svelte';
	import Benches from './Benches.svelte';
	import Choices from './Choices.svelte';
	import { NAMES } from './parts';
	import type { Prepare } from './prepare.svelte';
	import RoomFields from './RoomFields.svelte';

	let { prepare, part, close }: { prepare: Prepare; part: string; close: () => void } = $props();

	const draft = $derived(prepare.draft);
	const school = $derived(
		part.startsWith('school:')
			? prepare.found?.procedure.schools.find((row) => row.name === part.slice(7))
			: undefined
	);
	const fault = (field: string) => prepare.fault(`options.${field}`);
	const here = $derived(prepare.wrong.filter((row) => row.part === part));
	/* what no field of this panel shows at its place */
	const SHOWN = ['date', 'starts', 'title', 'length', 'sample', 'spare', 'stagger'];
	const loose = $derived(
		here.filter(
			(row) =>
				!row.path.startsWith('options.') &&
				!SHOWN.includes(row.path) &&
				!row.path.startsWith('setting.') &&
				!row.path.startsWith('planned.')
		)
	);

	/* the answer that holds has the focus at once, else the first thing that can be chosen */
	function focusFirst(box: HTMLElement): void {
		requestAnimationFrame(() =>
			(
				box.querySelector<HTMLElement>('input[type=radio]:checked') ??
				box.querySelector<HTMLElement>('select, input, textarea, button')
			)?.focus()
		);
	}
	function byKey(event: KeyboardEvent): void {
		const target = event.target as HTMLElement;
		const isPlain = target instanceof HTMLInputElement || target instanceof HTMLSelectElement;
		if (event.key !== 'Escape' && !(event.key === 'Enter' && isPlain)) return;
		event.preventDefault();
		event.stopPropagation();
		close();
	}
	const changed = (): void => prepare.ask();
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions (Escape and Enter leave it, from whatever field) -->
<div
	class="panel"
	id="part-panel"
	role="group"
	aria-label={school?.title ?? NAMES(part)}
	tabindex="-1"
	{@attach focusFirst}
	onkeydown={byKey}
>
	<h2>{school?.title ?? NAMES(part)}</h2>
	{#if part === 'benches'}
		<Benches {prepare} />
	{:else if part === 'method'}
		<Choices
			name="method"
			choices={(prepare.shelf?.methods ?? []).map((row) => [row.name, row.title])}
			chosen={draft.method}
			choose={(method) => prepare.choose(method)}
		/>
	{:else if school}
		<Choices
			name={school.name}
			choices={Object.entries(school.choices)}
			chosen={draft.schools[school.name] ?? school.default}
			choose={(answer) => prepare.settle(school.name, answer)}
		/>
	{:else if part === 'material'}
		<div class="grid">
			<OptionFields
				fields={prepare.firstFields}
				values={draft.values}
				{fault}
				set={(name, value) => prepare.set(name, value)}
				linked
			/>
		</div>
		{#each prepare.tables as table (table.name)}
			<p>
				{table.title}: as the practical's table says it.
				<button type="button" class="button" onclick={() => prepare.set(table.name, table.initial)}
					>Say it anew<span class="hidden-text">: {table.title}</span></button
				>
			</p>
		{/each}
		{#if prepare.moreFields.length}
			<details class="unfold">
				<summary>More options</summary>
				<div class="grid">
					<OptionFields
						fields={prepare.moreFields}
						values={draft.values}
						{fault}
						set={(name, value) => prepare.set(name, value)}
					/>
				</div>
			</details>
		{/if}
	{:else if part === 'tolerance'}
		<div class="grid">
			<OptionFields
				fields={prepare.toleranceFields}
				values={draft.values}
				{fault}
				set={(name, value) => prepare.set(name, value)}
			/>
		</div>
	{:else if part === 'trials'}
		<div class="grid">
			<div class="field">
				<label for="trials">Trials a bench</label>
				<input id="trials" type="number" min="1" max="20" bind:value={draft.trials} oninput={changed} />
			</div>
		</div>
	{:else if part === 'apparatus'}
		<div class="grid">
			<OptionFields
				name="setting"
				fields={prepare.settingFields}
				values={draft.setting}
				fault={(field) => prepare.fault(`setting.${field}`)}
				set={(field, value) => {
					draft.setting[field] = value;
					changed();
				}}
			/>
			<InstrumentFields
				kinds={prepare.kinds}
				chosen={Object.fromEntries(
					Object.entries(draft.instruments).map(([kind, name]) => [
						kind,
						prepare.shelf?.instruments.find((row) => row.kind === kind && row.name === name)?.id ?? 0
					])
				)}
				choose={(kind, id) => {
					draft.instruments[kind] = prepare.shelf?.instruments.find((row) => row.id === id)?.name ?? '';
					changed();
				}}
				capacity
			/>
		</div>
	{:else if part === 'sample'}
		<div class="grid">
			<div class="field">
				<label for="sample">How much to weigh</label>
				<input
					id="sample"
					bind:value={draft.sample}
					oninput={changed}
					placeholder={prepare.found?.sizing?.about?.text ?? ''}
					aria-invalid={prepare.fault('sample') !== ''}
					aria-describedby="sample-help"
				/>
				<p id="sample-help" class={prepare.fault('sample') ? 'fault' : 'quiet'}>
					{prepare.fault('sample') || 'Empty: what lies best in the window.'}
				</p>
			</div>
			{#each [['low', 'at least'], ['high', 'at most']] as const as [end, label] (end)}
				{@const path = `planned.${prepare.method?.planned ?? ''}.${end}`}
				<div class="field">
					<label for="sample-{end}">Or {label}</label>
					<input
						id="sample-{end}"
						bind:value={draft[end]}
						oninput={changed}
						aria-invalid={prepare.fault(path) !== ''}
						aria-describedby="sample-{end}-help"
					/>
					<p id="sample-{end}-help" class={prepare.fault(path) ? 'fault' : 'quiet'}>
						{prepare.fault(path) || 'A window that the benches are held to.'}
					</p>
				</div>
			{/each}
			<div class="field">
				<label for="spare">Spare</label>
				<input
					id="spare"
					bind:value={draft.spare}
					oninput={changed}
					aria-invalid={prepare.fault('spare') !== ''}
					aria-describedby="spare-help"
				/>
				<p id="spare-help" class={prepare.fault('spare') ? 'fault' : 'quiet'}>
					{prepare.fault('spare') || 'For spills and a trial done again.'}
				</p>
			</div>
		</div>
	{:else if part === 'date'}
		<div class="grid">
			{#each [['date', 'Day', 'date'], ['starts', 'Begins at', 'time'], ['title', 'Name of the class', 'text']] as const as [field, label, type] (field)}
				<div class="field">
					<label for={field}>{label}</label>
					<input
						id={field}
						{type}
						bind:value={draft[field]}
						oninput={changed}
						maxlength="120"
						placeholder={field === 'title' ? (prepare.found?.title ?? '') : ''}
						aria-invalid={prepare.fault(field) !== ''}
						aria-describedby="{field}-help"
					/>
					<p id="{field}-help" class={prepare.fault(field) ? 'fault' : 'quiet'}>
						{prepare.fault(field) || (field === 'title' ? 'Empty: by what it is about.' : '')}
					</p>
				</div>
			{/each}
		</div>
	{:else if part === 'length'}
		<div class="grid">
			<div class="field">
				<label for="length">How long</label>
				<input
					id="length"
					bind:value={draft.length}
					oninput={changed}
					aria-invalid={prepare.fault('length') !== ''}
					aria-describedby="length-help"
				/>
				<p id="length-help" class={prepare.fault('length') ? 'fault' : 'quiet'}>
					{prepare.fault('length') || 'Such as 150 min or 2.5 h.'}
				</p>
			</div>
		</div>
	{:else if part === 'room'}
		<RoomFields {prepare} />
	{/if}
	{#each loose as row (row.path + row.code)}<p class="fault" role="alert">{row.message}</p>{/each}
	<p><button type="button" class="button" onclick={close}>Done</button></p>
</div>

<style>
	.panel {
		display: grid;
		gap: 12px;
		padding: 16px 20px;
		border: 2px solid var(--act);
		border-radius: 8px;
		background: var(--raised);
	}
	.panel:focus-visible {
		outline: none;
	}
	h2 {
		font-size: 19px;
	}
	.grid {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(min(260px, 100%), 1fr));
		gap: 14px 20px;
	}
	@media (min-width: 700px) {
		.grid :global(.two-wide) {
			grid-column: span 2;
		}
	}
</style>
