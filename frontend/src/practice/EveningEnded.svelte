<script lang="ts">
	/* What was missed in a simulated class, and what it cost. */
	import type { EveningView } from '../api/client';
	import { REHEARSAL } from '../api/place';
	import Sentence from '../ui/Sentence.svelte';

	let { ended, view }: { ended: NonNullable<EveningView['ended']>; view: EveningView } = $props();
	const benches = (n: number): string => `${n} ${n === 1 ? 'bench' : 'benches'}`;
	const at = (minutes: number | null): string => (minutes === null ? '–' : `${minutes} min`);
</script>

<main class="page" id="main" tabindex="-1">
	<section aria-label="In short">
		<h2>
			{ended.off ? `${benches(ended.off)} came out off` : 'Every bench came out right'}{ended.missed
				? `; ${ended.missed} of them nobody went to`
				: ''}
		</h2>
		<p>
			{#if ended.saved}Being there in time saved {benches(ended.saved)}.{/if}
			The last bench is done after {ended.last_min} min; all together waited {ended.waited_min} min for a balance.
			{#if ended.with_one_more_min < ended.last_min}
				With one balance more the last would have been done after {ended.with_one_more_min} min.
			{:else}One balance more would have changed nothing: the queue is not what holds them up.{/if}
		</p>
	</section>
	<div class="wide">
		<table class="ruled">
			<thead>
				<tr>
					<th>Bench</th><th>Found</th><th>Really</th><th>Behind it</th><th>First sign</th><th
						>You were there</th
					>
					<th>Done</th>
				</tr>
			</thead>
			<tbody>
				{#each ended.benches as row (row.bench)}
					<tr>
						<th scope="row">{row.bench}</th>
						<td class="figure" class:off={row.off}
							>{row.result || 'nothing'}{#if row.off}<span class="word">&nbsp;off</span>{/if}</td
						>
						<td class="figure">{row.true}</td>
						<td
							>{row.behind || 'nothing'}{#if row.first_said}<span class="quiet said"
									><Sentence text={row.first_said} /></span
								>{/if}</td
						>
						<td class="figure">{at(row.first_sign_min)}</td>
						<td class="figure">{at(row.spoken_min)}</td>
						<td class="figure">{row.finish_min} min</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	<p class="ends">
		<a class="button act" href="/practice">To Practice</a>
		<a class="button" href="{REHEARSAL}/lab/{view.day}">The board as it stood</a>
		<span class="quiet">Seed {view.seed}: the same number is the same class.</span>
	</p>
</main>

<style>
	h2 {
		font-size: 24px;
	}
	.off {
		color: var(--watch);
		font-weight: 600;
	}
	.said {
		display: block;
		font-size: 16px;
	}
	td {
		vertical-align: top;
	}
	.figure,
	tbody th {
		vertical-align: top;
		white-space: nowrap;
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 12px;
	}
</style>
