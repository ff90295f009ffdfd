<script lang="ts">
	/* One field that the server describes: a text, a choice, a number, yes or no; its help, or what is wrong with it. */
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

<div class={['field', { 'two-wide': field.wide }]}>
	{#if field.kind === 'yes-no'}
		<label class="check"
			><input
				type="checkbox"
				checked={value === true}
				onchange={(event) => set(event.currentTarget.checked)}
			/>
			{field.title}</label
		>
	{:else}
		<label for={id}>{field.title}</label>
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
	<p id="{id}-help" class={fault ? 'fault' : 'quiet help'}>{fault || field.help}</p>
	{#if fault && proposal}
		<button type="button" class="button take" onclick={take}>Take it</button>
	{/if}
</div>

<style>
	.check {
		display: flex;
		align-items: center;
		gap: 10px;
		min-height: 48px;
	}
	.check input {
		width: 24px;
		height: 24px;
		accent-color: var(--act);
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
