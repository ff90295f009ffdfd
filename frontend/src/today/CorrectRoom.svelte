<script lang="ts">
	/* A correction of the room's reading: it goes into every run that took it. */
	import type { RoomReadingView } from '../api/client';
	import CorrectSheet from '../ui/CorrectSheet.svelte';
	import type { Today } from './today.svelte';

	let { row, today }: { row: RoomReadingView; today: Today } = $props();

	const runs = $derived(row.runs === 1 ? 'One run gets' : `${row.runs} runs get`);
</script>

<CorrectSheet {row} send={(...typed) => today.correct(row, ...typed)}>
	{#snippet kept()}
		<span class="figure">{row.text} {row.unit}</span> stays in every log, struck through. {runs} the correction.
	{/snippet}
</CorrectSheet>
