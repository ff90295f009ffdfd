<script lang="ts">
	/* Which benches, in the room's order, and who stands at them. */
	import { putRoster, readList } from '../api/client';
	import { namesIn, type Prepare } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const draft = $derived(prepare.draft);
	const benches = $derived(prepare.shelf?.benches ?? []);
	let editing = $state(false);
	let typed = $state('');
	let wrong = $state('');
	/* what is said of a list that was read and is not saved yet */
	let read = $state('');
	let picker = $state<HTMLInputElement | null>(null);

	function choose(id: number, isIn: boolean): void {
		draft.benches = benches
			.map((row) => row.id)
			.filter((one) => (one === id ? isIn : draft.benches.includes(one)));
		prepare.ask();
	}

	/* the roster dealt out over the benches, in its order */
	function deal(): void {
		const places = draft.benches;
		const each = Math.ceil(prepare.roster.length / Math.max(1, places.length));
		places.forEach((id, index) => {
			draft.students[String(id)] = prepare.roster.slice(index * each, (index + 1) * each).join(', ');
		});
		prepare.ask();
	}

	function edit(): void {
		typed = prepare.roster.join('\n');
		read = '';
		editing = true;
	}

	async function keepRoster(): Promise<void> {
		const outcome = await putRoster(typed.split('\n'));
		take(outcome);
	}

	async function open(files: FileList | null): Promise<void> {
		const file = files?.[0];
		if (picker) picker.value = '';
		if (!file) return;
		const outcome = await readList(file);
		wrong = outcome.kind === 'done' ? '' : faultsOf(outcome);
		if (outcome.kind !== 'done') return;
		const { names, missing } = outcome.value;
		const leaving = missing.length ? ` Not in the list: ${several(missing)}; they come off the roster.` : '';
		read = `${names.length} names were read from ${file.name}.${leaving} Check them, then save. Nothing is saved yet.`;
		typed = names.join('\n');
		editing = true;
	}

	const several = (names: string[]): string =>
		names.slice(0, 6).join(', ') + (names.length > 6 ? ` and ${names.length - 6} more` : '');

	function take(outcome: Awaited<ReturnType<typeof putRoster>>): void {
		if (outcome.kind !== 'done') {
			wrong = faultsOf(outcome);
			return;
		}
		prepare.roster = outcome.value.students.map((row) => row.name);
		wrong = '';
		editing = false;
	}

	function faultsOf(outcome: { kind: string; title: string; faults?: { message: string }[] }): string {
		const faults = outcome.faults ?? [];
		const more = faults.length > 3 ? ` And ${faults.length - 3} more.` : '';
		const first = faults.slice(0, 3).map((row) => row.message);
		return faults.length ? first.join(' ') + more : outcome.title;
	}

	const seated = $derived(draft.benches.flatMap((id) => namesIn(draft.students[String(id)] ?? '')));
	const without = $derived(prepare.roster.filter((name) => !seated.includes(name)));
</script>

<div class="benches">
	{#each benches as bench (bench.id)}
		{@const isIn = draft.benches.includes(bench.id)}
		<div class="bench" class:out={!isIn}>
			<label class="tick"
				><input
					type="checkbox"
					checked={isIn}
					onchange={(event) => choose(bench.id, event.currentTarget.checked)}
				/>
				{bench.name}</label
			>
			<input
				aria-label="Students at {bench.name}"
				placeholder="students, with commas"
				value={draft.students[String(bench.id)] ?? ''}
				disabled={!isIn}
				oninput={(event) => {
					draft.students[String(bench.id)] = event.currentTarget.value;
					prepare.ask();
				}}
			/>
			{#if prepare.fault(`students.${bench.id}`)}<p class="fault">
					{prepare.fault(`students.${bench.id}`)}
				</p>{/if}
		</div>
	{:else}
		<p>No bench is named yet. <a href="/shelf">Name them on the Shelf</a>, then come back.</p>
	{/each}
</div>
<div class="roster">
	{#if editing}
		<div class="field">
			{#if read}<p class="read" role="status">{read}</p>{/if}
			<label for="roster">Roster, one student per line</label>
			<textarea
				id="roster"
				rows="8"
				bind:value={typed}
				aria-invalid={wrong !== ''}
				aria-describedby="roster-wrong"
				onkeydown={(event) => event.key === 'Escape' && ((editing = false), event.stopPropagation())}
			></textarea>
			<p id="roster-wrong" class="fault" role="alert">{wrong}</p>
		</div>
		<div class="acts">
			<button type="button" class="button act" onclick={keepRoster}>Save the roster</button>
			<button type="button" class="button" onclick={() => (editing = false)}>Cancel</button>
		</div>
	{:else}
		<p class="quiet">
			{prepare.roster.length
				? `${prepare.roster.length} on the roster${without.length ? `, ${without.length} without a bench: ${without.slice(0, 6).join(', ')}${without.length > 6 ? ' …' : ''}` : ', all at a bench'}.`
				: 'No roster yet: a class needs none.'}
		</p>
		{#if wrong}<p class="fault" role="alert">{wrong}</p>{/if}
		<div class="acts">
			{#if prepare.roster.length}<button type="button" class="button" onclick={deal}
					>Deal them out over the benches</button
				>{/if}
			<button type="button" class="button" onclick={edit}
				>{prepare.roster.length ? 'Change' : 'Type'} the roster</button
			>
			<button type="button" class="button" onclick={() => picker?.click()}>Open a list</button>
			{#if prepare.roster.length}<a class="button" href="/api/roster.csv" download>Save it as CSV</a>{/if}
			<input
				bind:this={picker}
				class="hidden-text"
				tabindex="-1"
				type="file"
				accept=".csv,.txt,text/csv,text/plain"
				aria-label="List of students"
				onchange={(event) => void open(event.currentTarget.files)}
			/>
		</div>
	{/if}
</div>

<style>
	.benches {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(min(330px, 100%), 1fr));
		gap: 8px 24px;
	}
	.bench {
		display: grid;
		grid-template-columns: 110px 1fr;
		align-items: center;
		gap: 4px 10px;
	}
	.out .tick {
		color: var(--quiet);
		font-weight: 400;
	}
	.bench > input {
		min-height: 44px;
		min-width: 0;
		padding: 4px 10px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		background: var(--paper);
	}
	.bench > input::placeholder {
		color: var(--quiet);
		opacity: 1;
	}
	.bench .fault {
		grid-column: 1 / -1;
	}
	.roster {
		display: grid;
		gap: 8px;
		padding-top: 8px;
		border-top: 1px solid var(--rule);
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
	}
	.hidden-text {
		opacity: 0;
	}
</style>
