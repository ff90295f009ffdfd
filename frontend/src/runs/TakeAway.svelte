<script lang="ts">
	/* Days taken along as one open package, and what is kept of a student as one document. */
	import { untrack } from 'svelte';
	import { getRoster } from '../api/client';
	import { asked } from '../api/place';

	let { since, until }: { since: string; until: string } = $props();

	let [from, to] = $state(untrack(() => [since, until]));
	/* the days that are looked for, until others are chosen here */
	$effect(() => {
		if (since) from = since;
		if (until) to = until;
	});
	let names = $state.raw<string[]>([]);
	let name = $state('');
	$effect(() => {
		void getRoster().then((outcome) => {
			if (outcome.kind === 'done') names = outcome.value.students.map((row) => row.name);
		});
	});
	let said = $state('');
	let busy = $state('');

	/* fetched and then saved, so that what cannot be had is said here and not on an empty page */
	async function save(what: 'term' | 'student', address: string): Promise<void> {
		busy = what;
		said = '';
		try {
			const response = await fetch(asked(address));
			if (!response.ok) {
				const told = (await response.json()) as { title: string; faults?: { message: string }[] };
				said = told.faults?.[0]?.message ?? told.title;
				return;
			}
			const file = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? what;
			const made = URL.createObjectURL(await response.blob());
			Object.assign(document.createElement('a'), { href: made, download: file }).click();
			setTimeout(() => URL.revokeObjectURL(made), 60_000);
			said = `${file} is saved.`;
		} catch {
			said = 'The server does not answer just now; try it again.';
		} finally {
			busy = '';
		}
	}
</script>

<section aria-labelledby="take-away">
	<h2 id="take-away">Taken away</h2>
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void save('term', `/api/search/term?since=${from}&until=${to}`);
		}}
	>
		<div class="field">
			<label for="term-since">A term, from</label>
			<input id="term-since" type="date" bind:value={from} required />
		</div>
		<div class="field">
			<label for="term-until">to</label>
			<input id="term-until" type="date" bind:value={to} required />
		</div>
		<button class="button" disabled={busy !== ''}>Save it as one package</button>
		<p class="quiet">
			Run files with the whole record, practicals, classes with all that was handed in, CSV and reports.
			Another house opens it under Runs.
		</p>
	</form>
	<form
		onsubmit={(event) => {
			event.preventDefault();
			void save('student', `/api/search/student?name=${encodeURIComponent(name)}`);
		}}
	>
		<div class="field name">
			<label for="student-name">What is kept of a student</label>
			<input
				id="student-name"
				list="student-names"
				bind:value={name}
				maxlength="120"
				autocomplete="off"
				required
			/>
			<datalist id="student-names"
				>{#each names as one (one)}<option value={one}></option>{/each}</datalist
			>
		</div>
		<button class="button" disabled={busy !== ''}>Save it as one document</button>
		<p class="quiet">
			Who wants to stay anonymous: whoever keeps the house withholds the name with
			<code>./kettle withhold</code>; signatures hold as before.
		</p>
	</form>
	{#if busy}<p role="status">Putting it together …</p>{/if}
	{#if said}<p role="status">{said}</p>{/if}
</section>

<style>
	section {
		display: grid;
		gap: 14px;
		padding-top: 14px;
		border-top: 1px solid var(--rule);
	}
	h2 {
		font-size: 21px;
	}
	form {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 10px 16px;
	}
	.name {
		min-width: min(420px, 100%);
	}
	form p {
		flex: 1 1 320px;
		line-height: 1.3;
	}
</style>
