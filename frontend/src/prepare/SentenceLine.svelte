<script lang="ts">
	/* The class in one sentence; each underlined part opens its few choices below. */
	import { tick } from 'svelte';
	import Formula from '../ui/Sentence.svelte';
	import PartPanel from './PartPanel.svelte';
	import type { Prepare } from './prepare.svelte';
	import { NAMES } from './parts';

	let { prepare }: { prepare: Prepare } = $props();

	const parts = $derived(prepare.found?.sentence ?? []);
	const wrong = $derived(prepare.wrong.filter((row) => row.part !== prepare.open));

	function toggle(key: string): void {
		prepare.open = prepare.open === key ? '' : key;
	}

	/* back to the part that was open */
	async function close(): Promise<void> {
		const key = prepare.open;
		prepare.open = '';
		await tick();
		document.getElementById(`part-${key}`)?.focus();
	}
</script>

<section aria-label="The class in one sentence">
	<!-- without line breaks between them: they would be spaces of the sentence -->
	<p class="sentence" aria-busy={!parts.length}>
		{#each parts as part, index (part.key || index)}{#if part.key}<button
					type="button"
					id="part-{part.key}"
					class="part"
					class:wrong={prepare.wrongAt(part.key)}
					aria-expanded={prepare.open === part.key}
					aria-controls={prepare.open === part.key ? 'part-panel' : undefined}
					title={NAMES(part.key)}
					onclick={() => toggle(part.key)}><Formula text={part.text} /></button
				>{:else}{part.text}{/if}{/each}{#if !parts.length}<span class="quiet">Reading the shelf …</span>{/if}
	</p>
	{#if prepare.before}
		<p class="no-print">
			<button type="button" class="worded" onclick={() => prepare.lookBack()}
				>Back to what stood here before</button
			>
		</p>
	{/if}
	{#if wrong.length}
		<ul class="wrongs" aria-label="What is to be mended">
			{#each wrong as row (row.path + row.code)}
				<li>
					{#if row.part}<button type="button" class="mend" onclick={() => (prepare.open = row.part)}
							>{NAMES(row.part)}</button
						>{/if}
					<Formula text={row.message} />
				</li>
			{/each}
		</ul>
	{/if}
	{#if prepare.open}
		{#key prepare.open}<PartPanel {prepare} part={prepare.open} close={() => void close()} />{/key}
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 12px;
	}
	.sentence {
		max-width: 60ch;
		font-family: var(--slab);
		font-size: 25px;
		font-weight: 600;
		line-height: 1.72;
		text-wrap: pretty;
	}
	.part {
		display: inline;
		padding: 6px 3px 2px;
		border-bottom: 3px solid var(--act);
		font: inherit;
		text-align: left;
		cursor: pointer;
	}
	.part:hover,
	.part[aria-expanded='true'] {
		background: color-mix(in oklab, var(--act) 16%, transparent);
	}
	.part.wrong {
		border-bottom: 3px dashed var(--stop);
		color: var(--stop);
	}
	.wrongs {
		display: grid;
		gap: 2px;
		color: var(--stop);
		font-weight: 600;
	}
	.mend {
		min-height: 32px;
		margin-right: 6px;
		border-bottom: 2px dashed var(--stop);
		font-family: var(--slab);
		cursor: pointer;
	}
	.mend::first-letter {
		text-transform: uppercase;
	}
	@media (min-width: 1180px) {
		.sentence {
			max-width: none;
		}
	}
	@media (max-width: 699px) {
		.sentence {
			font-size: 21px;
			line-height: 1.8;
		}
	}
</style>
