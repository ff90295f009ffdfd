<script lang="ts">
	import { correctReading, type ReadingView, type RunView } from '../api/client';
	import { clock } from '../ui/clock.svelte';
	import CorrectSheet from '../ui/CorrectSheet.svelte';
	import { NOTHING, saidOf, type Said } from '../ui/said';

	let { run, row, done }: { run: RunView; row: ReadingView; done: () => Promise<void> } = $props();

	/* a slip of the finger needs no reason */
	const REASON_AFTER_MS = 30_000;
	const old = $derived(clock.now - Date.parse(row.at) > REASON_AFTER_MS);

	async function send(uuid: string, text: string, reason: string, confirmed: boolean): Promise<Said> {
		const body = { uuid, supersedes: row.uuid, text, reason, by: '', instrument: '', confirmed };
		const said = saidOf(await correctReading(run.uuid, body));
		if (said === NOTHING) await done();
		return said;
	}
</script>

<CorrectSheet {row} asksWhy={old} {send}>
	{#snippet kept()}<span class="figure">{row.text} {row.unit}</span> stays in the log, struck through.{/snippet}
</CorrectSheet>
