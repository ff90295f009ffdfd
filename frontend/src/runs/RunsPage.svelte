<script lang="ts">
	import { untrack } from 'svelte';
	import FileDown from '@lucide/svelte/icons/file-down';
	import FileUp from '@lucide/svelte/icons/file-up';
	import History from '@lucide/svelte/icons/history';
	import Search from '@lucide/svelte/icons/search';
	import Plus from '@lucide/svelte/icons/plus';
	import { who } from '../doors/who.svelte';
	import { navigate } from '../router';
	import TopBar from '../ui/TopBar.svelte';
	import RunRow from './RunRow.svelte';
	import { Runs } from './runs.svelte';
	import StartRun from './StartRun.svelte';

	const runs = new Runs();
	$effect(() => untrack(() => runs.begin()));

	/* as many as an address may name */
	const MOST = 150;

	let dragging = $state(false);
	let picker = $state<HTMLInputElement | null>(null);

	/* a tablet goes to what its bench does */
	$effect(() => {
		const [only, ...others] = runs.list;
		if (who.atBench && runs.loaded && only && !others.length)
			void navigate('/runs/:uuid', { params: { uuid: only.uuid }, replace: true });
	});

	const open = $derived(runs.list.filter((run) => run.state !== 'finished' && !run.rest && !run.is_out));
	/* what stands in the oven overnight: nothing to do at the bench until it is due */
	const resting = $derived(runs.list.filter((run) => run.rest && !run.is_out));
	const finished = $derived(runs.list.filter((run) => run.state === 'finished' || run.is_out));

	function drop(event: DragEvent): void {
		event.preventDefault();
		dragging = false;
		void runs.open([...(event.dataTransfer?.files ?? [])]);
	}
</script>

<TopBar title="Runs" place={runs.place}>
	{#if runs.away}<strong class="away" role="status">The server does not answer</strong>{/if}
</TopBar>
<!-- a file may be dropped; the button beside does the same by keyboard -->
<main
	id="main"
	tabindex="-1"
	class:dragging
	ondragover={(event) => {
		event.preventDefault();
		dragging = true;
	}}
	ondragleave={() => (dragging = false)}
	ondrop={drop}
>
	{#if who.is?.kind !== 'board'}<div class="do">
			<StartRun {runs}>
				{#snippet label()}<Plus size={22} aria-hidden="true" /> Start a run{/snippet}
			</StartRun>
			{#if !who.atBench}
				<button class="button" onclick={() => picker?.click()}>
					<FileUp size={22} aria-hidden="true" /> Open run files
				</button>
				<input
					bind:this={picker}
					type="file"
					accept=".json,.zip,application/json,application/zip"
					multiple
					class="hidden-text"
					tabindex="-1"
					aria-label="Run files"
					onchange={(event) => {
						void runs.open([...(event.currentTarget.files ?? [])]);
						event.currentTarget.value = '';
					}}
				/>
				{#if runs.chosen === null}
					<button class="button" disabled={!runs.list.length} onclick={() => (runs.chosen = [])}>
						<FileDown size={22} aria-hidden="true" /> Save run files
					</button>
					<span class="quiet">or drop files anywhere on this page</span>
				{:else}
					<span class="choosing">
						{#if runs.chosen.length > MOST}
							<span class="quiet">At most {MOST} at once; {runs.chosen.length} are ticked.</span>
						{:else if runs.chosen.length}
							<a class="button act" href={runs.archive} download>
								<FileDown size={22} aria-hidden="true" />
								{runs.chosen.length === 1 ? 'One run file' : `${runs.chosen.length} run files`} (zip)
							</a>
						{:else}<span class="quiet">Tick the runs to save.</span>{/if}
						<button class="button" onclick={() => (runs.chosen = runs.list.map((run) => run.uuid))}
							>All</button
						>
						<button class="button" onclick={() => (runs.chosen = null)}>Done</button>
					</span>
				{/if}
			{/if}
			{#if who.is?.kind === 'instructor'}
				<a class="button" href="/find"><Search size={22} aria-hidden="true" /> Find</a>
				<div class="of-day">
					<label for="of-day">Runs of the day</label>
					<input
						id="of-day"
						type="date"
						max={runs.today}
						value={runs.day}
						onchange={(event) => runs.showDay(event.currentTarget.value)}
					/>
					{#if runs.day}<button class="button" onclick={() => runs.showDay('')}>All days</button>{/if}
				</div>
			{/if}
		</div>{/if}

	<div aria-live="polite">
		{#each runs.reports as report (report.id)}
			<section class="report" class:refused={report.faults.length > 0}>
				<p><strong>{report.name}</strong> {report.text}</p>
				{#if report.faults.length}
					<ul>
						{#each report.faults as fault (fault.path + fault.message)}
							<li><span class="figure">{fault.path || 'file'}</span>: {fault.message}</li>
						{/each}
					</ul>
				{/if}
				<button class="button" onclick={() => runs.dismiss(report.id)}>Close</button>
			</section>
		{/each}
	</div>

	{#if runs.refused}<p class="fault" role="alert">{runs.refused}</p>
	{:else if runs.loaded}
		<section aria-labelledby="open-runs">
			<h2 id="open-runs">On the benches</h2>
			<ul class="runs">
				{#each open as run (run.uuid)}<RunRow {run} {runs} />{:else}
					<li class="empty">
						{#if runs.shelf && !who.atBench && (!runs.shelf.benches.length || !runs.shelf.balances.length)}
							A run needs a bench and a balance: <a href="/shelf">name the benches on the Shelf</a> and
							<a href="/today">put a balance on the day’s shelf</a>.
						{/if}
						{#if runs.day}Nothing of this day is under way.
						{:else}Nothing is under way. Start a run, and the bench page takes you through it weighing by
							weighing.{/if}
					</li>
				{/each}
			</ul>
		</section>
		{#if resting.length}
			<section aria-labelledby="resting-runs">
				<h2 id="resting-runs">
					Drying{#if who.is?.kind === 'instructor'}, <a href="/drying">where it stands</a>{/if}
				</h2>
				<ul class="runs">
					{#each resting as run (run.uuid)}<RunRow {run} {runs} />{/each}
				</ul>
			</section>
		{/if}
		{#if finished.length}
			<section aria-labelledby="finished-runs">
				<h2 id="finished-runs">Finished</h2>
				<ul class="runs">
					{#each finished as run (run.uuid)}<RunRow {run} {runs} />{/each}
				</ul>
			</section>
		{/if}
		{#if runs.older}
			<button class="button older" disabled={runs.fetching} onclick={() => runs.lookBack()}>
				<History size={22} aria-hidden="true" /> Older runs
			</button>
		{/if}
		{#if runs.elsewhere}
			<p class="quiet">
				There are runs in your other sections: <a href="/shelf">go there on the Shelf</a>.
			</p>
		{/if}
	{:else}
		<p class="quiet" aria-busy="true">
			{runs.away ? 'Trying again every few seconds.' : 'Fetching the runs …'}
		</p>
	{/if}
</main>

<style>
	main {
		display: grid;
		align-content: start;
		gap: 28px;
		min-height: calc(100dvh - 56px);
		max-width: 1180px;
		margin: 0 auto;
		padding: 24px;
	}
	.dragging {
		outline: 3px dashed var(--act);
		outline-offset: -10px;
	}
	.do {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 14px;
	}
	.of-day {
		display: flex;
		align-items: center;
		gap: 10px;
		margin-left: auto;
	}
	.of-day label {
		color: var(--quiet);
	}
	.of-day input {
		min-height: 48px;
		padding: 0 10px;
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
		color: var(--ink);
		font: inherit;
	}
	.older {
		justify-self: start;
	}
	.choosing {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 12px;
	}
	h2 {
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
		font-size: 22px;
	}
	h2 a {
		color: var(--act);
		font-size: 18px;
		font-weight: 400;
		text-underline-offset: 4px;
	}
	.empty {
		padding: 24px 0;
		max-width: 60ch;
		color: var(--quiet);
	}
	.empty a {
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.away {
		color: var(--watch);
	}
	.report {
		display: grid;
		gap: 8px;
		justify-items: start;
		margin-bottom: 12px;
		padding: 14px 18px;
		border-left: 5px solid var(--settled);
		background: var(--raised);
	}
	.report.refused {
		border-color: var(--stop);
	}
	.report li {
		padding: 2px 0;
		overflow-wrap: anywhere;
	}
</style>
