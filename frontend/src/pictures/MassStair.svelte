<script lang="ts">
	import { scaleLinear } from 'd3-scale';
	import type { EntryView, Tread } from '../api/client';
	import Pan from './Pan.svelte';

	let { treads: all, next }: { treads: Tread[]; next: EntryView | null } = $props();

	const MOST = 6;
	const WEIGHED = ['balance'];
	let width = $state(600);
	let height = $state(300);

	/* what stands on the pan: each thing weighed has a stair of its own, the latest is shown */
	const STANDS: Record<string, string> = { '': 'Vessel', collector: 'Paper or dish', dish: 'Dish' };
	const weighed = $derived(
		next !== null && next.step !== null && WEIGHED.includes(next.kind) ? [next.stand] : []
	);
	const stands = $derived([...new Set([...all.map((tread) => tread.stand), ...weighed])]);
	let chosen = $state<string | null>(null);
	const stand = $derived(
		chosen !== null && stands.includes(chosen) ? chosen : (weighed[0] ?? all.at(-1)?.stand ?? '')
	);
	const treads = $derived(all.filter((tread) => tread.stand === stand));

	/* a long series shows its beginning and its last heatings */
	const shown = $derived(treads.length > MOST ? [...treads.slice(0, 2), ...treads.slice(2 - MOST)] : treads);
	const skipped = $derived(treads.length - shown.length);
	const asks = $derived(weighed.includes(stand));
	const places = $derived(Math.max(4, shown.length + (asks ? 1 : 0)));
	const slot = $derived(width / places);
	const low = $derived(Math.min(...treads.map((tread) => tread.grams)));
	const high = $derived(Math.max(...treads.map((tread) => tread.grams)));
	const floor = $derived(height - 80);
	const y = $derived(
		scaleLinear()
			.domain(high > low ? [low, high] : [low - 1, low + 1])
			.range(high > low ? [floor, 84] : [floor, floor - 40])
	);
	/* a long label on a narrow page stands on two lines, broken behind its plus or first word */
	const split = (words: string) => {
		const at = words.includes('+ ') ? words.indexOf('+ ') + 1 : words.indexOf(' ');
		return [words.slice(0, at), words.slice(at + 1)];
	};
	const x = (index: number) => slot * (index + 0.5);
	const last = $derived(shown.at(-1));
	const pan = $derived(Math.min(44, slot * 0.34));
</script>

{#snippet label(words: string, index: number, now: boolean)}
	{@const lines = slot < 118 && words.includes(' ') ? split(words) : [words]}
	<text y={height - 8} class="label" class:now text-anchor="middle">
		{#each lines as line, number (line)}<tspan x={x(index)} y={height - 8 - 17 * (lines.length - 1 - number)}
				>{line}</tspan
			>{/each}
	</text>
{/snippet}

<figure class="drawing">
	<figcaption class="quiet">
		What each weighing held
		{#if stands.length > 1}
			<span class="stands no-print">
				{#each stands as name (name)}
					<button aria-pressed={name === stand} onclick={() => (chosen = name)}>{STANDS[name] ?? name}</button
					>
				{/each}
			</span>
		{/if}
	</figcaption>
	<div class="space" bind:clientWidth={width} bind:clientHeight={height}>
		<svg {width} {height} aria-hidden="true">
			<line x1="0" x2={width} y1={height - 44} y2={height - 44} class="rule" />
			{#each shown as tread, index (`${tread.slot}${tread.position}`)}
				{@const at = y(tread.grams)}
				{@const before = shown[index - 1]}
				{#if before && tread.named}
					{@const from = y(before.grams)}
					{@const middle = (x(index - 1) + x(index)) / 2}
					<line
						x1={middle}
						x2={middle}
						y1={from - 4}
						y2={at + (at > from ? -4 : 4)}
						class="change"
						marker-end="url(#tip)"
					/>
					{@const below = at < from && at + 76 > height - 44}
					{@const words = below ? from - pan - 26 : at < from ? at + 56 : at - pan * 1.15 - 28}
					{@const side = below ? -9 : 9}
					<text x={middle + side} y={words} text-anchor={below ? 'end' : 'start'} class="named"
						>{tread.change} g</text
					>
					<text x={middle + side} y={words + 20} text-anchor={below ? 'end' : 'start'} class="named"
						>{tread.named}</text
					>
				{/if}
				<Pan x={x(index)} y={at} size={pan} holds={tread.pan} drawn={tread.drawn} />
				<text x={x(index)} y={at + 26} class="figure" text-anchor="middle">{tread.text}</text>
				{@render label(tread.label, index, false)}
			{/each}
			{#if skipped > 0}
				<text x={slot * 2} y={height - 8} class="label" text-anchor="middle">… {skipped} more …</text>
			{/if}
			{#if asks && next}
				{@const at = last ? y(last.grams) : floor}
				<line x1={x(shown.length) - pan} x2={x(shown.length) + pan} y1={at} y2={at} class="next" />
				<text x={x(shown.length)} y={at - 14} class="ask" text-anchor="middle">?</text>
				{@render label(next.tread, shown.length, true)}
			{/if}
			<defs>
				<marker id="tip" viewBox="0 0 10 10" refX="8" refY="5" markerWidth="9" markerHeight="9" orient="auto">
					<path d="M1 1 L8 5 L1 9" class="tip" />
				</marker>
			</defs>
		</svg>
	</div>
	<ul class="hidden-text">
		{#each treads as tread (`${tread.slot}${tread.position}`)}
			<li>{tread.label}: {tread.text} g{tread.change ? `, ${tread.change} g ${tread.named}` : ''}</li>
		{/each}
	</ul>
</figure>

<style>
	figcaption {
		display: flex;
		align-items: center;
		gap: 14px;
	}
	.stands button {
		min-height: 48px;
		padding: 0 12px;
		border-bottom: 3px solid transparent;
		color: var(--ink);
		cursor: pointer;
	}
	.stands button[aria-pressed='true'] {
		border-color: var(--act);
		font-weight: 600;
	}
	.space {
		min-height: 200px;
		overflow: hidden;
	}
	text {
		fill: var(--ink);
		font-size: 18px;
	}
	.label {
		fill: var(--quiet);
		font-size: 16px;
	}
	.named {
		font-weight: 700;
		font-size: 17px;
	}
	.rule {
		stroke: var(--rule);
		stroke-width: 1.5;
	}
	.change,
	.tip {
		stroke: var(--quiet);
		stroke-width: 2;
		fill: none;
	}
	.next {
		stroke: var(--act);
		stroke-width: 4;
		stroke-dasharray: 7 5;
	}
	.ask,
	.now {
		fill: var(--act);
		font-weight: 700;
	}
	.ask {
		font-size: 30px;
	}
</style>
