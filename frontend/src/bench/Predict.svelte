<script lang="ts">
	/* What is expected, noted before anything is known: it stands beside the result later. */
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();

	let text = $state('');
	let by = $state('');
	let fault = $state('');

	async function note(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		fault = await bench.predict(text, by);
		if (!fault) text = by = '';
	}
</script>

<form onsubmit={note} novalidate>
	<h3>What do you expect?</h3>
	<div class="field">
		<label for="predicted">Figure or formula</label>
		<input
			id="predicted"
			bind:value={text}
			autocomplete="off"
			maxlength="60"
			aria-invalid={fault !== ''}
			aria-describedby="predicted-fault"
		/>
	</div>
	<div class="field">
		<label for="predicted-by">Who says so</label>
		<input id="predicted-by" bind:value={by} autocomplete="off" maxlength="40" />
	</div>
	<p class="fault" id="predicted-fault" aria-live="polite">{fault}</p>
	<button class="button">Note it before it is known</button>
</form>

<style>
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px 12px;
		padding-top: 12px;
		border-top: 1px solid var(--rule);
	}
	h3,
	.fault,
	.button {
		grid-column: 1 / -1;
	}
	h3 {
		font-size: 18px;
	}
	.field > label {
		font-weight: 400;
	}
	.fault:empty {
		display: none;
	}
</style>
