<script lang="ts">
	/* The room as a strip: barometer and temperature, who has which balance, what rests, when the last one is done. */
	import type { RoomStrip } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';

	let { room }: { room: RoomStrip } = $props();
</script>

<dl aria-label="The room">
	{#each room.readings as row (row.label)}
		<div>
			<dt>{row.label}</dt>
			<dd><b class="figure">{row.text}</b> <span class="quiet">{timeOfDay(row.at)}</span></dd>
		</div>
	{/each}
	{#each room.balances as row (row.name)}
		<div>
			<dt>{row.name}</dt>
			<dd>
				<b>{row.at || 'free'}</b>{#if row.waiting.length}, then {row.waiting.join(', ')}{/if}
			</dd>
		</div>
	{/each}
	{#each room.resting as row (row.place)}
		<div>
			<dt>In the {row.place}</dt>
			<dd><b>{row.benches.join(', ')}</b></dd>
		</div>
	{/each}
	{#if room.last_done_at}
		<div>
			<dt>Last bench done about</dt>
			<dd><b class="figure">{timeOfDay(room.last_done_at)}</b>, {room.last}</dd>
		</div>
	{/if}
</dl>

<style>
	dl {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 26px;
	}
	div {
		display: flex;
		align-items: baseline;
		gap: 8px;
	}
	dt {
		color: var(--ink);
	}
</style>
