<script lang="ts">
	import { max } from 'd3-array';
	import { scaleLinear } from 'd3-scale';
	import type { Loss } from '../api/client';

	let {
		losses,
		toleranceMg,
		tolerance,
		round
	}: { losses: Loss[]; toleranceMg: number; tolerance: string; round: string } = $props();

	const HEIGHT = 116;
	const FLOOR = 112;
	const MOST = 6;
	let width = $state(600);

	const shown = $derived(losses.slice(-MOST));
	/* the scale is the tolerance's; a bar beyond it is broken, and shows that it is */
	const later = $derived(max(losses.slice(1), (loss) => Math.abs(loss.milligrams)) ?? 0);
	const top = $derived(Math.max(4 * toleranceMg, Math.min(1.25 * later, 12 * toleranceMg), 1e-6));
	const y = $derived(scaleLinear().domain([0, top]).range([FLOOR, 22]).clamp(true));
	const slot = $derived(width / Math.max(4, shown.length + 1));
	const left = (index: number) => slot * (index + 0.6);
</script>

<figure>
	<figcaption class="quiet">
		Changed at each {round}{#if losses.length}, <span class="settled">limit {tolerance}, dashed</span>{/if}
	</figcaption>
	{#if losses.length === 0}
		<p class="quiet empty">Nothing yet. Each {round} stands here against your limit of {tolerance}.</p>
	{:else}
		<div bind:clientWidth={width}>
			<svg {width} height={HEIGHT + 24} aria-hidden="true">
				<rect x="0" {width} y={y(toleranceMg)} height={FLOOR - y(toleranceMg)} class="wash" />
				<line x1="0" x2={width} y1={y(toleranceMg)} y2={y(toleranceMg)} class="limit" />
				<line x1="0" x2={width} y1={FLOOR} y2={FLOOR} class="floor" />
				{#each shown as loss, index (loss.position)}
					{@const size = Math.abs(loss.milligrams)}
					{@const at = y(size)}
					<rect
						x={left(index)}
						width="46"
						y={at}
						height={Math.max(2, FLOOR - at)}
						class:ok={loss.settled}
						class="bar"
					/>
					{#if size > top}
						<path d="M{left(index) - 4} {at + 20} l54 -9 M{left(index) - 4} {at + 29} l54 -9" class="break" />
					{/if}
					<text
						x={left(index) + 23}
						y={Math.min(at - 6, y(toleranceMg) - 6)}
						text-anchor="middle"
						class="figure">{loss.text}</text
					>
					<text x={left(index) + 23} y={HEIGHT + 16} text-anchor="middle" class="label"
						>{round} {loss.position}</text
					>
				{/each}
			</svg>
		</div>
		<ul class="hidden-text">
			{#each losses as loss (loss.position)}
				<li>
					{round}
					{loss.position}: {loss.milligrams >= 0 ? 'lost' : 'gained'}
					{loss.text}{loss.settled ? `, within the limit of ${tolerance}` : ''}
				</li>
			{/each}
		</ul>
	{/if}
</figure>

<style>
	.empty {
		padding: 12px 0;
	}
	svg {
		display: block;
	}
	text {
		fill: var(--ink);
		font-size: 17px;
	}
	.label {
		fill: var(--quiet);
		font-size: 16px;
	}
	.wash {
		fill: var(--settled-wash);
	}
	.limit {
		stroke: var(--settled);
		stroke-width: 2;
		stroke-dasharray: 5 4;
	}
	.settled {
		color: var(--settled);
	}
	.floor {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.bar {
		fill: var(--bar);
	}
	.bar.ok {
		fill: var(--settled);
	}
	.break {
		stroke: var(--paper);
		stroke-width: 4;
	}
</style>
