<script lang="ts">
	/* One field that the server describes: a text, a choice, a number, yes or no; its help, or what is wrong with it. */
	import BookOpen from '@lucide/svelte/icons/book-open';
	import { drawer } from './drawer.svelte';
	import type { OptionFieldSpec } from './options';

	let {
		field,
		id,
		value,
		fault,
		proposal = '',
		set
	}: {
		field: OptionFieldSpec;
		id: string;
		value: string | boolean | undefined;
		fault: string;
		/** What could stand there instead. */
		proposal?: string;
		set: (value: string | boolean) => void;
	} = $props();

	function take(): void {
		set(proposal);
		// what is mended is looked at, and typed on from
		document.getElementById(id)?.focus();
	}
</script>

<div class={['field', { 'two-wide': field.wide, 'has-desk': field.desk }]}>
	{#if field.kind === 'yes-no'}
		<label class="tick"
			><input
				type="checkbox"
				checked={value === true}
				onchange={(event) => set(event.currentTarget.checked)}
			/>
			{field.title}</label
		>
	{:else}
		<label for={id} id="{id}-title">{field.title}</label>
		{#if field.kind === 'choice'}
			<select {id} value={String(value)} onchange={(event) => set(event.currentTarget.value)}>
				{#each field.choices as choice (choice)}<option value={choice}
						>{field.words[choice] ?? choice.replaceAll('_', ' ')}</option
					>{/each}
			</select>
		{:else}
			<input
				{id}
				value={String(value ?? '')}
				oninput={(event) => set(event.currentTarget.value)}
				inputmode={field.kind === 'number' ? 'numeric' : 'text'}
				list={field.substance ? 'substances' : undefined}
				autocomplete="off"
				spellcheck="false"
				aria-invalid={fault !== ''}
				aria-describedby="{id}-help"
			/>
		{/if}
	{/if}
	{#if field.desk}
		{@const desk = field.desk}
		<button
			type="button"
			class="desk"
			aria-label="Look it up"
			aria-describedby="{id}-title"
			onclick={() => drawer.show(desk, String(value ?? ''), (found) => set(found), id)}
		>
			<BookOpen size={20} aria-hidden="true" />
		</button>
	{/if}
	<p id="{id}-help" class={fault ? 'fault' : 'quiet help'}>{fault || field.help}</p>
	{#if fault && proposal}
		<button type="button" class="button take" onclick={take}>Take it</button>
	{/if}
</div>

<style>
	.has-desk {
		position: relative;
	}
	.desk {
		display: grid;
		place-items: center;
		width: 48px;
		min-height: 48px;
		position: absolute;
		top: -12px;
		right: 0;
		color: var(--quiet);
		cursor: pointer;
	}
	.take {
		justify-self: start;
		margin-top: 4px;
	}
	.help {
		font-size: 16px;
		line-height: 1.3;
	}
</style>
