<script lang="ts">
	/* Nothing to type for now: the mass is constant, or every reading is taken. */
	import type { RunView } from '../api/client';

	let { run, again }: { run: RunView; again?: () => void } = $props();

	const ROUNDS: Record<string, string> = { heating: 'Heat', drying: 'Dry' };
	const signed = $derived([
		...new Set(run.signatures.filter((row) => row.later === 0).map((row) => row.name))
	]);
	/* two weighings that agree because nothing lies between them prove nothing */
	const unproven = $derived(run.trial.verdicts.some((row) => row.code === 'no-heating-between'));
</script>

<div class="rest" class:unproven>
	{#if again}
		<p>
			<strong>{unproven ? 'Weighed twice, with nothing in between.' : 'Constant mass.'}</strong>
			<span class="quiet">{unproven ? '' : 'In doubt? A flat mass does not prove that it is done.'}</span>
		</p>
		<button class="button" onclick={again}>{ROUNDS[run.round] ?? 'Fill'} and weigh once more</button>
	{:else}
		<p>
			<strong>All readings are taken.</strong>
			{#if signed.length}<br />Signed by {signed.join(' and ')}.{/if}
		</p>
		<a class="button" href="/runs/{run.uuid}/log#sign">Sign the record</a>
	{/if}
</div>

<style>
	.rest {
		display: grid;
		grid-template-columns: 1fr auto;
		align-items: center;
		gap: 0 18px;
	}
	.unproven strong {
		color: var(--watch);
	}
</style>
