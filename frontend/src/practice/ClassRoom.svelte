<script lang="ts">
	/* A simulated class: the clock above, the real board below; at the end what was missed and what it cost. */
	import { untrack } from 'svelte';
	import { REHEARSAL } from '../api/place';
	import { route } from '../router';
	import TopBar from '../ui/TopBar.svelte';
	import EveningEnded from './EveningEnded.svelte';
	import { Evening } from './evening.svelte';

	const uuid = $derived(route.params['uuid'] ?? '');
	const evening = $derived.by(() => {
		const wanted = uuid;
		return untrack(() => new Evening(wanted));
	});
	$effect(() => {
		const shown = evening;
		return untrack(() => shown.begin());
	});
	const view = $derived(evening.view);
	const fast = $derived((view?.pace ?? 0) > 0);
	const PACES = [
		['still', 'stands'],
		['fast', 'ten times faster']
	] as const;
</script>

<TopBar
	title="A rehearsal"
	place={view
		? `${Math.floor(view.minutes)} min in, ${view.benches} benches, ${view.balances} ${view.balances === 1 ? 'balance' : 'balances'}`
		: 'practice'}
/>
{#if evening.gone}
	<main class="page" id="main" tabindex="-1">
		<p>There is no such class here; it may be somebody else's.</p>
		<p><a class="button act" href="/practice">To Practice</a></p>
	</main>
{:else if !view}
	<main class="page" id="main" tabindex="-1" aria-busy="true">
		<p class="quiet">
			{evening.away ? 'The server does not answer. Trying again …' : 'The class comes in …'}
		</p>
	</main>
{:else if view.ended}
	<EveningEnded ended={view.ended} {view} />
{:else}
	<main id="main" tabindex="-1">
		<div class="clock">
			<span role="group" aria-label="Clock">
				<span class="quiet">Clock</span>
				{#each PACES as [pace, label] (pace)}
					<button
						class="pace"
						aria-pressed={fast === (pace === 'fast')}
						disabled={evening.busy}
						onclick={() => evening.pace(pace)}>{label}</button
					>
				{/each}
			</span>
			<button class="button" disabled={evening.busy} onclick={() => evening.on(5)}>5 min on</button>
			<button class="button" disabled={evening.busy} onclick={() => evening.end()}
				>End it: what was missed?</button
			>
			{#if evening.trouble}<span class="fault" role="alert">{evening.trouble}</span>{/if}
			{#if evening.away}<span class="fault" role="alert">The server does not answer; nothing is lost.</span
				>{/if}
		</div>
		<iframe title="The board of the class" src="{REHEARSAL}/lab/{view.day}"></iframe>
	</main>
{/if}

<style>
	main:not(.page) {
		display: grid;
		grid-template-rows: auto minmax(0, 1fr);
		height: calc(100dvh - 57px);
	}
	.clock {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px 20px;
		padding: 4px 24px;
		border-bottom: 1px solid var(--rule);
	}
	.pace {
		min-height: 48px;
		padding: 0 10px;
		border-bottom: 3px solid transparent;
		cursor: pointer;
	}
	.pace[aria-pressed='true'] {
		border-color: var(--act);
		font-weight: 600;
	}
	iframe {
		width: 100%;
		height: 100%;
		min-height: 520px;
		border: 0;
	}
</style>
