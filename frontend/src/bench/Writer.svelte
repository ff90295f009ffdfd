<script lang="ts">
	/* Who of the bench writes on this device: the log says it beside each entry. */
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();
</script>

{#if bench.students.length}
	<label class="writer">
		<span class="hidden-text">Who writes on this device</span>
		<select value={bench.writer} onchange={(event) => bench.write(event.currentTarget.value)}>
			<option value="">who writes?</option>
			{#each bench.students as name (name)}<option value={name}>{name} writes</option>{/each}
			{#if bench.writer && !bench.students.includes(bench.writer)}<option value={bench.writer}
					>{bench.writer} writes</option
				>{/if}
		</select>
	</label>
{/if}

<style>
	select {
		max-width: 200px;
		min-height: 48px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--raised);
		color: var(--ink);
		font: inherit;
	}
	@media (max-width: 699px) {
		select {
			max-width: 130px;
		}
	}
</style>
