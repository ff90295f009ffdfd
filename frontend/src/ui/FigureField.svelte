<script lang="ts">
	/* What a reading should say: its digits, and below them what is wrong with them. */
	let {
		id,
		unit,
		value = $bindable(),
		fault,
		typed
	}: {
		id: string;
		unit: string;
		value: string;
		fault: string;
		/** Called with every keystroke. */
		typed: () => void;
	} = $props();
</script>

<div class="field">
	<label for={id}>What it should say, in {unit}</label>
	<!-- opened to type the right figure -->
	<!-- svelte-ignore a11y_autofocus -->
	<input
		{id}
		class="figure"
		bind:value
		oninput={typed}
		inputmode="decimal"
		autocomplete="off"
		autofocus
		aria-invalid={fault !== ''}
		aria-describedby="{id}-said"
	/>
	<p id="{id}-said" class="fault" aria-live="polite">{fault}</p>
</div>
