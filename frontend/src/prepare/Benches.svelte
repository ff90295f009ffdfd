<script lang="ts">
	/* Which benches, in the room's order, and who stands at them. */
	import { openRoster, putRoster } from '../api/client';
	import { namesIn, type Prepare } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const draft = $derived(prepare.draft);
	const benches = $derived(prepare.shelf?.benches ?? []);
	let editing = $state(false);
	let typed = $state('');
	let wrong = $state('');
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
		editing = true;
	}

	async function keepRoster(): Promise<void> {
		const outcome = await putRoster(typed.split('\n'));
		take(outcome);
	}

	async function open(files: FileList | null): Promise<void> {
		const file = files?.[0];
		if (file) take(await openRoster(file));
		if (picker) picker.value = '';
	}

	function take(outcome: Awaited<ReturnType<typeof putRoster>>): void {
		if (outcome.kind === 'done') {
			prepare.roster = outcome.value.students.map((row) => row.name);
			wrong = '';
			editing = false;
		} else {
			const faults = outcome.kind === 'problem' ? outcome.faults : [];
			wrong = faults.length
				? faults
						.slice(0, 3)
						.map((row) => row.message)
						.join(' ') + (faults.length > 3 ? ` And ${faults.length - 3} more.` : '')
				: outcome.title;
		}
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
			<label for="roster">Roster, a line a student</label>
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
			<button type="button" class="button act" onclick={keepRoster}>Keep the roster</button>
			<button type="button" class="button" onclick={() => (editing = false)}>Leave it</button>
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
