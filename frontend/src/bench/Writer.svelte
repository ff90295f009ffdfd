<script lang="ts">
	/* Who of the bench writes on this device: the log says it beside each entry. */
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();
</script>

{#if bench.students.length}
	<label class="writer field">
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
	.writer select {
		max-width: 200px;
		font-size: inherit;
	}
	@media (max-width: 699px) {
		.writer select {
			max-width: 130px;
		}
	}
</style>
