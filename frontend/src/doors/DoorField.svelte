<script lang="ts">
	/* A field at the door: large, with its help or its fault below. */
	import type { HTMLInputAttributes } from 'svelte/elements';

	let {
		id,
		label,
		value = $bindable(),
		fault,
		help = '',
		kind = 'text',
		autocomplete = 'off',
		first = false,
		big = false
	}: {
		id: string;
		label: string;
		value: string;
		fault: string;
		help?: string;
		kind?: 'text' | 'password';
		autocomplete?: HTMLInputAttributes['autocomplete'];
		/** It has the focus when the page opens. */
		first?: boolean;
		/** A code, typed with gloves. */
		big?: boolean;
	} = $props();

	function focusFirst(field: HTMLInputElement): void {
		if (first) requestAnimationFrame(() => field.focus());
	}
</script>

<div class="field">
	<label for={id}>{label}</label>
	<input
		{id}
		type={kind}
		class:big
		class:figure={big}
		bind:value
		{autocomplete}
		autocapitalize="none"
		spellcheck="false"
		aria-invalid={fault !== ''}
		aria-describedby="{id}-help"
		{@attach focusFirst}
	/>
	<p id="{id}-help" class={fault ? 'fault' : 'quiet'} aria-live="polite">{fault || help}</p>
</div>

<style>
	.big {
		min-height: 72px !important;
		font-size: 36px;
		letter-spacing: 0.14em;
		text-transform: uppercase;
	}
	p:empty {
		display: none;
	}
</style>
