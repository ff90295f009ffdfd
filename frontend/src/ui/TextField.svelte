<script lang="ts">
	/* One line to type into: its label, and below it the help, or what is wrong with it. */
	let {
		id,
		label,
		value = $bindable(),
		fault,
		help = '',
		placeholder = '',
		proposal = '',
		typed = () => {}
	}: {
		id: string;
		label: string;
		value: string;
		fault: string;
		help?: string;
		placeholder?: string;
		/** What could stand there instead. */
		proposal?: string;
		/** Called with every keystroke. */
		typed?: (text: string) => void;
	} = $props();

	function take(): void {
		value = proposal;
		typed(proposal);
		document.getElementById(id)?.focus();
	}
</script>

<div class="field">
	<label for={id}>{label}</label>
	<input
		{id}
		bind:value
		oninput={(event) => typed(event.currentTarget.value)}
		{placeholder}
		autocomplete="off"
		spellcheck="false"
		aria-invalid={fault !== ''}
		aria-describedby="{id}-help"
	/>
	<p id="{id}-help" class={fault ? 'fault' : 'quiet'}>{fault || help}</p>
	{#if fault && proposal}<button type="button" class="button take" onclick={take}>Take it</button>{/if}
</div>

<style>
	.take {
		justify-self: start;
		margin-top: 4px;
	}
</style>
