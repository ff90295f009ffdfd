<script lang="ts">
	import Moon from '@lucide/svelte/icons/moon';
	import Sun from '@lucide/svelte/icons/sun';
	import type { Snippet } from 'svelte';
	import { clock, timeOfDay } from './clock.svelte';

	let { title, place = '', children }: { title: string; place?: string; children?: Snippet } = $props();

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

<header>
	<a class="home" href="/" aria-label="All runs"><img src="/mark.svg" alt="" width="34" height="34" /></a>
	<h1>{title}</h1>
	<span class="quiet place">{place}</span>
	<span class="right no-print">
		{@render children?.()}
		<nav aria-label="Clay Kettle">
			<a href="/">Runs</a><a href="/today">Today</a><a href="/plan">Plan</a><a href="/drying">Clear up</a><a
				href="/formula">Formulas</a
			><a href="/equation">Equations</a>
		</nav>
		<span class="figure">{timeOfDay(clock.now)}</span>
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
	h1 {
		min-width: 0;
		font-size: 21px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.place {
		white-space: nowrap;
	}
	.right {
		display: flex;
		align-items: center;
		gap: 16px;
		margin-left: auto;
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
		color: var(--ink);
		text-decoration: none;
	}
	nav a:hover {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	@media (max-width: 900px) {
		/* a title that leaves no room for what stands on the right gets a line of its own */
		header {
			flex-wrap: wrap;
			row-gap: 0;
		}
		h1 {
			flex-shrink: 0;
			max-width: calc(100% - 72px);
		}
		.place {
			display: none;
		}
		.right {
			flex-wrap: wrap;
			justify-content: flex-end;
			gap: 4px 8px;
		}
		nav {
			gap: 0;
		}
		nav a {
			padding: 0 5px;
			font-size: 17px;
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
