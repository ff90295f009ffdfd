<script lang="ts">
	/* What can be practised, and what was: a bench that exists only here, repeated by its seed. */
	import { untrack } from 'svelte';
	import { beginPractice, getPractices, newUuid, type PracticesView } from '../api/client';
	import { navigate, searchParams } from '../router';
	import { dayAndTime, clock } from '../ui/clock.svelte';
	import BeginClass from './BeginClass.svelte';
	import TextField from '../ui/TextField.svelte';
	import TopBar from '../ui/TopBar.svelte';

	const LEVELS = [
		['1', 'A fault that leaves a trace'],
		['2', 'Any fault, or none'],
		['3', 'A small one that leaves no trace, or none'],
		['0', 'Nothing hidden: a bench to get to know']
	] as const;

	let found = $state.raw<PracticesView | null>(null);
	let trouble = $state('');
	let busy = $state(false);
	let faults = $state<Record<string, string>>({});
	/* a link leads to the same bench: method, level and seed stand in it */
	let method = $state('hydrate');
	let level = $state('2');
	let seed = $state('');
	$effect(() => {
		const asked = ['method', 'level', 'seed'].map((name) => searchParams.get(name));
		untrack(() => {
			method = String(asked[0] ?? method);
			level = String(asked[1] ?? level);
			seed = String(asked[2] ?? seed);
		});
	});

	$effect(() => untrack(() => void look()));
	async function look(): Promise<void> {
		const outcome = await getPractices();
		if (outcome.kind === 'done') found = outcome.value;
		else trouble = outcome.title;
	}

	async function begin(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (busy) return;
		busy = true;
		faults = {};
		trouble = '';
		const outcome = await beginPractice({ uuid: newUuid(), method, level: Number(level), seed });
		busy = false;
		if (outcome.kind === 'done') await navigate('/practice/:uuid', { params: { uuid: outcome.value.uuid } });
		else if (outcome.kind === 'problem' && outcome.faults.length)
			faults = Object.fromEntries(outcome.faults.map((row) => [row.path, row.message]));
		else trouble = outcome.title;
	}
	const again = (row: PracticesView['practices'][number]): string =>
		`/practice?${new URLSearchParams({ method: row.method, level: String(row.level), seed: row.seed }).toString()}`;
</script>

<TopBar title="Practice" place="a bench that exists only here; nothing counts" />
<main class="page" id="main" tabindex="-1">
	<form onsubmit={begin} class="begin">
		<h2>Set up a bench of your own</h2>
		<div class="row">
			<div class="field">
				<label for="practice-method">What is done</label>
				<select id="practice-method" bind:value={method} aria-invalid={Boolean(faults['method'])}>
					{#each found?.methods ?? [] as row (row.name)}<option value={row.name}>{row.title}</option>{/each}
				</select>
				{#if faults['method']}<p class="fault">{faults['method']}</p>{/if}
			</div>
			<div class="field">
				<label for="practice-level">What is hidden</label>
				<select id="practice-level" bind:value={level}>
					{#each LEVELS as [value, words] (value)}<option {value}>{words}</option>{/each}
				</select>
			</div>
			<TextField
				id="practice-seed"
				label="Seed"
				bind:value={seed}
				fault={faults['seed'] ?? ''}
				help="The same number is the same bench; empty: any."
			/>
		</div>
		<p>
			<button class="button act" disabled={busy || !found}>Set it up</button>
		</p>
		{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	</form>

	<section aria-label="Drills">
		<h2>Drills</h2>
		<p>A meniscus, an unsteady balance, a fold, a flame, a bottle: one minute each, and why at once.</p>
		<p><a class="button" href="/practice/drills">To the drills</a></p>
	</section>

	<BeginClass methods={found?.methods ?? []} />

	<section aria-label="Practised before">
		<h2>Practised before</h2>
		{#if !found}
			<p class="quiet" aria-busy="true">{trouble ? '' : 'Looking …'}</p>
		{:else if !found.practices.length}
			<p class="quiet">Nothing yet. The first bench is set up in a second, and nobody watches.</p>
		{:else}
			<div class="wide">
				<table class="ruled">
					<thead>
						<tr><th>Bench</th><th>Begun</th><th>Hidden</th><th>Seed</th><th>Points</th><th>Once more</th></tr>
					</thead>
					<tbody>
						{#each found.practices as row (row.uuid)}
							<tr>
								<td><a href="/practice/{row.uuid}">{row.title}</a></td>
								<td class="figure">{dayAndTime(row.began_at, clock.now)}</td>
								<td>{row.level === 0 ? 'nothing' : `level ${row.level}`}</td>
								<td class="figure">{row.seed}</td>
								<td class="figure">{row.points === null ? 'open' : `${row.points} of ${row.of}`}</td>
								<td><a href={again(row)}>The same bench</a></td>
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
		{/if}
	</section>
</main>

<style>
	.begin,
	section {
		display: grid;
		gap: 14px;
	}
	.row {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
		gap: 14px 20px;
	}
	h2 {
		font-size: 22px;
	}
	td a {
		display: inline-grid;
		align-items: center;
		min-height: 44px;
	}
</style>
