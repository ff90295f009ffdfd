<script lang="ts">
	/* What a desk asks for: one field, what is wrong with it, and examples to tap. */
	import Sentence from '../ui/Sentence.svelte';

	let {
		label,
		value,
		ask,
		fault,
		help,
		examples
	}: {
		label: string;
		value: string;
		ask: (text: string) => void;
		fault: string;
		help: string;
		examples: string[];
	} = $props();
</script>

<div class="field">
	<label for="asked">{label}</label>
	<!-- the one thing to do on this page is to type here -->
	<!-- svelte-ignore a11y_autofocus -->
	<input
		id="asked"
		{value}
		oninput={(event) => ask(event.currentTarget.value)}
		autocomplete="off"
		autocapitalize="off"
		spellcheck="false"
		autofocus
		maxlength="1200"
		aria-invalid={fault !== ''}
		aria-describedby="asked-help"
	/>
	<p id="asked-help" aria-live="polite" class={fault ? 'fault' : 'quiet'}>
		{#if fault}<Sentence text={fault} />{:else}{help}{/if}
	</p>
	<p class="examples">
		<span class="quiet">For example</span>
		{#each examples as example (example)}
			<button onclick={() => ask(example)}>{example.replace('->', '→')}</button>
		{/each}
	</p>
</div>

<style>
	input {
		min-height: 60px;
		font-family: var(--slab);
		font-size: 26px;
	}
	p {
		overflow-wrap: anywhere;
	}
	.examples {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
	}
	button {
		min-height: 48px;
		padding: 0 14px;
		border: 1.5px solid var(--rule);
		border-radius: 24px;
		font-family: var(--slab);
		cursor: pointer;
	}
</style>
