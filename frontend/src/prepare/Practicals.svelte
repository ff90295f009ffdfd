<script lang="ts">
	/* Practicals and earlier classes: taken up, kept as a version, shared, taken along, brought back, compared. */
	import BookMarked from '@lucide/svelte/icons/book-marked';
	import {
		comparePractical,
		getClasses,
		getLaidOut,
		openPractical,
		retirePractical,
		sharePractical
	} from '../api/client';
	import { day as dayOf } from '../ui/clock.svelte';
	import Sheet from '../ui/Sheet.svelte';
	import type { Prepare } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	type Compared = {
		before: number;
		after: number;
		lines: { where: string; before: string; after: string }[];
	};
	let open = $state(false);
	let name = $state('');
	let note = $state('');
	let wrong = $state('');
	let busy = $state(false);
	let compared = $state.raw<{ id: number; found: Compared } | null>(null);
	let classes = $state.raw<{ id: number; title: string; date: string; benches: number }[]>([]);
	let picker = $state<HTMLInputElement | null>(null);

	const source = $derived(prepare.draft.source);
	const from = $derived(prepare.practicals.find((row) => row.id === source?.practical));

	async function change(isOpen: boolean): Promise<void> {
		open = isOpen;
		if (!isOpen) return;
		wrong = note = '';
		compared = null;
		name = prepare.draft.name || prepare.found?.title || '';
		await prepare.lookAtPracticals();
		const outcome = await getClasses();
		if (outcome.kind === 'done') classes = outcome.value.classes;
	}

	async function take(id: number, version?: number): Promise<void> {
		await prepare.take(id, version);
		open = false;
	}

	async function copy(id: number): Promise<void> {
		const outcome = await getLaidOut(id);
		if (outcome.kind === 'done') {
			prepare.copy(outcome.value);
			open = false;
		} else wrong = outcome.title;
	}

	async function keepIt(asNew: boolean): Promise<void> {
		busy = true;
		wrong = await prepare.keepPractical(name, note, asNew);
		busy = false;
		if (!wrong) open = false;
	}

	async function bringBack(files: FileList | null): Promise<void> {
		const file = files?.[0];
		if (!file) return;
		const outcome = await openPractical(file);
		if (picker) picker.value = '';
		if (outcome.kind === 'done') {
			await prepare.lookAtPracticals();
			await take(outcome.value.id);
		} else {
			const faults = outcome.kind === 'problem' ? outcome.faults : [];
			wrong = faults.length
				? faults
						.map((row) => `${row.path}: ${row.message}`)
						.slice(0, 3)
						.join(' ')
				: outcome.title;
		}
	}

	async function share(id: number, isShared: boolean): Promise<void> {
		const outcome = await sharePractical(id, isShared);
		if (outcome.kind === 'done') prepare.practicals = outcome.value.practicals;
		else wrong = outcome.title;
	}

	async function retire(id: number): Promise<void> {
		const outcome = await retirePractical(id);
		if (outcome.kind === 'done') prepare.practicals = outcome.value.practicals;
		else wrong = outcome.title;
	}

	async function compare(id: number, before: number, after: number): Promise<void> {
		const outcome = await comparePractical(id, before, after);
		if (outcome.kind === 'done') compared = { id, found: outcome.value };
		else wrong = outcome.title;
	}
</script>

<Sheet {open} change={(isOpen) => void change(isOpen)} width="860px" title="Practicals" look="button">
	{#snippet button()}<BookMarked size={20} aria-hidden="true" /> Practicals{/snippet}
	<div class="sheet-body">
		{#if wrong}<p class="fault" role="alert">{wrong}</p>{/if}
		<form
			onsubmit={(event) => {
				event.preventDefault();
				void keepIt(!from?.is_mine);
			}}
		>
			<div class="field">
				<label for="practical-name">Keep what stands in the sentence as</label>
				<input id="practical-name" bind:value={name} maxlength="120" />
			</div>
			<div class="field">
				<label for="practical-note">What is new in it</label>
				<input id="practical-note" bind:value={note} maxlength="400" />
			</div>
			<div class="acts">
				{#if from?.is_mine}
					<button class="button act" disabled={busy}>Keep as version {(source?.version ?? 0) + 1}</button>
					<button type="button" class="button" disabled={busy} onclick={() => void keepIt(true)}
						>Keep as a new practical</button
					>
				{:else}
					<button class="button act" disabled={busy}>Keep the practical</button>
				{/if}
			</div>
		</form>
		<h3>Kept here</h3>
		{#each prepare.practicals as row (row.id)}
			{@const last = row.versions.at(-1)}
			<div class="practical" class:taken={row.id === source?.practical}>
				<div>
					<strong>{row.name}</strong>
					<span class="quiet"
						>{row.method_title}, version {last?.number}{last?.note ? `: ${last.note}` : ''}{row.is_mine
							? row.is_shared
								? '; shared'
								: ''
							: `; ${row.section}`}</span
					>
				</div>
				<div class="acts">
					<button type="button" class="button" onclick={() => void take(row.id)}
						>Take<span class="hidden-text"> {row.name}</span></button
					>
					<details class="unfold">
						<summary>More<span class="hidden-text"> about {row.name}</span></summary>
						<div class="acts">
							<a class="button" href="/api/practicals/{row.id}/file" download>Take it along</a>
							{#if row.is_mine}
								<button type="button" class="button" onclick={() => void share(row.id, !row.is_shared)}
									>{row.is_shared ? 'Share it no more' : 'Share with colleagues'}</button
								>
								<button type="button" class="button" onclick={() => void retire(row.id)}
									>Offer it no more</button
								>
							{/if}
							{#each row.versions.slice(0, -1).reverse() as version (version.number)}
								<button type="button" class="button" onclick={() => void take(row.id, version.number)}
									>Take version {version.number}</button
								>
								<button
									type="button"
									class="button"
									onclick={() => void compare(row.id, version.number, last?.number ?? 1)}
									>What changed since {version.number}</button
								>
							{/each}
						</div>
					</details>
				</div>
				{#if compared?.id === row.id}
					<table class="ruled changes">
						<thead
							><tr
								><th>Where</th><th>version {compared.found.before}</th><th>version {compared.found.after}</th
								></tr
							></thead
						>
						<tbody>
							{#each compared.found.lines as line, index (index)}
								<tr
									><th scope="row">{line.where}</th><td>{line.before || '–'}</td><td>{line.after || '–'}</td
									></tr
								>
							{:else}<tr><td colspan="3">They say the same.</td></tr>{/each}
						</tbody>
					</table>
				{/if}
			</div>
		{:else}
			<p class="quiet">None yet. Write the sentence, then keep it here: it is taught for years.</p>
		{/each}
		<p>
			<button type="button" class="button" onclick={() => picker?.click()}>Open a practical's file</button>
			<input
				bind:this={picker}
				class="hidden-text"
				tabindex="-1"
				type="file"
				accept=".json,application/json"
				aria-label="File of a practical"
				onchange={(event) => void bringBack(event.currentTarget.files)}
			/>
		</p>
		{#if classes.length}
			<h3>Earlier classes</h3>
			{#each classes.slice(0, 12) as row (row.id)}
				<div class="practical">
					<div>
						<strong>{row.title}</strong> <span class="quiet">{dayOf(row.date)}, {row.benches} benches</span>
					</div>
					<div class="acts">
						<a class="button" href="/classes/{row.id}">Look at it</a>
						<button type="button" class="button" onclick={() => void copy(row.id)}
							>Prepare it again<span class="hidden-text">: {row.title}, {row.date}</span></button
						>
					</div>
				</div>
			{/each}
		{/if}
	</div>
</Sheet>

<style>
	.sheet-body {
		display: grid;
		gap: 12px;
		padding-top: 12px;
	}
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 16px;
		padding-bottom: 14px;
		border-bottom: 1px solid var(--rule);
	}
	form .acts {
		grid-column: 1 / -1;
	}
	h3 {
		font-size: 18px;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		align-items: start;
		gap: 8px;
	}
	.practical {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		align-items: center;
		gap: 6px 16px;
		padding: 8px 0 8px 12px;
		border-left: 4px solid var(--rule);
	}
	.practical.taken {
		border-color: var(--act);
	}
	.practical .quiet {
		display: block;
	}
	.changes {
		grid-column: 1 / -1;
	}
	.changes :is(td, th) {
		vertical-align: top;
		overflow-wrap: anywhere;
	}
	@media (max-width: 699px) {
		form,
		.practical {
			grid-template-columns: 1fr;
		}
	}
</style>
