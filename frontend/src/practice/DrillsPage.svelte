<script lang="ts">
	/* Technique drills: a short question, drawn, and at once whether it was right and why. */
	import { untrack } from 'svelte';
	import { askDrill, getDrills, solveDrill, type DrillView, type SolvedView } from '../api/client';
	import TopBar from '../ui/TopBar.svelte';
	import DrillPicture from './DrillPicture.svelte';

	let kinds = $state.raw<{ name: string; title: string }[]>([]);
	let drill = $state.raw<DrillView | null>(null);
	let solved = $state.raw<SolvedView | null>(null);
	let said = $state('');
	let order = $state.raw<string[]>([]);
	let [right, asked] = $state([0, 0]);
	let fault = $state('');
	let busy = $state(false);
	let heading = $state<HTMLElement | null>(null);

	$effect(() => untrack(() => void begin()));
	async function begin(): Promise<void> {
		const outcome = await getDrills();
		if (outcome.kind === 'done') kinds = outcome.value.kinds;
		else fault = outcome.title;
		await next('meniscus');
	}

	async function next(kind: string): Promise<void> {
		const outcome = await askDrill(kind);
		if (outcome.kind !== 'done') {
			fault = outcome.title;
			return;
		}
		[drill, solved, said, fault] = [outcome.value, null, '', ''];
		order = [...outcome.value.offers];
		heading?.focus();
	}

	async function answer(text = said): Promise<void> {
		if (!drill || busy) return;
		busy = true;
		fault = '';
		const { kind, seed, answered } = drill;
		const outcome = await solveDrill({ kind, seed, said: text, order: answered === 'order' ? order : [] });
		busy = false;
		if (outcome.kind === 'done') {
			if (!solved) [right, asked] = [right + (outcome.value.right ? 1 : 0), asked + 1];
			solved = outcome.value;
		} else fault = outcome.kind === 'problem' ? (outcome.faults[0]?.message ?? outcome.title) : outcome.title;
	}

	function move(place: number, by: number): void {
		const rows = [...order];
		const [row] = rows.splice(place, 1);
		if (row === undefined) return;
		rows.splice(Math.max(0, place + by), 0, row);
		order = rows;
	}
</script>

<TopBar title="Drills" place={asked ? `${right} of ${asked} right` : 'short ones, with why'} />
<main class="page" id="main" tabindex="-1">
	<nav class="kinds" aria-label="Drills">
		{#each kinds as row (row.name)}
			<button
				class="button"
				class:chosen={row.name === drill?.kind}
				aria-pressed={row.name === drill?.kind}
				onclick={() => next(row.name)}>{row.title}</button
			>
		{/each}
	</nav>
	{#if drill}
		<section aria-label="Question">
			<h2 bind:this={heading} tabindex="-1">{drill.ask}</h2>
			<div class="asked">
				<DrillPicture {drill} />
				<div class="answer">
					{#if drill.answered === 'figure'}
						<form
							onsubmit={(event) => {
								event.preventDefault();
								void answer();
							}}
						>
							<div class="field">
								<label for="drill-said">As you read it, in {drill.unit}</label>
								<input
									id="drill-said"
									class="figure"
									bind:value={said}
									autocomplete="off"
									inputmode="decimal"
									aria-invalid={fault !== ''}
								/>
							</div>
							<button class="button act" disabled={busy || solved !== null}>That is it</button>
						</form>
					{:else if drill.answered === 'choice'}
						<div class="offers" role="group" aria-label="Answers">
							{#each drill.offers as row (row)}
								<button class="button" disabled={busy || solved !== null} onclick={() => answer(row)}
									>{row}</button
								>
							{/each}
						</div>
					{:else}
						<ol aria-label="Steps in order">
							{#each order as row, place (row)}
								<li>
									<span>{place + 1}. {row}</span>
									<button
										class="button small"
										disabled={place === 0 || solved !== null}
										aria-label="Earlier: {row}"
										onclick={() => move(place, -1)}>↑</button
									>
									<button
										class="button small"
										disabled={place === order.length - 1 || solved !== null}
										aria-label="Later: {row}"
										onclick={() => move(place, 1)}>↓</button
									>
								</li>
							{/each}
						</ol>
						<p>
							<button class="button act" disabled={busy || solved !== null} onclick={() => answer()}
								>In this order</button
							>
						</p>
					{/if}
					{#if fault}<p class="fault" role="alert">{fault}</p>{/if}
					<div role="status">
						{#if solved}
							<p class="verdict" class:right={solved.right}>
								{solved.right
									? 'Right.'
									: drill.answered === 'order'
										? 'Not so. In order:'
										: `Not so: ${solved.was}.`}
							</p>
							{#if drill.answered === 'order' && !solved.right}
								<ol class="was">
									{#each solved.was.split('; then ') as row (row)}<li>{row}</li>{/each}
								</ol>
							{/if}
							<p>{solved.why}</p>
						{/if}
					</div>
					{#if solved}<p>
							<button class="button act" onclick={() => next(drill?.kind ?? '')}>Next one</button>
						</p>{/if}
				</div>
			</div>
		</section>
	{:else}
		<p class="quiet" aria-busy="true">{fault || 'Fetching …'}</p>
	{/if}
	<p><a class="button" href="/practice">To Practice</a></p>
</main>

<style>
	.kinds,
	.offers {
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
	}
	.chosen {
		background: var(--ink);
		color: var(--paper);
	}
	section {
		display: grid;
		gap: 16px;
	}
	h2 {
		font-size: 24px;
		outline: none;
	}
	.asked {
		display: grid;
		grid-template-columns: minmax(0, auto) minmax(0, 1fr);
		gap: 20px 40px;
	}
	.answer,
	form {
		display: grid;
		align-content: start;
		justify-items: start;
		gap: 14px;
	}
	ol {
		display: grid;
		gap: 6px;
		list-style: none;
	}
	li {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.was {
		list-style: decimal inside;
	}
	.was li {
		display: list-item;
	}
	li span {
		flex: 1 1 320px;
	}
	.small {
		min-width: 48px;
		padding: 0;
	}
	.verdict {
		color: var(--watch);
		font-size: 20px;
		font-weight: 600;
	}
	.verdict.right {
		color: var(--settled);
	}
	@media (max-width: 699px) {
		.asked {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
