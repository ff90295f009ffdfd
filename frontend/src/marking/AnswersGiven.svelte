<script lang="ts">
	/* What was answered to the questions before and after, and what a replay says of it. */
	import type { GivenAnswer } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';
	import { saidOfAnswer } from './marking.svelte';

	let { answers }: { answers: GivenAnswer[] } = $props();
</script>

{#if answers.length}
	<h3>Questions</h3>
	<ul>
		{#each answers as row (`${row.place} ${row.number} ${row.student} ${row.trial}`)}
			{@const [sign, word] = saidOfAnswer(row)}
			<li class={row.verdict}>
				<span class="quiet ask"><Sentence text={row.ask} /></span>
				<span class="answer"><Sentence text={row.label} /></span>
				<span class="sign"><span aria-hidden="true">{sign}</span><span class="hidden-text">{word}</span></span
				>
				<span class="said"><Sentence text={row.said} /></span>
			</li>
		{/each}
	</ul>
{/if}

<style>
	h3 {
		padding-top: 18px;
		font-size: 19px;
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) 34px minmax(0, 1.6fr);
		gap: 0 14px;
		align-items: baseline;
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
		line-height: 1.3;
	}
	.sign {
		font-size: 20px;
		text-align: center;
	}
	.right .sign {
		color: var(--settled);
	}
	.wrong .sign,
	.wrong .said {
		color: var(--stop);
	}
	@media (max-width: 899px) {
		li {
			grid-template-columns: minmax(0, 1fr) 30px;
		}
		.ask,
		.said {
			grid-column: 1 / -1;
		}
	}
</style>
