<script lang="ts">
	/* Where a class goes on: the same benches on another day. */
	import { addSession, dropSession, type LaidOutView, type Outcome } from '../api/client';
	import { day } from '../ui/clock.svelte';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';

	let { found, take }: { found: LaidOutView; take: (outcome: Outcome<LaidOutView>) => void } = $props();

	const WEEK_MS = 7 * 24 * 3600 * 1000;
	const last = $derived(found.sessions.at(-1)?.date ?? found.date);
	let open = $state(false);
	let typed = $state({ date: '', starts: '', length: '' });
	let said = $state.raw<Said>(NOTHING);
	const FIELDS = [
		['date', 'On which day'],
		['starts', 'Begins at'],
		['length', 'Lasts']
	] as const;

	function begin(): void {
		const week = new Date(Date.parse(`${last}T12:00:00`) + WEEK_MS).toISOString().slice(0, 10);
		typed = { date: week, starts: found.starts, length: String(found.plan['length'] ?? '') };
		said = NOTHING;
		open = true;
	}
	async function add(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const outcome = await addSession(found.id, typed);
		said = saidOf(outcome);
		if (outcome.kind !== 'done') return focusFault();
		open = false;
		take(outcome);
	}
</script>

<section class="no-print" aria-labelledby="sessions">
	<h2 id="sessions">Goes on</h2>
	{#if found.sessions.length}
		<ul>
			{#each found.sessions as row (row.date)}
				<li>
					<span>{day(row.date)}, <span class="figure">{row.starts}</span>, {row.length_min} min</span>
					<button
						type="button"
						class="button"
						aria-label="Not then: {day(row.date)}"
						onclick={async () => take(await dropSession(found.id, row.date))}>Not then</button
					>
				</li>
			{/each}
		</ul>
	{:else if !open}<p class="quiet">In one session. What dries over night can be weighed in another.</p>{/if}
	{#if open}
		<form novalidate onsubmit={add}>
			{#each FIELDS as [name, label] (name)}
				<div class="field">
					<label for="session-{name}">{label}</label>
					<input
						id="session-{name}"
						bind:value={typed[name]}
						autocomplete="off"
						maxlength="60"
						aria-invalid={faultAt(said, name) !== ''}
						aria-describedby="session-{name}-fault"
					/>
					<span class="fault" id="session-{name}-fault" aria-live="polite">{faultAt(said, name)}</span>
				</div>
			{/each}
			{#if said.trouble}<p class="fault" role="alert">{said.trouble}</p>{/if}
			<p class="ends">
				<button class="button act">It goes on then</button>
				<button type="button" class="button" onclick={() => (open = false)}>Leave it</button>
			</p>
		</form>
	{:else}<p><button type="button" class="button" onclick={begin}>Another session</button></p>{/if}
</section>

<style>
	section,
	form {
		display: grid;
		gap: 10px;
	}
	section {
		padding-top: 8px;
	}
	h2 {
		font-size: 20px;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px 18px;
		min-height: 52px;
	}
	form {
		grid-template-columns: repeat(auto-fill, minmax(min(180px, 100%), 240px));
		align-items: start;
	}
	.ends {
		display: flex;
		gap: 10px;
		grid-column: 1 / -1;
	}
	.fault:empty {
		display: none;
	}
</style>
