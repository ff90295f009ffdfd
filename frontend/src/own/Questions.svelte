<script lang="ts">
	/* Questions of the practical: each answer is kept as soon as it is left, and may be given anew. */
	import type { AskedQuestion } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';
	import { saidOfAnswer } from '../marking/marking.svelte';
	import { keyOf, type Own } from './own.svelte';

	let { own, place }: { own: Own; place: 'before' | 'after' } = $props();

	const TITLES = { before: 'Before the work', after: 'After the work' };
	const asked = $derived((own.found?.questions ?? []).filter((row) => row.place === place));
	const isKept = (row: AskedQuestion): boolean => own.answerTo(row)?.text === own.answered(row).trim();
</script>

{#if asked.length}
	<section aria-labelledby="questions-{place}">
		<h2 id="questions-{place}">{TITLES[place]}</h2>
		<ol>
			{#each asked as row (row.number)}
				{@const id = `${place}-question-${row.number}`}
				{@const given = own.answerTo(row)}
				{@const fault = own.amiss[keyOf(row)] ?? ''}
				<li>
					<label for={id}><Sentence text={row.ask} /></label>
					<span class="field">
						{#if row.kind === 'choice'}
							<select
								{id}
								value={own.answered(row)}
								onchange={(event) => {
									own.reply(row, event.currentTarget.value);
									void own.give(row);
								}}
								aria-invalid={fault !== ''}
								aria-describedby="{id}-said"
							>
								<option value="">choose one</option>
								{#each row.choices as one (one.value)}<option value={one.value}>{one.label}</option>{/each}
							</select>
						{:else if row.kind === 'number'}
							<input
								{id}
								class="figure"
								value={own.answered(row)}
								oninput={(event) => own.reply(row, event.currentTarget.value)}
								onchange={() => void own.give(row)}
								autocomplete="off"
								maxlength="80"
								aria-invalid={fault !== ''}
								aria-describedby="{id}-said"
							/>
						{:else}
							<textarea
								{id}
								rows="2"
								value={own.answered(row)}
								oninput={(event) => own.reply(row, event.currentTarget.value)}
								onchange={() => void own.give(row)}
								maxlength="2000"
								aria-invalid={fault !== ''}
								aria-describedby="{id}-said"
							></textarea>
						{/if}
					</span>
					<span class="said {given?.verdict ?? ''}" id="{id}-said" aria-live="polite">
						{#if fault}<span class="fault">{fault}</span>
						{:else if given && isKept(row)}
							{@const [sign, word] = saidOfAnswer(given)}
							{#if sign}<span class="sign" aria-hidden="true">{sign}</span>
								<span class="hidden-text">{word}</span>
							{:else}<span class="quiet">kept</span>{/if}
							{#if given.verdict !== 'open'}<Sentence text={given.said} />{/if}
						{/if}
					</span>
				</li>
			{/each}
		</ol>
	</section>
{/if}

<style>
	section {
		padding-bottom: 26px;
	}
	section[aria-labelledby='questions-after'] {
		padding-block: 26px 0;
	}
	h2 {
		font-size: 21px;
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) minmax(0, 1fr);
		gap: 4px 18px;
		align-items: center;
		min-height: 60px;
		padding-block: 6px;
		border-bottom: 1px solid var(--rule);
	}
	label {
		line-height: 1.3;
	}
	input,
	select,
	textarea {
		width: 100%;
		min-height: 48px;
	}
	.sign {
		font-size: 20px;
	}
	.right .sign {
		color: var(--settled);
	}
	.wrong {
		color: var(--stop);
	}
	.said {
		line-height: 1.3;
	}
	@media (max-width: 899px) {
		li {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
