<script lang="ts">
	/* What a desk asks for: one field, and what is wrong with it. */
	import Sentence from '../ui/Sentence.svelte';

	let {
		label,
		value,
		ask,
		fault,
		help,
		placeholder
	}: {
		label: string;
		value: string;
		ask: (text: string) => void;
		fault: string;
		help: string;
		placeholder: string;
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
		{placeholder}
		maxlength="1200"
		aria-invalid={fault !== ''}
		aria-describedby="asked-help"
	/>
	<p id="asked-help" aria-live="polite" class={fault ? 'fault' : 'quiet'}>
		{#if fault}<Sentence text={fault} />{:else}{help}{/if}
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
</style>
