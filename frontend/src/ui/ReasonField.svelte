<script lang="ts">
	/* Why something is otherwise than it was: usual reasons are offered, any other is typed. */
	let {
		id,
		label,
		value = $bindable(),
		reasons,
		fault,
		typed
	}: {
		id: string;
		label: string;
		value: string;
		reasons: string[];
		fault: string;
		/** Called with every keystroke. */
		typed: () => void;
	} = $props();
</script>

<div class="field">
	<label for={id}>{label}</label>
	<input
		{id}
		bind:value
		oninput={typed}
		list="{id}-reasons"
		maxlength="500"
		autocomplete="off"
		aria-invalid={fault !== ''}
		aria-describedby="{id}-said"
	/>
	<datalist id="{id}-reasons"
		>{#each reasons as one (one)}<option value={one}></option>{/each}</datalist
	>
	<p id="{id}-said" class="fault" aria-live="polite">{fault}</p>
</div>
