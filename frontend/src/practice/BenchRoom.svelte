<script lang="ts">
	/* A simulated bench: the apparatus and what can be done with it, and beside it the bench's page as in life. */
	import { untrack } from 'svelte';
	import { REHEARSAL } from '../api/place';
	import { route } from '../router';
	import { wide } from '../ui/sizes';
	import TopBar from '../ui/TopBar.svelte';
	import Apparatus from './Apparatus.svelte';
	import { note } from './beside';
	import Display from './Display.svelte';
	import { Practice } from './practice.svelte';
	import WhatItWas from './WhatItWas.svelte';

	const uuid = $derived(route.params['uuid'] ?? '');
	const practice = $derived.by(() => {
		const wanted = uuid;
		return untrack(() => new Practice(wanted));
	});
	$effect(() => {
		const shown = practice;
		return untrack(() => shown.begin());
	});
	const view = $derived(practice.view);
	const fast = $derived((view?.pace ?? 0) > 0);
	const VIEWS = { apparatus: 'Apparatus', page: 'Bench page', said: 'What it was' } as const;
	type View = keyof typeof VIEWS;
	let chosen = $state<View>('apparatus');
	const right = $derived(chosen === 'said' ? 'said' : 'page');
	let close = $state(false);
	let frame = $state<HTMLIFrameElement | null>(null);
	/* once answered, what it was is what one came for */
	let told = false;
	$effect(() => {
		if (view?.debrief && !told) {
			told = true;
			chosen = 'said';
		}
	});
	function takeDown(): void {
		if (!view?.seen?.figure) return;
		if (!wide.current || chosen === 'said') chosen = 'page';
		note(frame, view.seen.figure);
	}
	/* what dries is left overnight; what is heated is not */
	const dries = $derived(view?.offers.some((row) => row.act === 'dry' && row.value === 'oven') ?? false);
	const groups = $derived.by(() => {
		const rows = view?.offers ?? [];
		const names = rows.map((row) => row.group).filter((name, index, all) => all.indexOf(name) === index);
		return names.map((name) => [name, rows.filter((row) => row.group === name)] as const);
	});
	const minutes = $derived(view ? `${Math.floor(view.minutes)} min after it was set up` : '');
</script>

<TopBar title="The kettle's own bench" place={view ? `${view.title}, ${minutes}` : 'practice'} />
{#if practice.gone}
	<main class="page" id="main" tabindex="-1">
		<p>There is no such practice here; it may be somebody else's.</p>
		<p><a class="button act" href="/practice">Set up a bench</a></p>
	</main>
{:else if !view}
	<main class="page" id="main" tabindex="-1" aria-busy="true">
		<p class="quiet">{practice.away ? 'The server does not answer. Trying again …' : 'Setting it up …'}</p>
	</main>
{:else}
	<div class="views">
		<span class="clock" role="group" aria-label="Clock">
			<span class="quiet">Clock</span>
			{#each [['still', 'stands'], ['fast', 'ten times faster']] as [pace, label] (pace)}
				<button
					aria-pressed={fast === (pace === 'fast')}
					disabled={practice.busy}
					onclick={() => practice.do('pace', pace)}>{label}</button
				>
			{/each}
		</span>
		<span role="group" aria-label="What is shown">
			{#each Object.entries(VIEWS) as [name, title] (name)}
				{#if !(wide.current && name === 'apparatus')}
					<button
						aria-pressed={wide.current ? right === name : chosen === name}
						onclick={() => (chosen = name as View)}>{title}</button
					>
				{/if}
			{/each}
		</span>
	</div>
	<main id="main" tabindex="-1" class:wide={wide.current}>
		{#if wide.current || chosen === 'apparatus'}
			<section class="bench" aria-label="The bench">
				<p class="step">{view.step ? `The step at hand: ${view.step}` : 'All steps are done.'}</p>
				<div class="there">
					<Apparatus pictures={view.pictures} noticed={view.noticed} />
					<div class="read">
						{#if view.seen}
							<Display seen={view.seen} />
							<button
								class="button act"
								disabled={!view.seen.figure}
								aria-describedby="note-goes"
								onclick={takeDown}>Note this figure</button
							>
							<p class="quiet" id="note-goes">
								It comes into the field of the bench's page; Enter records it there.
							</p>
						{:else}
							<p class="quiet">This step reads nothing.</p>
						{/if}
					</div>
				</div>
				<div class="groups">
					{#each groups as [group, rows] (group)}
						<div class="acts" role="group" aria-label={group || 'What you can do'}>
							{#if group}<span class="quiet group" aria-hidden="true">{group}</span>{/if}
							{#each rows as row (`${row.act} ${row.value}`)}
								<button
									class="button"
									class:chosen={row.chosen}
									class:stopped={row.stopped !== ''}
									title={row.stopped || undefined}
									aria-pressed={group ? row.chosen : undefined}
									disabled={practice.busy}
									onclick={() => practice.do(row.act, row.value)}>{row.label}</button
								>
							{/each}
						</div>
					{/each}
				</div>
				<div class="acts" role="group" aria-label="Wait">
					<span class="quiet group" aria-hidden="true">Wait</span>
					{#each [1, 5, 15] as n (n)}
						<button class="button" disabled={practice.busy} onclick={() => practice.do('wait', String(n))}
							>{n} min</button
						>
					{/each}
					{#if view.timer_min !== null}
						<button
							class="button"
							disabled={practice.busy}
							onclick={() => practice.do('wait', String((view.timer_min ?? 0) + 0.02))}
							>Until the timer ends, {Math.ceil(view.timer_min)} min</button
						>
					{:else if dries}
						<button class="button" disabled={practice.busy} onclick={() => practice.do('wait', '960')}
							>Overnight, 16 h</button
						>
					{/if}
				</div>
				{#if view.closer.length}
					<p>
						<button class="button" aria-expanded={close} onclick={() => (close = !close)}>Look closer</button>
						{#if close}<span role="status">{view.closer.join(' ')}</span>{/if}
					</p>
				{/if}
				{#if practice.trouble}<p class="fault" role="alert">{practice.trouble}</p>{/if}
				{#if practice.away}<p class="fault" role="alert">The server does not answer; nothing is lost.</p>{/if}
				<p class="quiet caution">
					Nothing here is hot, and nothing here counts. At a real bench: eye protection, tongs, your local
					rules and your safety officer.
				</p>
			</section>
		{/if}
		<!-- the page stays as it is while something else is shown -->
		<section
			class="beside"
			class:hidden={wide.current ? right !== 'page' : chosen !== 'page'}
			aria-label="The bench's page"
		>
			<iframe bind:this={frame} title="The bench's page" src="{REHEARSAL}/runs/{view.run}"></iframe>
		</section>
		{#if chosen === 'said'}<WhatItWas
				{practice}
				toBench={() => (chosen = wide.current ? 'page' : 'apparatus')}
			/>{/if}
	</main>
{/if}

<style>
	main:not(.page) {
		display: grid;
		min-height: calc(100dvh - 110px);
	}
	main.wide {
		grid-template-columns: minmax(0, 1fr) minmax(520px, 46%);
	}
	.bench {
		display: grid;
		align-content: start;
		gap: 12px;
		padding: 14px 24px 24px;
	}
	.wide .bench {
		border-right: 1px solid var(--rule);
	}
	.step {
		font-family: var(--slab);
		font-size: 20px;
		font-weight: 600;
	}
	.there {
		display: grid;
		grid-template-columns: minmax(0, 5fr) minmax(260px, 4fr);
		gap: 12px 20px;
		align-items: end;
	}
	.read {
		display: grid;
		gap: 10px;
	}
	@media (max-width: 619px) {
		.there {
			grid-template-columns: minmax(0, 1fr);
		}
	}
	.groups {
		display: flex;
		flex-wrap: wrap;
		gap: 10px 28px;
	}
	.group {
		min-width: 52px;
	}
	.button.chosen {
		border-color: var(--ink);
		background: var(--ink);
		color: var(--paper);
	}
	.button.stopped {
		border-style: dashed;
		border-color: var(--quiet);
		color: var(--quiet);
	}
	.acts {
		align-items: center;
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
	}
	.beside {
		position: sticky;
		top: 0;
		display: grid;
		height: calc(100dvh - 108px);
		min-height: 560px;
	}
	.beside.hidden {
		display: none;
	}
	iframe {
		width: 100%;
		height: 100%;
		border: 0;
	}
	.views {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		justify-content: space-between;
		gap: 4px 16px;
		padding: 0 24px;
		border-bottom: 1px solid var(--rule);
	}
	.views button {
		min-height: 48px;
		padding: 0 14px;
		border-bottom: 3px solid transparent;
		cursor: pointer;
	}
	.views button[aria-pressed='true'] {
		border-color: var(--act);
		font-weight: 600;
	}
	.caution {
		font-size: 16px;
	}
</style>
