<script lang="ts">
	/* What a drill shows: a piece of a scale with a level in it, or some seconds of a balance. */
	import type { DrillView } from '../api/client';
	import TechniqueCard from '../pictures/TechniqueCard.svelte';

	let { drill }: { drill: DrillView } = $props();
	const drawn = $derived(drill.drawn as Record<string, unknown>);
	const top = $derived(Number(drawn['top'] ?? 0));
	const upwards = $derived(drawn['upwards'] === true);
	const span = $derived(Number(drawn['span'] ?? 3));
	const HEIGHT = 300;
	const y = (value: number): number => 20 + ((upwards ? top - value : value - top) / span) * HEIGHT;
	const ticks = $derived(
		Array.from({ length: span * 10 + 1 }, (_, n) => ({
			value: top + ((upwards ? -1 : 1) * n) / 10,
			whole: n % 10 === 0,
			half: n % 5 === 0
		}))
	);
	const level = $derived(y(Number(drawn['level'] ?? top)));

	const shown = $derived(Array.isArray(drawn['shown']) ? drawn['shown'].map(String) : []);
	let tick = $state(0);
	$effect(() => {
		if (!shown.length) return;
		tick = 0;
		const timer = setInterval(() => (tick = Math.min(tick + 1, shown.length - 1)), 700);
		return () => clearInterval(timer);
	});
</script>

{#if drawn['apparatus'] === 'scale'}
	<svg viewBox="0 0 260 340" role="img" aria-label="A piece of a scale in millilitres with a level in it">
		<rect class="liquid" x="60" y={level} width="80" height={Math.max(0, 336 - level)} />
		<!-- the curve of the water: read at its lowest point -->
		<path class="gas" d="M60 {level - 9} Q100 {level + 9} 140 {level - 9} V{level - 12} H60 Z" />
		<path class="liquid" d="M60 {level - 9} Q100 {level + 9} 140 {level - 9} V{level + 4} H60 Z" />
		<path class="glass" d="M60 4 V336 M140 4 V336" />
		{#each ticks as row (row.value)}
			<line x1="140" x2={row.whole ? 96 : row.half ? 112 : 122} y1={y(row.value)} y2={y(row.value)} />
			{#if row.whole}<text x="150" y={y(row.value) + 7}>{Math.round(row.value)}</text>{/if}
		{/each}
	</svg>
{:else if shown.length}
	<p class="display figure" role="img" aria-label="The balance shows {shown.join(', then ')} grams">
		{shown[tick]} g
	</p>
	<p class="quiet">Second {Math.round(tick * 0.7)} of {Math.round((shown.length - 1) * 0.7)}</p>
{:else if drill.card}
	<TechniqueCard name={drill.card} />
{/if}

<style>
	svg {
		width: min(320px, 100%);
		height: auto;
	}
	.glass {
		fill: none;
		stroke: var(--ink);
		stroke-width: 3;
	}
	line {
		stroke: var(--ink);
		stroke-width: 2;
	}
	text {
		fill: var(--ink);
		font:
			600 20px 'Atkinson Hyperlegible Mono',
			monospace;
	}
	.liquid {
		fill: var(--salt);
	}
	.gas {
		fill: var(--paper);
	}
	.display {
		padding: 14px 22px;
		border-radius: 6px;
		background: #212c38;
		color: #f7f2eb;
		font-size: 40px;
		font-weight: 600;
	}
</style>
