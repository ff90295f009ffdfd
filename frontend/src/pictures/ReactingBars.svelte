<script lang="ts">
	/* How far the reaction can go with each reagent: what is used of it, what is left, which runs out first. */
	import { scaleLinear } from 'd3-scale';
	import type { Reacting } from '../api/client';
	import Formula from '../ui/Formula.svelte';

	let { reacting }: { reacting: Reacting } = $props();

	const most = $derived(Math.max(...reacting.bars.map((bar) => bar.possible), 1e-9));
	const share = $derived(scaleLinear().domain([0, most]).range([0, 100]).clamp(true));
	const limit = $derived(reacting.bars.find((bar) => bar.is_limiting));
</script>

<figure>
	<figcaption class="quiet">What reacts: amount over its coefficient</figcaption>
	{#if reacting.bars.length === 0}
		<p class="quiet empty">Each reagent stands here as a bar; the shortest runs out first.</p>
	{/if}
	<ul>
		{#each reacting.bars as bar (bar.label)}
			<li>
				<span class="name"><Formula text={bar.label} plain /></span>
				<span class="track">
					<span class="used" class:limiting={bar.is_limiting} style:width="{share(bar.used || bar.possible)}%"
					></span>
					{#if bar.left}
						<span class="left" style:width="{share(bar.possible) - share(bar.used)}%"></span>
					{/if}
					{#if limit}<span class="line" style:left="{share(limit.possible)}%"></span>{/if}
				</span>
				<span class="figure amount">{bar.amount}</span>
				<span class="said">
					{#if bar.is_limiting}<strong>runs out first</strong>{:else}{bar.left}{/if}
				</span>
			</li>
		{/each}
		{#each reacting.open as label (label)}
			<li>
				<span class="name quiet"><Formula text={label.replace(' solution', '')} plain /></span>
				<span class="track open"></span>
				<span class="amount quiet">to come</span>
				<span></span>
			</li>
		{/each}
	</ul>
</figure>

<style>
	.empty {
		padding: 6px 0;
	}
	ul {
		display: grid;
		grid-template-columns: minmax(72px, auto) minmax(80px, 1fr) auto auto;
		gap: 8px 12px;
		padding: 8px 0;
	}
	li {
		display: grid;
		grid-template-columns: subgrid;
		grid-column: 1 / -1;
		align-items: center;
	}
	.name {
		font-weight: 600;
	}
	.track {
		position: relative;
		display: flex;
		height: 26px;
		background: var(--band);
		border-radius: 3px;
		overflow: hidden;
	}
	.track.open {
		background: none;
		border: 1.5px dashed var(--quiet);
	}
	.used {
		background: var(--salt);
		border-right: 2px solid var(--salt-edge);
	}
	.used.limiting {
		background: var(--bar);
		border-color: var(--watch);
	}
	.left {
		background: repeating-linear-gradient(-45deg, var(--salt) 0 4px, var(--raised) 4px 9px);
	}
	.line {
		position: absolute;
		top: 0;
		bottom: 0;
		width: 2px;
		margin-left: -1px;
		background: var(--ink);
	}
	.amount {
		text-align: right;
		font-size: 17px;
	}
	.said {
		font-size: 16px;
	}
	@media (max-width: 1100px) {
		ul {
			grid-template-columns: minmax(72px, auto) minmax(60px, 1fr) auto;
		}
		.said {
			grid-column: 2 / -1;
			margin-top: -2px;
		}
	}
</style>
