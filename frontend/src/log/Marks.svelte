<script lang="ts">
	/* What was marked of the steps: done, skipped with its reason, begun, given more time. */
	import { getMarks, type MarksView, type RunView } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';
	import { timeOfDay } from '../ui/clock.svelte';

	let { run }: { run: RunView } = $props();

	const WORDS = { done: 'done', skipped: 'skipped', started: 'begun', extended: 'more time' };
	let view = $state<MarksView | null>(null);
	$effect(() => {
		/* asked again whenever the run changed */
		const uuid = run.version && run.uuid;
		if (uuid) void getMarks(uuid).then((outcome) => outcome.kind === 'done' && (view = outcome.value));
	});
</script>

<section aria-labelledby="marks">
	<h2 id="marks">Steps</h2>
	<ul>
		{#each view?.marks ?? [] as mark, index (index)}
			<li>
				<span class="figure quiet">{timeOfDay(mark.at)}</span>
				{#if run.trials.length > 1}Trial {mark.trial}:{/if}
				<svelte:element this={mark.taken_back ? 's' : 'span'}
					><Sentence text={mark.title} plain />,
					<span class={mark.kind}>{WORDS[mark.kind]}{mark.reason ? `: ${mark.reason}` : ''}</span
					></svelte:element
				>
				{#if mark.taken_back}<span class="quiet">{mark.taken_back}</span>{/if}
				<span class="quiet">{mark.by}</span>
			</li>
		{:else}
			<li class="quiet">{view ? 'No step was marked.' : 'Reading the steps …'}</li>
		{/each}
	</ul>
</section>

<style>
	h2 {
		margin-bottom: 8px;
		font-size: 22px;
	}
	li {
		padding: 3px 0;
	}
	.skipped {
		color: var(--watch);
		font-weight: 600;
	}
</style>
