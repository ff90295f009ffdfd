<script lang="ts">
	import { Router } from 'sv-router';
	import './router';
	import { drawer } from './ui/drawer.svelte';
</script>

<Router />
{#if drawer.kind !== null}
	{#await import('./desk/DeskDrawer.svelte') then { default: DeskDrawer }}<DeskDrawer />{/await}
{/if}
