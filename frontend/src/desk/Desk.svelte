<script lang="ts" generics="Sheet">
	/* What the desks share: the field, what is wrong with it, below it the sheet of what was last understood. */
	import type { Snippet } from 'svelte';
	import Ask from './Ask.svelte';

	let {
		what,
		help,
		hint,
		placeholder,
		desk,
		content
	}: {
		what: string;
		help: string;
		hint: string;
		placeholder: string;
		desk: { typed: string; trouble: string; sheet: Sheet | null; ask: (text: string) => Promise<void> };
		content: Snippet<[Sheet]>;
	} = $props();
</script>

<div class="desk">
	<Ask
		label={what}
		value={desk.typed}
		ask={(text) => void desk.ask(text)}
		fault={desk.trouble}
		{help}
		{placeholder}
	/>
	{#if desk.sheet}
		{#if desk.trouble}<p class="quiet">Below: the last {what.toLowerCase()} that could be read.</p>{/if}
		<article>{@render content(desk.sheet)}</article>
	{:else if !desk.trouble}
		<p class="quiet">{hint}</p>
	{/if}
</div>

<style>
	.desk,
	article {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 20px;
	}
</style>
