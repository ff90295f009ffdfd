<script lang="ts">
	/* Runs and classes found again: words of any kind, a method, days, a state. What is asked stands in the address. */
	import { untrack } from 'svelte';
	import { getShelf, type ShelfView } from '../api/client';
	import { day } from '../ui/clock.svelte';
	import Formula from '../ui/Formula.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import { Find, queryOf, wantedOf } from './find.svelte';
	import TakeAway from './TakeAway.svelte';

	const STATES = {
		'': 'any',
		good: 'agrees, or nothing stands against it',
		watch: 'to be looked at',
		stop: 'cannot be right',
		open: 'not finished',
		finished: 'finished',
		signed: 'signed',
		unsigned: 'not signed'
	} as const;
	const SIGNS = { good: '✓', watch: '▲', stop: '■' } as const;
	const find = new Find();
	let shelf = $state.raw<ShelfView | null>(null);
	let box = $state<HTMLInputElement | null>(null);
	$effect(() =>
		untrack(() => {
			find.wanted = wantedOf(new URLSearchParams(location.search));
			void find.look();
			box?.focus();
			void getShelf().then((outcome) => {
				if (outcome.kind === 'done') shelf = outcome.value;
			});
		})
	);

	function ask(): void {
		const query = queryOf(find.wanted);
		history.replaceState(history.state, '', query ? `/find?${query}` : '/find');
		find.soon();
	}
	const count = $derived(`${find.runs.length}${find.more ? ' or more' : ''}`);
</script>

<TopBar title="Find" place="runs and classes of your sections" />
<main id="main" tabindex="-1" class="page">
	<form role="search" onsubmit={(event) => (event.preventDefault(), void find.look())}>
		<div class="field words">
			<label for="find-words">Words: a name, a substance, a bench, a student, anything noted</label>
			<input
				id="find-words"
				type="search"
				bind:this={box}
				bind:value={find.wanted.words}
				oninput={ask}
				maxlength="200"
				autocomplete="off"
			/>
		</div>
		<div class="field">
			<label for="find-method">Method</label>
			<select id="find-method" bind:value={find.wanted.method} onchange={ask}>
				<option value="">any</option>
				{#each shelf?.methods ?? [] as method (method.name)}<option value={method.name}>{method.title}</option
					>{/each}
			</select>
		</div>
		<div class="field">
			<label for="find-state">How it stands</label>
			<select id="find-state" bind:value={find.wanted.state} onchange={ask}>
				{#each Object.entries(STATES) as [state, words] (state)}<option value={state}>{words}</option>{/each}
			</select>
		</div>
		<div class="field">
			<label for="find-since">From the day</label>
			<input id="find-since" type="date" bind:value={find.wanted.since} onchange={ask} />
			<span class="fault">{find.faults['since'] ?? ''}</span>
		</div>
		<div class="field">
			<label for="find-until">To the day</label>
			<input id="find-until" type="date" bind:value={find.wanted.until} onchange={ask} />
			<span class="fault">{find.faults['until'] ?? ''}</span>
		</div>
	</form>
	{#if find.trouble}<p class="fault" role="alert">{find.trouble}</p>{/if}
	{#if find.classes.length}
		<section aria-labelledby="classes">
			<h2 id="classes">Classes</h2>
			<ul>
				{#each find.classes as row (row.id)}
					<li class="class">
						<span class="when">{day(row.date)}</span>
						<strong>{row.title}</strong>
						<span class="quiet">{row.section}, {row.benches} {row.benches === 1 ? 'bench' : 'benches'}</span>
						<span class="ways">
							<a class="button" href="/desk/{row.id}/table">Table</a>
							<a class="button" href="/desk/{row.id}">Sheets</a>
						</span>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
	<section aria-labelledby="found-runs">
		<h2 id="found-runs">Runs</h2>
		<p class="quiet" role="status">
			{#if !find.asked}Looking …{:else if find.runs.length}{count} found, the latest first{:else}Nothing is
				found by that. Fewer words find more.{/if}
		</p>
		<ul>
			{#each find.runs as row (row.run.uuid)}
				{@const formula = row.run.answer.formula}
				<li>
					<a class="run" href="/runs/{row.run.uuid}">
						<span class="when">{day(row.run.date)}</span>
						<span class="bench">{row.run.bench}</span>
						<span class="title"
							><strong>{row.run.title}</strong><span class="quiet"
								>{row.run.method_title}{row.students.length ? `, ${row.students.join(', ')}` : ''}</span
							></span
						>
						<span class="answer"
							>{#if formula?.text && !formula.text.includes('->')}<Formula text={formula.text} plain />{/if}
							<span class="figure">{row.run.answer.headline ?? 'not yet'}</span></span
						>
						<span class="state {row.run.level ?? ''}"
							><span aria-hidden="true">{row.run.level ? SIGNS[row.run.level] : ''}</span>
							{row.run.answer.standing.word}</span
						>
					</a>
				</li>
			{/each}
		</ul>
		{#if find.more}<p>
				<button class="button" onclick={() => void find.look(true)}>Older ones</button>
			</p>{/if}
	</section>
	<TakeAway since={find.wanted.since} until={find.wanted.until} />
</main>

<style>
	main {
		display: grid;
		gap: 18px;
		align-content: start;
	}
	form {
		display: grid;
		grid-template-columns: repeat(4, minmax(0, 1fr));
		gap: 12px 16px;
	}
	.words {
		grid-column: 1 / -1;
	}
	.words input {
		font-size: 20px;
	}
	form .fault:empty {
		display: none;
	}
	h2 {
		font-size: 21px;
	}
	.run,
	.class {
		display: grid;
		grid-template-columns: 120px 90px minmax(0, 1.6fr) minmax(0, 1.2fr) 150px;
		align-items: center;
		gap: 4px 16px;
		min-height: 60px;
		padding: 6px 0;
		border-bottom: 1px solid var(--rule);
		color: var(--ink);
		text-decoration: none;
	}
	.class {
		grid-template-columns: 120px minmax(0, 1fr) minmax(0, 1fr) auto;
	}
	.run:hover strong {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.bench {
		font-family: var(--slab);
		font-weight: 600;
	}
	.title .quiet {
		display: block;
	}
	.answer {
		display: flex;
		flex-wrap: wrap;
		gap: 0 12px;
	}
	.good span {
		color: var(--settled);
	}
	.watch span {
		color: var(--watch);
	}
	.stop span {
		color: var(--stop);
	}
	@media (max-width: 1023px) {
		form {
			grid-template-columns: 1fr 1fr;
		}
		.run,
		.class {
			grid-template-columns: 110px minmax(0, 1fr) auto;
		}
		.answer {
			grid-column: 2;
		}
	}
	@media (max-width: 559px) {
		form,
		.run,
		.class {
			grid-template-columns: minmax(0, 1fr);
		}
		.answer {
			grid-column: 1;
		}
	}
</style>
