<script lang="ts">
	/* What the working and the log share: fetch the run, say when there is none, lead back to the bench. */
	import type { Snippet } from 'svelte';
	import { getRun, type RunView } from '../api/client';
	import { route } from '../router';
	import TrialLinks from '../trials/TrialLinks.svelte';
	import { chosenTrial, trialQuery } from '../trials/trial';
	import BackToBench from '../ui/BackToBench.svelte';
	import TopBar from '../ui/TopBar.svelte';

	/* `page` is the end of an address that there is one of for every trial */
	let {
		name,
		page = null,
		content
	}: { name: string; page?: string | null; content: Snippet<[RunView, () => Promise<void>]> } = $props();

	const uuid = $derived(route.params['uuid'] ?? '');
	const trial = $derived(chosenTrial());
	let run = $state<RunView | null>(null);
	let trouble = $state('');

	const several = $derived((run?.trials.length ?? 0) > 1);

	async function look(): Promise<void> {
		const outcome = await getRun(uuid, trial);
		if (outcome.kind === 'done') {
			run = outcome.value;
			trouble = '';
		} else trouble = outcome.title;
	}

	$effect(() => {
		void look();
	});
</script>

<TopBar
	title={run ? `${name}: ${run.title}` : name}
	place={run ? `Bench ${run.bench}${several && page !== null ? `, trial ${run.trial.label}` : ''}` : ''}
>
	<BackToBench href="/runs/{uuid}{trialQuery(trial)}" />
</TopBar>
{#if run && several && page !== null}<TrialLinks {run} {page} />{/if}
<main id="main" tabindex="-1" class="page">
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if run}{@render content(run, look)}{:else if !trouble}<p class="quiet" aria-busy="true">
			Fetching the run …
		</p>{/if}
</main>
