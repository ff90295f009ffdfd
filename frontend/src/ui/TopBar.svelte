<script lang="ts">
	import Menu from '@lucide/svelte/icons/menu';
	import Moon from '@lucide/svelte/icons/moon';
	import Sun from '@lucide/svelte/icons/sun';
	import type { Snippet } from 'svelte';
	import { beside, rehearses } from '../api/place';
	import { who } from '../doors/who.svelte';
	import { route } from '../router';
	import { clock, timeOfDay } from './clock.svelte';
	import { outbox } from '../offline/outbox.svelte';
	import { saidOfWaiting } from '../offline/queue';
	import { drawer, type DeskKind } from './drawer.svelte';
	import { wide } from './sizes';

	let { title, place = '', children }: { title: string; place?: string; children?: Snippet } = $props();

	const ROOMS = [
		['/lab', 'Lab'],
		['/desk', 'Desk'],
		['/', 'Runs'],
		['/today', 'Today'],
		['/prepare', 'Prepare'],
		['/practice', 'Practice'],
		['/drying', 'Clear up'],
		['/shelf', 'Shelf'],
		['/formula', 'Formulas'],
		['/equation', 'Equations']
	] as const;
	/* where a page has buttons of its own there is no room for all of them: what comes after the class is one step further */
	const shown = $derived(
		ROOMS.filter(([place]) =>
			who.sees ? who.sees.includes(place) : place !== '/desk' || !children || !wide.current
		)
	);
	/* a desk opens beside the page that is at work, and leaves it as it is */
	const DESKS: Record<string, DeskKind> = { '/formula': 'formula', '/equation': 'equation' };
	function visit(event: MouseEvent, address: string): void {
		open = false;
		const desk = DESKS[address];
		if (desk && route.pathname !== address) drawer.byLink(event, desk);
	}
	/* what was typed elsewhere and has not gone out is told on every page; a question first */
	const elsewhere = $derived(outbox.rows.filter((row) => route.pathname !== `/runs/${row.run}`));
	const first = $derived(elsewhere.find((row) => row.asked) ?? elsewhere[0]);
	function skip(event: MouseEvent): void {
		event.preventDefault();
		document.getElementById('main')?.focus();
	}
	let open = $state(false);
	let box = $state<HTMLElement | null>(null);
	let mode = $state(document.documentElement.getAttribute('data-mode') ?? 'light');

	function toggle(): void {
		mode = mode === 'dark' ? 'light' : 'dark';
		document.documentElement.setAttribute('data-mode', mode);
		try {
			localStorage.setItem('kettle-mode', mode);
		} catch {
			// private windows may keep nothing; the choice then lasts as long as the page
		}
	}
</script>

<svelte:head><title>{title} · Clay Kettle</title></svelte:head>

{#snippet rooms()}
	{#each shown as [address, name] (address)}<a
			href={address}
			aria-current={route.pathname === address
				? 'page'
				: address !== '/' && route.pathname.startsWith(`${address}/`)
					? 'true'
					: undefined}
			onclick={(event) => visit(event, address)}>{name}</a
		>{/each}
{/snippet}

<svelte:window
	onclick={(event) => (open &&= box?.contains(event.target as Node) ?? false)}
	onkeydown={(event) => {
		if (event.key !== 'Escape' || !open) return;
		open = false;
		box?.querySelector('button')?.focus();
	}}
/>

{#if rehearses}<p class="rehearsal no-print">Practice: nothing here counts</p>{/if}
<header>
	<a class="skip" href="#main" onclick={skip}>To the page</a>
	{#if who.atBench || beside}
		<span class="home"><img src="/mark.svg" alt="" width="34" height="34" /></span>
	{:else}
		<a
			class="home"
			href={who.is?.kind === 'board' ? '/lab' : '/'}
			aria-label={who.is?.kind === 'board' ? 'The board' : 'All runs'}
			><img src="/mark.svg" alt="" width="34" height="34" /></a
		>
	{/if}
	<div class="name">
		<h1 title={title.length > 30 ? title : undefined}>{title}</h1>
		<span class="quiet place">{place}</span>
	</div>
	<span class="right no-print">
		{#if first}
			<a class="unsent" href="/runs/{first.run}"
				>{saidOfWaiting(elsewhere)}{first.bench && `: ${first.bench}`}</a
			>
		{/if}
		{@render children?.()}
		{#if beside}<!-- in the frame of the simulated bench one stays at its page -->
		{:else if wide.current}
			<nav aria-label="Clay Kettle">{@render rooms()}</nav>
		{:else}
			<nav class="folded" aria-label="Clay Kettle" bind:this={box}>
				<button class="mode" aria-expanded={open} aria-label="Other pages" onclick={() => (open = !open)}>
					<Menu size={24} aria-hidden="true" />
				</button>
				{#if open}<div class="panel">{@render rooms()}</div>{/if}
			</nav>
		{/if}
		<span class="figure time">{timeOfDay(clock.now)}</span>
		<button class="mode" onclick={toggle} aria-label={mode === 'dark' ? 'Light colours' : 'Dark colours'}>
			{#if mode === 'dark'}<Sun size={22} />{:else}<Moon size={22} />{/if}
		</button>
	</span>
</header>

<style>
	header {
		display: flex;
		align-items: center;
		gap: 16px;
		min-height: 56px;
		padding: 4px 24px;
		border-bottom: 1px solid var(--rule);
	}
	.rehearsal {
		padding: 2px 24px;
		background: var(--band);
		color: var(--ink);
		font-size: 16px;
		font-weight: 600;
		text-align: center;
	}
	.home {
		display: grid;
		place-items: center;
		min-width: 48px;
		min-height: 48px;
		margin-left: -8px;
	}
	:global([data-mode='dark']) .home img {
		background: var(--dry);
		border-radius: 6px;
		padding: 2px;
	}
	.skip {
		position: absolute;
		z-index: 30;
		top: -80px;
		left: 8px;
		padding: 12px 18px;
		border-radius: 6px;
		background: var(--act);
		color: var(--on-act);
		font-weight: 600;
	}
	.skip:focus {
		top: 6px;
	}
	.name {
		display: flex;
		flex: 1 1 0;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 0 16px;
		min-width: 0;
	}
	h1 {
		/* however long the name, what stands on the right keeps its place */
		overflow: hidden;
		font-size: 21px;
		display: -webkit-box;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 2;
		line-clamp: 2;
		overflow-wrap: anywhere;
		line-height: 1.15;
	}
	.place {
		overflow: hidden;
		max-width: 100%;
		font-size: 16px;
		line-height: 1.2;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.right {
		display: flex;
		flex-shrink: 0;
		align-items: center;
		gap: 16px;
		white-space: nowrap;
	}
	nav {
		display: flex;
		gap: 4px;
	}
	nav a {
		display: grid;
		place-items: center;
		min-height: 48px;
		padding: 0 8px;
		border-bottom: 3px solid transparent;
		color: var(--ink);
		text-decoration: none;
	}
	nav a[aria-current] {
		border-color: var(--act);
		font-weight: 600;
	}
	nav a:hover {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.unsent {
		display: inline-grid;
		place-items: center;
		min-height: 48px;
		color: var(--watch);
		font-weight: 600;
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.folded {
		position: relative;
	}
	.panel {
		position: absolute;
		z-index: 30;
		top: 100%;
		right: 0;
		display: grid;
		min-width: 200px;
		padding: 8px;
		border: 1px solid var(--rule);
		border-radius: 8px;
		background: var(--raised);
		box-shadow: 0 8px 24px rgb(0 0 0 / 0.25);
	}
	.panel a {
		place-items: center start;
	}
	@media (max-width: 1179px) {
		.right {
			gap: 8px;
		}
	}
	@media (max-width: 699px) {
		header {
			gap: 8px;
			padding: 4px 12px;
		}
		h1 {
			font-size: 18px;
		}
		.time {
			display: none;
		}
		.right {
			gap: 4px;
		}
		.right :global(.button) {
			padding: 0 10px;
		}
	}
	.mode {
		display: grid;
		place-items: center;
		width: 48px;
		height: 48px;
		border-radius: 6px;
		cursor: pointer;
	}
</style>
