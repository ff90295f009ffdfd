<script lang="ts">
	/* What an instructor decides of a sheet before it goes back: which version counts, and against which readings it is
	   marked where one was corrected after it came in. */
	import { timeOfDay } from '../ui/clock.svelte';
	import type { Marking } from './marking.svelte';

	let { marking }: { marking: Marking } = $props();

	const sheet = $derived(marking.chosen?.sheet);
	const settled = $derived(sheet?.given_back !== '');
</script>

{#if sheet && (sheet.versions.length || sheet.later.length)}
	<div class="decided">
		{#if sheet.versions.length}
			<p>Handed in {sheet.versions.length} times:</p>
			<ul>
				{#each sheet.versions as row (row.uuid)}
					<li>
						<button
							class="button"
							aria-pressed={row.counts}
							disabled={marking.busy || settled || row.counts}
							onclick={() => void marking.decide(row.uuid, 'counts')}
							>{timeOfDay(row.at)}: {row.marks} of {row.of}{row.counts ? ', counts' : ''}</button
						>
					</li>
				{/each}
			</ul>
		{/if}
		{#if sheet.later.length}
			<ul class="later">
				{#each sheet.later as line (line)}<li>{line}</li>{/each}
			</ul>
			<p>
				{sheet.against === 'then'
					? 'Marked against the readings that they had.'
					: 'Marked against the readings as corrected.'}
				{#if !settled}<button
						class="button"
						disabled={marking.busy}
						onclick={() => void marking.decide(sheet.uuid, sheet.against === 'then' ? 'now' : 'then')}
						>{sheet.against === 'then'
							? 'Mark against the corrected ones'
							: 'Mark against those that they had'}</button
					>{/if}
			</p>
		{/if}
	</div>
{/if}

<style>
	.decided {
		display: grid;
		gap: 8px;
		margin: 10px 0;
		padding: 10px 14px;
		border-left: 4px solid var(--watch);
		background: var(--raised);
	}
	ul:not(.later) {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	[aria-pressed='true'] {
		border-color: var(--settled);
		color: var(--settled);
		font-weight: 600;
		opacity: 1;
	}
	.later li {
		line-height: 1.3;
	}
	p .button {
		margin-left: 8px;
	}
</style>
