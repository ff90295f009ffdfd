<script lang="ts">
	/* One bench on the board: its steps as a stair, what it does now, its timer, how it stands. */
	import type { CardView } from '../api/client';
	import { minutesAndSeconds, secondsLeft } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TimerRing from '../ui/TimerRing.svelte';
	import { isOver, lookOf } from './states';

	let {
		card,
		waits,
		large = false,
		linked = true
	}: { card: CardView; waits: string; large?: boolean; linked?: boolean } = $props();

	const state = $derived(lookOf(card));
	const over = $derived(isOver(card));
	/* what is cold is not waited for any more: then it is the balance's turn */
	const left = $derived.by(() => {
		if (!card.timer_ends_at || card.rests || card.doing === 'done') return null;
		const seconds = secondsLeft(card.timer_ends_at);
		return seconds > 0 || card.attended ? seconds : null;
	});
	const whole = $derived(
		card.timer_ends_at && card.timer_began_at
			? (Date.parse(card.timer_ends_at) - Date.parse(card.timer_began_at)) / 1000
			: 1
	);
	const share = $derived(left === null ? 0 : Math.min(1, Math.max(0, left / whole)));
	const says = $derived(
		card.asks || card.against
			? card.asks || card.against
			: card.doing === 'done'
				? card.headline
				: card.sign_off
					? `asks for sign-off: ${card.sign_off}`
					: card.rests
						? `stands in the ${card.rests}${card.place && `, ${card.place}`}`
						: waits || card.headline
	);
	const done = $derived(card.stair.filter((tread) => tread !== 'now' && tread !== 'ahead').length);
	const at = $derived(
		`${card.trials > 1 && card.doing !== 'done' ? `Trial ${card.trial}: ` : ''}${
			card.doing === 'new' ? 'not begun' : card.doing === 'done' ? 'done' : card.step
		}`
	);
</script>

<svelte:element
	this={linked ? 'a' : 'div'}
	href={linked ? `/runs/${card.run}` : undefined}
	class="card {state.look}"
	class:large
>
	<span class="head">
		<strong class="name">{card.name}</strong>
		{#if state.word}<span class="word"
				>{#if state.sign}<span aria-hidden="true">{state.sign}&nbsp;</span>{/if}{state.word}</span
			>{/if}
	</span>
	{#if card.students.length}<span class="quiet names">{card.students.join(', ')}</span>{/if}
	<span class="stair" role="img" aria-label="{done} of {card.stair.length} steps done">
		{#each card.stair as tread, index (index)}
			<span class={tread} style="height: {20 + (80 * (index + 1)) / card.stair.length}%"></span>
		{/each}
	</span>
	<span class="at quiet">{at}</span>
	<span class="says">
		{#if left !== null}
			<TimerRing {share} {over} size={large ? 96 : 52} />
			<span class="figure time" class:over>{over ? '+' : ''}{minutesAndSeconds(left)}</span>
		{:else}<span class="text"><Sentence text={says} plain /></span>{/if}
	</span>
	{#if left !== null && (card.asks || card.against)}<span class="text"
			><Sentence text={card.asks || card.against} plain /></span
		>{/if}
	{#if card.own}<span class="quiet"
			>own figures handed in{card.trials > 1 ? `: ${card.own} of ${card.trials} trials` : ''}</span
		>{/if}
	{#if card.others}<span class="quiet"
			>{card.others} {card.others === 1 ? 'other run' : 'other runs'} here</span
		>{/if}
</svelte:element>

<style>
	.card {
		display: grid;
		grid-template-rows: auto auto auto auto 1fr;
		gap: 6px;
		align-content: start;
		min-height: 196px;
		padding: 10px 14px 12px;
		border-top: 6px solid var(--rule);
		background: var(--raised);
		color: var(--ink);
		text-decoration: none;
	}
	a.card:hover .name {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		justify-content: space-between;
		gap: 0 10px;
	}
	.name {
		font-family: var(--slab);
		font-size: 24px;
		font-weight: 600;
	}
	.word {
		color: var(--tone);
		font-weight: 600;
	}
	.names {
		font-size: 15px;
	}
	.stair {
		display: flex;
		align-items: flex-end;
		gap: 2px;
		height: 30px;
	}
	.stair span {
		flex: 1;
		min-width: 3px;
		max-width: 22px;
		background: var(--rule);
	}
	.stair .done {
		background: var(--settled);
	}
	.stair .now {
		background: var(--act);
	}
	.stair .passed {
		background: repeating-linear-gradient(-45deg, var(--rule) 0 3px, var(--watch) 3px 5px);
	}
	.says {
		display: flex;
		align-items: center;
		gap: 14px;
		min-height: 56px;
	}
	.text {
		display: -webkit-box;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 3;
		line-clamp: 3;
		font-weight: 600;
		line-height: 1.25;
	}
	.time {
		font-size: 30px;
		font-weight: 600;
	}
	.time.over {
		color: var(--act);
	}
	.stop {
		--tone: var(--stop);
		border-color: var(--stop);
	}
	.watch {
		--tone: var(--watch);
		border-color: var(--watch);
	}
	.time:not(.figure) {
		--tone: var(--act);
		border-color: var(--act);
		font-size: inherit;
		font-weight: inherit;
	}
	.good {
		--tone: var(--settled);
		border-color: var(--settled);
	}
	.none {
		--tone: var(--quiet);
	}
	.out {
		--tone: var(--quiet);
		opacity: 0.7;
	}
	.large {
		gap: 10px;
		min-height: 340px;
		padding: 18px 24px 20px;
		border-top-width: 10px;
	}
	.large .name {
		font-size: 42px;
	}
	.large .time.figure {
		font-size: 84px;
	}
	.large :is(.at, .word, .text) {
		font-size: 28px;
	}
	.large .names {
		font-size: 22px;
	}
	.large .stair {
		height: 56px;
	}
	.large .stair span {
		max-width: 40px;
	}
</style>
