<script lang="ts">
	/* What is left to be done when the class has gone: what is open, what dries and where, the waste of the day. */
	import { getDrying, type DryingView } from '../api/client';

	let { open }: { open: string[] } = $props();

	let found = $state.raw<DryingView | null>(null);
	let trouble = $state('');
	$effect(() => {
		void getDrying().then((outcome) => {
			if (outcome.kind === 'done') found = outcome.value;
			else trouble = outcome.title;
		});
	});
	const places = $derived.by(() => {
		const counted: Record<string, number> = {};
		for (const { rest } of found?.resting ?? []) {
			const place = rest.place || rest.waits_in;
			counted[place] = (counted[place] ?? 0) + 1;
		}
		return Object.entries(counted);
	});
</script>

<section aria-labelledby="afterwards">
	<h2 id="afterwards">Afterwards</h2>
	{#if open.length}<ul>
			{#each open as line (line)}<li>{line}</li>{/each}
		</ul>{/if}
	<p>
		{#if trouble}<span class="fault">What dries is not known: {trouble}</span>
		{:else if !found}<span class="quiet">Looking what dries …</span>
		{:else if places.length}{places.map(([place, count]) => `${count} in ${place}`).join(', ')}.
		{:else}Nothing stands and dries.{/if}
	</p>
	<p class="ways">
		<a class="button" href="/drying">What dries</a>
		<a class="button" href="/waste">Waste of the day</a>
	</p>
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		padding: 18px 16px 0;
	}
	h2 {
		font-size: 19px;
	}
	li {
		padding: 3px 0;
		line-height: 1.3;
	}
</style>
