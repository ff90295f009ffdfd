<script lang="ts">
	/* One line to type into: its label, and below it the help, or what is wrong with it. */
	let {
		id,
		label,
		value = $bindable(),
		fault,
		help = '',
		placeholder = '',
		typed = () => {}
	}: {
		id: string;
		label: string;
		value: string;
		fault: string;
		help?: string;
		placeholder?: string;
		/** Called with every keystroke. */
		typed?: (text: string) => void;
	} = $props();
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
</div>
