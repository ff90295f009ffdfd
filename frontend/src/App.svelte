<script lang="ts">
	import { Router } from 'sv-router';
	import { untrack } from 'svelte';
	import { SIGNED_OUT } from './api/client';
	import { REHEARSAL, rehearses } from './api/place';
	import { outbox } from './offline/outbox.svelte';
	import { who } from './doors/who.svelte';
	import { navigate, route } from './router';
	import { drawer } from './ui/drawer.svelte';

	const AT_THE_DOOR = ['/sign-in', '/join', '/board'];
	$effect(() =>
		untrack(() => {
			if (!AT_THE_DOOR.includes(location.pathname)) void who.look();
		})
	);

	/* a tablet stays at its bench, a projector at the board: there is nothing for them elsewhere */
	const OF_A_BENCH = /^\/($|runs\/|join$|sign-in$|formula$|equation$)/;
	const OF_THE_BOARD = /^\/(lab($|\/)|board$|join$|sign-in$)/;
	$effect(() => {
		const path = route.pathname;
		if (who.atBench && !OF_A_BENCH.test(path)) void navigate('/');
		else if (who.is?.kind === 'board' && !OF_THE_BOARD.test(path)) void navigate('/lab');
	});

	/* whatever page is open sends what waits on this device */
	$effect(() => untrack(() => outbox.begin()));

	$effect(() => {
		window.addEventListener(SIGNED_OUT, toTheDoor);
		return () => window.removeEventListener(SIGNED_OUT, toTheDoor);
	});

	/* what was typed is kept on this device; after signing in one is back where one was */
	function toTheDoor(): void {
		if (AT_THE_DOOR.includes(location.pathname)) return;
		const next = location.pathname + location.search;
		const door = who.atBench ? '/join' : '/sign-in';
		who.is = null;
		void navigate(door, next === '/' ? {} : { search: { next } });
	}
</script>

<Router base={rehearses ? REHEARSAL : undefined} />
{#if drawer.kind !== null}
	{#await import('./desk/DeskDrawer.svelte') then { default: DeskDrawer }}<DeskDrawer />{/await}
{/if}
