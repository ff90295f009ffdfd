<script lang="ts">
	/* What the working and the log share: fetch the run, say when there is none, lead back to the bench. */
	import type { Snippet } from 'svelte';
	import { getRun, type RunView } from '../api/client';
	import { route } from '../router';
	import TopBar from '../ui/TopBar.svelte';

	let { name, content }: { name: string; content: Snippet<[RunView, () => Promise<void>]> } = $props();

	const uuid = $derived(route.params['uuid'] ?? '');
	let run = $state<RunView | null>(null);
	let trouble = $state('');

	async function look(): Promise<void> {
		const outcome = await getRun(uuid);
		if (outcome.kind === 'done') {
			run = outcome.value;
			trouble = '';
		} else trouble = outcome.title;
	}

	$effect(() => {
		void look();
	});
</script>

<TopBar title={run ? `${name}: ${run.title}` : name} place={run ? `Bench ${run.bench}` : ''}>
	<a class="button" href="/runs/{uuid}">Back to the bench</a>
</TopBar>
<main class="page">
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if run}{@render content(run, look)}{:else if !trouble}<p class="quiet" aria-busy="true">
			Fetching the run …
		</p>{/if}
</main>
