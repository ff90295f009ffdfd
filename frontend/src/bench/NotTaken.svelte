<script lang="ts">
	/* The reading that the field asks for was not taken: why, and the run goes on another way. */
	import type { EntryView } from '../api/client';
	import AskWhy from './AskWhy.svelte';
	import type { Bench } from './bench.svelte';

	let { bench, entry, focus }: { bench: Bench; entry: EntryView; focus: () => void } = $props();

	const REASONS = ['forgotten', 'spilled', 'broken', 'no instrument for it'];

	let asking = $state(false);
	let fault = $state('');
	/* asked of one reading: another one that is due closes it */
	const place = $derived(`${entry.slot} ${entry.position}`);
	$effect(() => {
		if (place) close();
	});

	function close(): void {
		asking = false;
		fault = '';
	}

	async function say(reason: string): Promise<void> {
		fault = await bench.leave(entry.slot, entry.position, reason);
		if (fault) return;
		close();
		focus();
	}
</script>

{#if asking}
	<AskWhy
		id="not-taken-reason"
		label="Why was it not taken?"
		act="Go on without it"
		reasons={REASONS}
		{fault}
		say={(reason) => void say(reason)}
		leave={() => {
			close();
			focus();
		}}
	/>
{:else}
	<button type="button" class="plain" onclick={() => (asking = true)}
		>{entry.position > 1 ? 'No more of these …' : 'Not taken …'}</button
	>
{/if}

<style>
	.plain {
		min-height: 48px;
		padding: 0 4px;
		font-size: 16px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
</style>
