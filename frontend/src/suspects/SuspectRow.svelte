<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import CircleIcon from '@lucide/svelte/icons/circle';
	import Minus from '@lucide/svelte/icons/minus';
	import X from '@lucide/svelte/icons/x';
	import type { ScaleLinear } from 'd3-scale';
	import type { Suspect, Suspicion } from '../api/client';

	let {
		row,
		found,
		x,
		width,
		chosen,
		choose
	}: {
		row: Suspect;
		found: Suspicion;
		x: ScaleLinear<number, number>;
		width: number;
		chosen: boolean;
		choose: () => void;
	} = $props();

	const SIGNS = {
		believable: Check,
		stretch: CircleIcon,
		'too-large': X,
		refuted: X,
		'not-this': X,
		'wrong-sign': X,
		none: Minus
	};
	const WORDS = {
		believable: 'believable',
		stretch: 'a stretch',
		'too-large': 'too large',
		refuted: 'refuted',
		'not-this': 'not this',
		'wrong-sign': 'wrong sign',
		none: 'no effect'
	};
	const Sign = $derived(SIGNS[row.standing]);
	const from = $derived(x(found.expected));
	const end = $derived(x(row.at_usual));
	const to = $derived(Math.min(width - 4, Math.max(4, end)));
	const way = $derived(to < from ? 1 : -1);
	const tip = $derived(Math.min(11, Math.abs(to - from)));
</script>

<tr class={row.standing} class:chosen>
	<th scope="row">
		<button onclick={choose} aria-pressed={chosen}>{row.label}</button>
		<span class="quiet">{row.reason}</span>
	</th>
	<td>
		<svg {width} height="48" role="img" aria-label="{row.usual_text} would make it {row.at_usual_text}">
			<line x1={x(found.measured)} x2={x(found.measured)} y1="0" y2="48" class="measured" />
			<line x1={from} x2={from} y1="0" y2="48" class="expected" />
			<line x1={from} x2={to + way * tip * 0.7} y1="24" y2="24" class="arrow" />
			{#if tip > 1}<path d="M{to} 24 l{way * tip} {-tip * 0.55} v{tip * 1.1} z" class="tip" />{/if}
			{#if to !== end}<path d="M{to + way * 24} 16 l-6 16 M{to + way * 32} 16 l-6 16" class="cut" />{/if}
		</svg>
	</td>
	<td class="figure">{row.dose_text || '—'}</td>
	<td class="so"><Sign size={22} strokeWidth={2.5} aria-hidden="true" /> {WORDS[row.standing]}</td>
</tr>

<style>
	th,
	td {
		padding: 4px 12px 4px 0;
		border-bottom: 1px solid var(--rule);
		text-align: left;
		vertical-align: middle;
	}
	th {
		font-weight: 400;
		line-height: 1.25;
	}
	th span {
		display: block;
		font-size: 16px;
	}
	button {
		min-height: 48px;
		font-weight: 600;
		text-align: left;
		cursor: pointer;
	}
	button::first-letter {
		text-transform: uppercase;
	}
	.chosen button {
		color: var(--act);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	svg {
		display: block;
	}
	.measured {
		stroke: var(--settled);
		stroke-width: 2;
	}
	.expected {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.arrow {
		stroke: var(--ink);
		stroke-width: 3.5;
	}
	.tip {
		fill: var(--ink);
	}
	.chosen .arrow {
		stroke: var(--act);
	}
	.chosen .tip {
		fill: var(--act);
	}
	.cut {
		stroke: var(--paper);
		stroke-width: 4;
	}
	.so {
		white-space: nowrap;
		font-weight: 600;
		color: var(--stop);
	}
	.so :global(svg) {
		display: inline;
		vertical-align: -5px;
	}
	.believable .so {
		color: var(--settled);
	}
	.stretch .so {
		color: var(--watch);
	}
	.none .so {
		color: var(--quiet);
	}
	@media (max-width: 560px) {
		tr {
			display: grid;
			grid-template-columns: 1fr auto;
			padding: 8px 0;
			border-bottom: 1px solid var(--rule);
		}
		th,
		td {
			padding: 0;
			border: 0;
		}
		th,
		td:has(svg[role='img']) {
			grid-column: 1 / -1;
		}
	}
</style>
