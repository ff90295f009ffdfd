<script lang="ts">
	/* A word to one bench or to all, and what was said; more time for the class. */
	import { timeOfDay } from '../ui/clock.svelte';
	import type { Lab, Reveal } from './lab.svelte';

	let { lab }: { lab: Lab } = $props();

	let text = $state('');
	let bench = $state('');
	const messages = $derived(lab.feed.board?.messages ?? []);
	const head = $derived(lab.feed.board?.head ?? null);

	let fault = $state('');
	/* whoever ends a class is asked once */
	let sure = $state(false);

	const REVEALS: Record<Reveal, string> = {
		always: 'at once',
		after_own_figures: 'after their own figures',
		when_closed: 'not yet'
	};

	async function say(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		fault = await lab.say(text, bench ? Number(bench) : null);
		if (!fault) text = '';
	}
	async function reveal(chosen: string): Promise<void> {
		fault = await lab.reveal(chosen as Reveal);
	}
	async function end(ended: boolean): Promise<void> {
		sure = false;
		fault = await lab.end(ended);
	}
	async function extend(minutes: number): Promise<void> {
		fault = await lab.extend(minutes);
	}
</script>

<section aria-labelledby="say">
	<h2 id="say">Say to the benches</h2>
	<form onsubmit={say}>
		<div class="field">
			<label class="hidden-text" for="say-to">To whom</label>
			<select id="say-to" bind:value={bench}>
				<option value="">to all benches</option>
				{#each lab.feed.cards as card (card.bench)}<option value={String(card.bench)}>to {card.name}</option
					>{/each}
			</select>
		</div>
		<div class="field">
			<label class="hidden-text" for="say-text">What is to be said</label>
			<input id="say-text" placeholder="Wash-up at ten to" bind:value={text} maxlength="400" />
		</div>
		<button class="button" disabled={!text.trim()}>Say it</button>
	</form>
	{#if head}
		<div class="field">
			<label for="reveal">Benches see the answers</label>
			<select id="reveal" value={head.reveal} onchange={(event) => void reveal(event.currentTarget.value)}>
				{#each Object.entries(REVEALS) as [name, words] (name)}<option value={name}>{words}</option>{/each}
			</select>
		</div>
	{/if}
	{#if fault}<p class="fault" role="alert">{fault}</p>{/if}
	{#if messages.length}
		<ul aria-label="What was said">
			{#each messages.slice(0, 3) as row (row.id)}
				<li><span class="quiet">{timeOfDay(row.at)} {row.bench || 'all'}:</span> {row.text}</li>
			{/each}
		</ul>
	{/if}
	{#if head?.is_planned && !head.is_closed}
		<p class="more">
			<span
				>Ends <b class="figure">{timeOfDay(head.ends)}</b>{#if head.more_min}, {head.more_min} min added{/if}</span
			>
			<button class="button" onclick={() => void extend(head.more_min + 10)}>10 min more</button>
			{#if head.more_min}<button class="button" onclick={() => void extend(Math.max(0, head.more_min - 10))}
					>10 min less</button
				>{/if}
		</p>
	{/if}
	{#if head?.is_closed}
		<p><button class="button" onclick={() => void end(false)}>Open the class again</button></p>
	{:else if head && sure}
		<p class="more">
			<span>Its tablets record nothing more then.</span>
			<button class="button act" onclick={() => void end(true)}>End it now</button>
			<button class="button" onclick={() => (sure = false)}>Not yet</button>
		</p>
	{:else if head}
		<p><button class="button" onclick={() => (sure = true)}>End the class</button></p>
	{/if}
</section>

<style>
	section,
	form {
		display: grid;
		gap: 8px;
	}
	h2 {
		font-size: 18px;
	}
	li {
		padding: 3px 0;
		overflow-wrap: anywhere;
	}
	.more {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
	}
</style>
