<script lang="ts">
	import { Router } from 'sv-router';
	import { untrack } from 'svelte';
	import { SIGNED_OUT } from './api/client';
	import { who } from './doors/who.svelte';
	import { navigate } from './router';
	import { drawer } from './ui/drawer.svelte';

	const AT_THE_DOOR = ['/sign-in', '/join', '/board'];
	$effect(() =>
		untrack(() => {
			if (!AT_THE_DOOR.includes(location.pathname)) void who.look();
		})
	);

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

<Router />
{#if drawer.kind !== null}
	{#await import('./desk/DeskDrawer.svelte') then { default: DeskDrawer }}<DeskDrawer />{/await}
{/if}
