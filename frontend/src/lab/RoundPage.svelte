<script lang="ts">
	/* A round: the next reading of every bench, typed or pasted from one place. */
	import { tick, untrack } from 'svelte';
	import { route } from '../router';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import { pasted } from './pasted';
	import { Round, type Row } from './round.svelte';

	const number = $derived(Number(route.params['number'] ?? 0));
	const round = $derived.by(() => {
		const wanted = number;
		return untrack(() => new Round(wanted));
	});
	$effect(() => {
		const shown = round;
		untrack(() => void shown.look());
	});
	const typed = $derived(round.rows.filter((row) => row.typed.trim() && row.state === 'open').length);
	const done = $derived(round.rows.filter((row) => row.state !== 'open').length);
	const fieldOf = (index: number) => document.getElementById(`round-${index}`);

	async function enter(event: SubmitEvent, row: Row, index: number): Promise<void> {
		event.preventDefault();
		const kept = await row.record();
		await tick();
		if (!kept) return fieldOf(index)?.focus();
		const next = round.rows.findIndex((one, place) => place > index && one.state === 'open');
		const first = round.rows.findIndex((one) => one.state === 'open');
		(fieldOf(next >= 0 ? next : first) ?? document.getElementById('another-round'))?.focus();
	}

	function paste(event: ClipboardEvent, index: number): void {
		const text = event.clipboardData?.getData('text') ?? '';
		const names = round.rows.map((row) => row.asks.name);
		const found = pasted(text, names, index);
		// one figure goes where the cursor stands, as anywhere
		if (found.size < 2 && found.get(index) === text.trim()) return;
		event.preventDefault();
		for (const [place, figure] of found)
			if (round.rows[place]?.state === 'open') round.rows[place].type(figure);
	}

	async function confirm(row: Row, index: number): Promise<void> {
		await row.record(true);
		await tick();
		fieldOf(index + 1)?.focus();
	}
</script>

<TopBar title={round.title ? `Round: ${round.title}` : 'Round'} />
<main class="page" id="main" tabindex="-1">
	<p class="quiet">
		One reading of every bench. Enter records it and goes on; several lines may be pasted, with the bench's
		name before the figure or in the order below.
	</p>
	{#if round.trouble}
		<p class="fault" role="alert">{round.trouble}</p>
		<p><button class="button" onclick={() => void round.look()}>Try again</button></p>
	{/if}
	{#if round.loaded && !round.rows.length}
		<p>No bench has anything to read now.</p>
	{/if}
	<ol>
		{#each round.rows as row, index (row.asks.run)}
			<li class={row.state}>
				<form onsubmit={(event) => void enter(event, row, index)}>
					<label for="round-{index}">
						<strong class="name">{row.asks.name}</strong>
						<span class="quiet"><Sentence text={row.asks.label} plain /></span>
					</label>
					{#if row.state === 'open' || row.state === 'saving'}
						<span class="type field">
							<input
								id="round-{index}"
								class="figure"
								value={row.typed}
								readonly={row.state === 'saving'}
								oninput={(event) => row.type(event.currentTarget.value)}
								onpaste={(event) => paste(event, index)}
								inputmode="decimal"
								autocomplete="off"
								maxlength="60"
								aria-invalid={row.fault !== '' || row.doubt !== ''}
								aria-describedby="round-said-{index}"
							/>
							<span class="figure">{row.asks.unit}</span>
						</span>
					{:else}
						<span class="figure kept">{row.saved}</span>
					{/if}
					<span class="said" id="round-said-{index}" role="status">
						{#if row.state === 'saved'}<span class="good">✓ saved</span>
						{:else if row.state === 'waits'}<span class="wait">waits on this device</span>
						{:else if row.doubt}<span class="fault"><Sentence text={row.doubt} /></span>
							<button type="button" class="button" onclick={() => void confirm(row, index)}
								>{row.typed.trim()} {row.asks.unit} is what it shows</button
							>
						{:else if row.fault}<span class="fault">{row.fault}</span>
						{:else}<span class="quiet"><Sentence text={row.asks.expected} /></span>{/if}
					</span>
				</form>
			</li>
		{/each}
	</ol>
	<p class="acts">
		<button class="button act" disabled={!typed} onclick={() => void round.recordAll()}
			>{typed > 1 ? `Record all ${typed}` : 'Record it'}</button
		>
		<button id="another-round" class="button" disabled={!done} onclick={() => void round.look()}
			>Another round</button
		>
		<a class="button" href="/lab/{number || ''}">To the board</a>
	</p>
</main>

<style>
	ol {
		display: grid;
	}
	li {
		border-bottom: 1px solid var(--rule);
	}
	form {
		display: grid;
		grid-template-columns: minmax(150px, 250px) 250px minmax(0, 1fr);
		align-items: center;
		gap: 6px 24px;
		padding: 8px 0;
	}
	label {
		display: grid;
		line-height: 1.25;
	}
	.name {
		font-family: var(--slab);
		font-size: 21px;
	}
	.type {
		display: flex;
		align-items: center;
		gap: 10px;
	}
	.type input {
		width: 190px;
		min-height: 52px;
		font-size: 26px;
	}
	.kept {
		font-size: 26px;
	}
	.said {
		display: grid;
		gap: 8px;
		justify-items: start;
	}
	.good {
		color: var(--settled);
		font-weight: 600;
	}
	.wait {
		color: var(--watch);
		font-weight: 600;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
		padding-top: 8px;
	}
	@media (max-width: 899px) {
		form {
			grid-template-columns: minmax(0, 1fr) auto;
		}
		.said {
			grid-column: 1 / -1;
		}
	}
	@media (max-width: 459px) {
		form {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
