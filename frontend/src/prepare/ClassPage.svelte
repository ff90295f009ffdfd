<script lang="ts">
	/* A class that was laid out: bench by bench who stands there and what it does; who drops out or comes late. */
	import { untrack } from 'svelte';
	import {
		changePlace,
		getLaidOut,
		getShelf,
		postPrepare,
		takeBackClass,
		timetable,
		type LaidOutView,
		type PreparedView,
		type ShelfView,
		type TimetableView,
		type WishBody
	} from '../api/client';
	import { route } from '../router';
	import { day } from '../ui/clock.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import PrintSet from './PrintSet.svelte';
	import Sessions from './Sessions.svelte';

	const number = $derived(Number(route.params['number'] ?? 0));
	let found = $state.raw<LaidOutView | null>(null);
	let shelf = $state.raw<ShelfView | null>(null);
	let trouble = $state('');
	let late = $state('');
	let sure = $state(false);
	let prepared = $state.raw<PreparedView | null>(null);
	let table = $state.raw<TimetableView | null>(null);

	const others = $derived(
		(shelf?.benches ?? []).filter((bench) => !found?.places.some((place) => place.bench_id === bench.id))
	);

	$effect(() => {
		const wanted = number;
		const leaving = new AbortController();
		untrack(() => void look(wanted, leaving.signal));
		return () => leaving.abort();
	});

	async function look(wanted: number, leaving: AbortSignal): Promise<void> {
		const [outcome, benches] = await Promise.all([getLaidOut(wanted), getShelf()]);
		if (benches.kind === 'done') shelf = benches.value;
		take(outcome);
		if (outcome.kind === 'done') await prepare(outcome.value.plan as unknown as WishBody, leaving);
	}

	/* what is printed and taken along; a day that is over makes no timetable any more */
	async function prepare(plan: WishBody, leaving: AbortSignal): Promise<void> {
		const outcome = await postPrepare(plan);
		if (outcome.kind === 'done') prepared = outcome.value;
		await timetable(plan, 1, leaving, (line) => (table = line.table ?? table));
	}

	function take(outcome: Awaited<ReturnType<typeof getLaidOut>>): void {
		if (outcome.kind === 'done') {
			found = outcome.value;
			trouble = '';
		} else trouble = (outcome.kind === 'problem' && outcome.faults[0]?.message) || outcome.title;
	}

	const change = async (bench: number, isOut: boolean): Promise<void> =>
		take(await changePlace(number, { bench, is_out: isOut, students: null }));

	async function takeBack(): Promise<void> {
		sure = false;
		take(await takeBackClass(number));
	}

	async function comesLate(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const id = Number(late) || others[0]?.id;
		if (id) await change(id, false);
		late = '';
	}
</script>

<TopBar title={found?.title ?? 'A class'} place={found ? `${day(found.date)}, ${found.starts}` : ''} />
{#if found && prepared}<PrintSet
		title="{found.title}, {day(found.date)}, {found.starts}"
		found={prepared}
		{table}
		places={found.places.map((place) => ({
			bench: place.bench,
			students: place.students,
			isOut: place.is_out
		}))}
	/>{/if}
<main class="page no-print" id="main" tabindex="-1">
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if found}
		<table class="ruled">
			<thead><tr><th>Bench</th><th>Students</th><th>Run</th><th class="no-print"></th></tr></thead>
			<tbody>
				{#each found.places as place (place.bench_id)}
					<tr class:out={place.is_out}>
						<th scope="row">{place.bench}</th>
						<td>{place.students.join(', ') || '–'}</td>
						<td>
							{#if place.is_out}dropped out{:else}<a href="/runs/{place.run}">to its bench</a>{/if}
						</td>
						<td class="no-print do">
							{#if !found.is_taken_back}
								<button
									type="button"
									class="button"
									onclick={() => void change(place.bench_id, !place.is_out)}
									>{place.is_out ? 'Comes back' : 'Drops out'}<span class="hidden-text">: {place.bench}</span
									></button
								>
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if found.is_taken_back}<p>This class was taken back. Prepare it again under its old name.</p>{/if}
		{#if others.length && !found.is_taken_back}
			<form class="late no-print" onsubmit={comesLate}>
				<div class="field">
					<label for="late">A bench that comes late</label>
					<select id="late" bind:value={late}>
						{#each others as bench (bench.id)}<option value={String(bench.id)}>{bench.name}</option>{/each}
					</select>
				</div>
				<button class="button">Begin it now</button>
			</form>
		{/if}
		{#if !found.is_taken_back}<Sessions {found} {take} />{/if}
		<p class="acts no-print">
			<a class="button act" href="/lab/{found.id}">To the board</a>
			<a class="button" href="/">To the runs</a>
			<button type="button" class="button" disabled={!prepared} onclick={() => window.print()}
				>Print kit, labels, timetable</button
			>
			<a class="button" href="/api/classes/{found.id}/lists?written=ods" download>Lists for the store (ODS)</a
			>
			<a class="button" href="/api/classes/{found.id}/calendar" download>Calendar</a>
			<a class="button" href="/prepare">Prepare another</a>
			{#if !found.is_taken_back}
				{#if sure}
					<button type="button" class="button" onclick={() => void takeBack()}
						>Yes, take all of it back</button
					>
					<button type="button" class="button" onclick={() => (sure = false)}>Leave it</button>
				{:else}
					<button type="button" class="button" onclick={() => (sure = true)}>Take the class back</button>
				{/if}
			{/if}
		</p>
	{:else if !trouble}
		<p class="quiet" aria-busy="true">Fetching the class …</p>
	{/if}
</main>

<style>
	.out {
		color: var(--quiet);
	}
	.do {
		text-align: right;
	}
	td a {
		display: inline-grid;
		place-items: center start;
		min-height: 44px;
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.late {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 12px;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
</style>
