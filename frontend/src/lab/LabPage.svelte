<script lang="ts">
	/* The board: which bench to go to, every bench, all results on one scale, the room. */
	import { untrack } from 'svelte';
	import { who } from '../doors/who.svelte';
	import { route } from '../router';
	import { day, timeOfDay } from '../ui/clock.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import BenchCard from './BenchCard.svelte';
	import ClassScale from '../pictures/ClassScale.svelte';
	import GoNow from './GoNow.svelte';
	import { Lab } from './lab.svelte';
	import RoomLine from './RoomLine.svelte';
	import Say from './Say.svelte';

	const number = $derived(Number(route.params['number'] ?? 0));
	const lab = $derived.by(() => {
		const wanted = number;
		return untrack(() => new Lab(wanted));
	});
	$effect(() => {
		const feed = lab.feed;
		return untrack(() => feed.begin());
	});
	const board = $derived(lab.feed.board);
	const head = $derived(board?.head ?? null);
	const MANY_GUESSES = 5;
	const watched = $derived(who.is?.kind === 'board');
	const when = $derived(
		head
			? [
					day(head.date),
					head.begins && head.ends ? `${timeOfDay(head.begins)} to ${timeOfDay(head.ends)}` : '',
					head.code ? `code ${head.code.slice(0, 3)} ${head.code.slice(3)}` : ''
				]
					.filter(Boolean)
					.join(' · ')
			: ''
	);
	/* who is at the balance that a bench weighs at */
	function waits(name: string, balance: string): string {
		const held = board?.room?.balances.find((row) => row.name === balance);
		if (!held) return '';
		if (held.at === name) return `at ${balance}`;
		return held.waiting.includes(name) ? `waits for ${balance}, ${held.at} is there` : '';
	}
</script>

<TopBar title={head?.title ?? 'Lab'} place={when}>
	{#if lab.feed.away}<strong class="away" role="status">The server does not answer</strong>{/if}
</TopBar>
{#if lab.feed.refused}
	<main class="page" id="main" tabindex="-1">
		<p role="alert">{lab.feed.refused}</p>
		<p><a class="button" href="/">To the runs</a></p>
	</main>
{:else if !board}
	<main class="page" id="main" tabindex="-1" aria-busy="true">
		<p class="quiet">{lab.feed.away ? 'Trying again every few seconds.' : 'Fetching the class …'}</p>
	</main>
{:else}
	<main id="main" tabindex="-1" class:watched>
		{#if board.calls}
			<div class="go">
				<GoNow {lab} />
				<p><a class="button" href="/lab/{head?.id ?? 0}/round">A round: weigh every bench</a></p>
				<Say {lab} />
			</div>
		{/if}
		<div class="room">
			{#if head && head.guessed >= MANY_GUESSES}<p class="closed" role="status">
					{head.guessed} wrong codes in ten minutes: somebody mistypes the code, or guesses. A new one is on the
					<a href="/shelf">Shelf</a>; tablets that joined stay.
				</p>{/if}
			{#if head?.is_closed}<p class="closed">This class is closed: its tablets record nothing more.</p>{/if}
			{#if lab.feed.cards.length}
				<div class="cards" role="list" aria-label="Benches">
					{#each lab.feed.cards as card (card.bench)}
						<div role="listitem">
							<BenchCard {card} waits={waits(card.name, card.balance)} large={watched} linked={!watched} />
						</div>
					{/each}
				</div>
			{:else}
				<div class="empty">
					<p>No bench has a run in this class yet.</p>
					{#if !watched}<p>
							<a class="button act" href="/prepare">Prepare a class</a>
							<a class="button" href="/">Start a single run</a>
						</p>{/if}
				</div>
			{/if}
			{#if board.scale}<ClassScale scale={board.scale} />{/if}
			{#if board.messages?.length && watched}
				<p class="said">{board.messages[0]?.text}</p>
			{/if}
			{#if board.room}<div class="strip"><RoomLine room={board.room} /></div>{/if}
		</div>
	</main>
{/if}

<style>
	main:not(.page) {
		display: grid;
		grid-template-columns: 316px minmax(0, 1fr);
		min-height: calc(100dvh - 56px);
	}
	main.watched {
		grid-template-columns: minmax(0, 1fr);
	}
	.go {
		display: grid;
		align-content: start;
		gap: 24px;
		padding: 18px 18px 24px;
		border-right: 1px solid var(--rule);
	}
	.room {
		display: grid;
		align-content: start;
		gap: 18px;
		padding: 18px 20px 24px;
	}
	.cards {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(212px, 1fr));
		gap: 14px;
	}
	.cards > div {
		display: grid;
	}
	.watched .cards {
		grid-template-columns: repeat(auto-fill, minmax(min(100%, 400px), 1fr));
	}
	.watched .strip {
		font-size: 24px;
	}
	.strip {
		padding-top: 12px;
		border-top: 1px solid var(--rule);
	}
	.closed {
		color: var(--watch);
		font-weight: 600;
	}
	.empty {
		display: grid;
		gap: 16px;
		padding: 24px 0;
	}
	.said {
		font-family: var(--slab);
		font-size: 30px;
	}
	.away {
		color: var(--watch);
	}
	@media (max-width: 1023px) {
		main:not(.page) {
			grid-template-columns: minmax(0, 1fr);
		}
		/* where there is one column: who wants somebody, the benches, then what is said to them */
		.go {
			display: contents;
		}
		.go > :global(section) {
			padding: 18px 20px 0;
		}
		.go > :global(:not(:first-child)) {
			order: 2;
			padding-inline: 20px;
		}
		.go > :global(:last-child) {
			padding-bottom: 24px;
		}
	}
	@media (max-width: 459px) {
		.cards {
			grid-template-columns: minmax(0, 1fr);
		}
		.room,
		.go > :global(:nth-child(n)) {
			padding-inline: 12px;
		}
	}
</style>
