<script lang="ts">
	/* One sheet, marked: line by line what was claimed, how it stands, and what the slip was. */
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import type { MarkedSheet } from '../api/client';
	import { saidOf } from './marking.svelte';

	/* `change` lets whoever marks give other marks; without it the sheet is one that was given back */
	let { sheet, change }: { sheet: MarkedSheet; change?: (line: string) => void } = $props();

	const first = $derived(sheet.lines.find((row) => row.name === sheet.first_wrong));
	const REMARKS: Record<string, string> = {
		'too-few-digits': 'fewer digits than are known',
		'too-many-digits': 'more digits than are known'
	};
	const isFormula = (text: string): boolean => /^[A-Z][A-Za-z0-9().·]*$/.test(text);
</script>

<ol>
	{#each sheet.lines as row (row.name)}
		{@const [sign, word, said] = saidOf(row)}
		<li class={row.status}>
			<span class="figure number" aria-hidden="true">{row.number || ''}</span>
			<span class="label"><Sentence text={row.label} /></span>
			<span class="figure claimed"
				>{#if isFormula(row.claimed)}<Formula
						text={row.claimed.replace(/\.(?=\d*[A-Z])/g, '·')}
					/>{:else}{row.claimed || '–'}{/if}</span
			>
			<span class="sign"><span aria-hidden="true">{sign}</span><span class="hidden-text">{word}</span></span>
			<span class="said"
				>{#if said}<Sentence text={said} />{/if}
				{#each row.remarks as remark (remark)}<span class="quiet"> {REMARKS[remark] ?? remark}</span>{/each}
				{#if row.note}<span class="note">{row.changed_by}: {row.note}</span>{/if}
				{#if row.worked && !change}<span class="figure worked"><Sentence text={row.worked} /></span
					>{/if}</span
			>
			{#if change}<button
					type="button"
					class="figure earned"
					class:changed={row.changed_by !== ''}
					aria-label="{row.marks} of {row.of} for {row.label}: change it"
					onclick={() => change(row.name)}>{row.marks} of {row.of}</button
				>
			{:else}<span class="figure earned">{row.marks} of {row.of}</span>{/if}
		</li>
	{/each}
</ol>
<p class="sum">
	<strong>{sheet.marks} of {sheet.of}</strong>
	<span
		>{#if first}First wrong line: <b>{first.number || first.label}</b>, {first.label}.{:else}Nothing went
			wrong on the way.{/if}</span
	>
</p>

<style>
	li {
		display: grid;
		grid-template-columns: 30px minmax(130px, 1fr) minmax(110px, 0.9fr) 34px minmax(0, 2.4fr) 62px;
		align-items: center;
		gap: 0 14px;
		min-height: 52px;
		padding: 4px 0;
		border-bottom: 1px solid var(--rule);
	}
	.number {
		color: var(--quiet);
		text-align: right;
	}
	.claimed {
		text-align: right;
		font-size: 19px;
		overflow-wrap: anywhere;
	}
	.sign {
		font-size: 22px;
		text-align: center;
	}
	.said {
		line-height: 1.25;
	}
	.right .sign {
		color: var(--settled);
	}
	.follows .sign,
	.follows .said {
		color: var(--watch);
	}
	.wrong .sign,
	.unit .sign,
	.wrong .said,
	.unit .said {
		color: var(--stop);
	}
	.earned {
		color: var(--quiet);
		font-size: 16px;
		white-space: nowrap;
	}
	button.earned {
		min-height: 44px;
		color: var(--ink);
		text-align: right;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
	.changed {
		font-weight: 700;
	}
	.note,
	.worked {
		display: block;
		padding-top: 2px;
		color: var(--ink);
	}
	.worked {
		font-size: 16px;
	}
	.sum {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 4px 24px;
		padding-top: 14px;
	}
	.sum strong {
		font-family: var(--slab);
		font-size: 30px;
	}
	@media (max-width: 899px) {
		li {
			grid-template-columns: 26px minmax(0, 1fr) auto 30px;
		}
		.said,
		.earned {
			grid-column: 2 / -1;
		}
		.earned {
			grid-row: 1;
			grid-column: 5;
		}
	}
	@media (max-width: 559px) {
		li {
			grid-template-columns: minmax(0, 1fr) auto 26px;
			gap: 0 10px;
		}
		.number,
		.earned {
			display: none;
		}
		.said {
			grid-column: 1 / -1;
		}
	}
</style>
