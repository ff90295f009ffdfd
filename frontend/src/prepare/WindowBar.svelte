<script lang="ts">
	/* The window of the sample as one bar: from where to where, and what is taken. */
	import { scaleLog } from 'd3-scale';
	import type { Sizing } from '../api/client';

	let { sizing }: { sizing: Sizing } = $props();

	const HEIGHT = 86;
	let width = $state(340);
	const look = $derived(sizing.asked ?? sizing.about);
	const ends = $derived(
		[sizing.low?.amount, sizing.high?.amount, look?.amount].filter((one): one is number => !!one && one > 0)
	);
	const x = $derived(
		scaleLog()
			.domain([Math.min(...ends) / 1.8, Math.max(...ends) * 1.8])
			.range([8, Math.max(width, 200) - 8])
	);
	const low = $derived(sizing.low && sizing.low.amount > 0 ? x(sizing.low.amount) : 8);
	const high = $derived(
		sizing.high && sizing.high.amount > 0 ? x(sizing.high.amount) : Math.max(width, 200) - 8
	);
	const at = $derived(look ? x(look.amount) : null);
	const fits = $derived(at !== null && at >= low - 0.5 && at <= high + 0.5);
	const said = $derived(
		`${look ? `About ${look.text}` : 'No amount'}; ` +
			`${sizing.low ? `at least ${sizing.low.text}` : 'no lower end'}, ` +
			`${sizing.high ? `at most ${sizing.high.text}` : 'no upper end'}.`
	);
</script>

{#if ends.length}
	<figure bind:clientWidth={width}>
		<svg {width} height={HEIGHT} role="img" aria-label={said}>
			{#if high > low}<rect class="window" x={low} width={high - low} y="34" height="26" />{/if}
			<line class="ground" x1="0" x2={width} y1="60" y2="60" />
			{#if at !== null && look}
				<line class="taken" class:off={!fits} x1={at} x2={at} y1="24" y2="60" />
				<text class="figure about" x={Math.min(Math.max(at, 30), width - 34)} y="16" text-anchor="middle"
					>{look.text}</text
				>
			{/if}
			{#if sizing.low}<text class="figure end" x={Math.max(low, 24)} y="80" text-anchor="middle"
					>{sizing.low.text}</text
				>{/if}
			{#if sizing.high}<text
					class="figure end"
					x={Math.min(high, width - 28)}
					y="80"
					text-anchor={high - low < 80 ? 'start' : 'middle'}>{sizing.high.text}</text
				>{/if}
		</svg>
	</figure>
{/if}

<style>
	figure {
		min-width: 0;
		overflow: hidden;
	}
	.window {
		fill: var(--settled-wash);
		stroke: var(--settled);
		stroke-width: 2;
	}
	.ground {
		stroke: var(--ink);
		stroke-width: 2;
	}
	.taken {
		stroke: var(--act);
		stroke-width: 4;
	}
	.taken.off {
		stroke: var(--stop);
	}
	.about {
		fill: var(--ink);
		font-size: 18px;
		font-weight: 600;
	}
	.end {
		fill: var(--quiet);
		font-size: 15px;
	}
</style>
