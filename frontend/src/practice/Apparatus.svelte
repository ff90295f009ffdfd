<script lang="ts">
	/* The apparatus as it stands: it moves with what is done, slowly enough that nothing jumps. */
	import { part, type Picture } from './practice.svelte';

	let { pictures, noticed }: { pictures: Picture[]; noticed: string[] } = $props();
	const drawn = $derived(pictures.filter((row) => row.apparatus));
	const NAMES: Record<string, string> = {
		fired: 'Vessel',
		paper: 'Filter',
		tube: 'Gas tube',
		beaker: 'Beaker',
		flask: 'Flask',
		solution: 'Solution',
		glass: 'Watch glass'
	};
	const PLACES: Record<string, string> = {
		flame: 'in the flame',
		gauze: 'on the gauze',
		pan: 'on the pan',
		oven: 'in the oven',
		air: 'drying in the air',
		desiccator: 'in the desiccator',
		bench: 'on the bench'
	};
	function told(row: Picture): string {
		const words = [NAMES[row.apparatus ?? ''] ?? ''];
		if (typeof row['place'] === 'string') words.push(PLACES[row['place']] ?? row['place']);
		if (row.apparatus === 'fired') {
			if (row['flame'] !== 'off') words.push(`flame ${String(row['flame'])}`);
			words.push(`cover ${String(row['cover'])}`);
			if (row['felt']) words.push('a hand near it feels warmth');
		}
		if (typeof row['temperature'] === 'number') words.push(`${String(row['temperature'])} °C`);
		return words.filter(Boolean).join(', ');
	}
	const FLAME: Record<string, number> = { off: 0, low: 46, full: 84 };
</script>

<div>
	<div class="apparatus" class:several={drawn.length > 1}>
		{#each drawn as row, index (index)}
			<figure>
				{#if row.apparatus === 'fired'}
					{@const there = row['place'] === 'flame' ? 0 : row['place'] === 'gauze' ? 118 : 236}
					<svg viewBox="0 0 400 300" role="img" aria-label={told(row)}>
						<line class="stand" x1="30" y1="290" x2="380" y2="290" />
						<line class="stand" x1="46" y1="40" x2="46" y2="290" />
						<line class="stand" x1="46" y1="150" x2="140" y2="150" />
						<rect class="burner" x="82" y="236" width="30" height="54" />
						<path
							class="flame"
							style="transform: scaleY({(FLAME[String(row['flame'])] ?? 0) / 84})"
							d="M97 150 C114 186 112 222 97 236 C82 222 80 186 97 150"
						/>
						<rect class="gauze" x="166" y="276" width="98" height="8" />
						<path class="pan" d="M286 262 H374 M330 262 V276 M300 276 H360 V290 H300 Z" />
						<g
							class="moves"
							style="transform: translate({there}px, {row['place'] === 'flame'
								? 0
								: row['place'] === 'gauze'
									? 126
									: 112}px)"
						>
							<path class="vessel" class:hot={part(row, 'warm') > 300} d="M62 100 H132 L122 150 H72 Z" />
							{#if row['loaded']}
								<path
									class="content"
									style="fill: color-mix(in oklab, var(--salt) {Math.round(
										100 * part(row, 'left')
									)}%, var(--dry))"
									d="M68 104 Q97 {78 + 16 * (1 - part(row, 'left'))} 126 104 Z"
								/>
							{/if}
							<line
								class="cover"
								x1="58"
								y1="96"
								x2="136"
								y2="96"
								style="transform: translateY({row['cover'] === 'off' ? -60 : 0}px) rotate({row['cover'] ===
								'ajar'
									? -9
									: 0}deg); opacity: {row['cover'] === 'off' ? 0.25 : 1}"
							/>
							{#if row['felt']}<path
									class="warm"
									d="M80 70 q6 -10 0 -20 M97 70 q6 -10 0 -20 M114 70 q6 -10 0 -20"
								/>{/if}
						</g>
					</svg>
				{:else if row.apparatus === 'paper'}
					<svg viewBox="0 0 400 300" role="img" aria-label={told(row)}>
						<path class="glass" d="M110 60 H290 L215 170 V250 H185 V170 Z" />
						<path class="sheet" d="M128 70 H272 L202 166 H198 Z" />
						{#if row['poured']}
							<path class="solid" d="M160 112 H240 L202 162 H198 Z" />
							<path class="liquid" style="opacity: {part(row, 'wet')}" d="M140 84 H260 L202 162 H198 Z" />
						{/if}
						{#if row['named']}<text x="150" y="58" class="label">name</text>{/if}
					</svg>
				{:else if row.apparatus === 'tube'}
					{@const gas = 190 * part(row, 'part')}
					<svg
						viewBox="0 0 400 300"
						role="img"
						aria-label="{told(row)}, {Math.round(100 * part(row, 'part'))} % of the gas is there"
					>
						<path class="glass" d="M90 200 H310 V286 H90 Z" />
						<rect class="liquid" x="92" y="214" width="216" height="70" />
						<rect class="liquid moves" x="182" y={28 + gas} width="36" height={212 - gas} />
						<path class="glass" d="M180 240 V24 H220 V240" />
						{#if row['running'] && part(row, 'part') < 0.98}
							<g class="bubbles"
								><circle cx="193" cy="228" r="4" /><circle cx="206" cy="216" r="5" /><circle
									cx="198"
									cy="202"
									r="3"
								/></g
							>
						{/if}
					</svg>
				{:else if row.apparatus === 'beaker'}
					<svg viewBox="0 0 400 300" role="img" aria-label={told(row)}>
						<path class="glass" d="M120 80 V280 H280 V80" />
						<rect class="liquid" x="122" y="170" width="156" height="108" />
						{#if row['in']}
							<g class="bubbles" style="opacity: {Math.max(0.05, part(row, 'fizz'))}">
								{#each [150, 172, 196, 214, 236, 255] as x, n (x)}<circle
										cx={x}
										cy={262 - 14 * (n % 4)}
										r={4 + (n % 3)}
									/>{/each}
							</g>
						{/if}
						{#if row['swirl']}<path class="warm" d="M150 60 q50 -26 100 0 m-12 -14 l14 14 l-18 8" />{/if}
					</svg>
				{:else if row.apparatus === 'flask'}
					<svg
						viewBox="0 0 400 300"
						role="img"
						aria-label="{told(row)}, {Math.round(100 * part(row, 'air'))} % air in it"
					>
						<path class="glass" d="M180 40 V120 L110 270 H290 L220 120 V40" />
						<path
							class={row['water'] ? 'liquid' : 'gas'}
							style="opacity: {row['water'] ? 1 : 1 - part(row, 'air')}"
							d="M183 60 V122 L116 266 H284 L217 122 V60 Z"
						/>
						{#if row['filling']}<path class="hose" d="M20 60 H140 Q200 60 200 150 V250" />{/if}
					</svg>
				{:else if row.apparatus === 'solution'}
					<svg viewBox="0 0 400 300" role="img" aria-label={told(row)}>
						{#if row['bath']}<rect class="bath" x="80" y="180" width="240" height="108" rx="8" />{/if}
						<path class="glass" d="M130 90 V276 H270 V90" />
						<rect class="liquid" x="132" y="140" width="136" height="134" />
						{#if typeof row['temperature'] === 'number'}
							<line class="stand" x1="240" y1="60" x2="240" y2="220" />
							<text x="250" y="74">{row['temperature'].toFixed(1)} °C</text>
						{/if}
					</svg>
				{:else}
					<svg viewBox="0 0 400 300" role="img" aria-label={told(row)}>
						<path class="glass" d="M90 220 Q200 290 310 220" />
						<path class="solid" d="M140 226 Q200 170 260 226 Q200 258 140 226 Z" />
					</svg>
				{/if}
				<figcaption>{told(row)}</figcaption>
			</figure>
		{/each}
	</div>
	<p class="noticed" role="status">{noticed.length ? `You see: ${noticed.join(', ')}.` : ''}</p>
</div>

<style>
	.apparatus {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 8px;
	}
	.several {
		grid-template-columns: repeat(2, minmax(0, 1fr));
	}
	figure {
		display: grid;
		align-content: start;
		gap: 4px;
		max-width: 560px;
	}
	svg {
		width: 100%;
		height: auto;
		max-height: 300px;
	}
	.moves,
	.flame,
	.cover,
	.content,
	.liquid,
	.gas {
		transition:
			transform 0.8s ease,
			opacity 0.8s ease,
			fill 0.8s ease,
			y 0.8s ease,
			height 0.8s ease;
	}
	.flame {
		fill: var(--salt);
		stroke: var(--salt-edge);
		transform-origin: 97px 236px;
	}
	.stand,
	.gauze {
		stroke: var(--quiet);
		stroke-width: 6;
	}
	.gauze {
		stroke: none;
		fill: var(--quiet);
	}
	.burner {
		fill: var(--quiet);
	}
	.pan {
		fill: var(--band);
		stroke: var(--ink);
		stroke-width: 3;
	}
	.vessel {
		fill: var(--clay);
		stroke: var(--clay-edge);
		stroke-width: 3;
	}
	.vessel.hot {
		fill: color-mix(in oklab, var(--clay) 45%, var(--clay-edge));
	}
	.content {
		stroke: var(--salt-edge);
		stroke-width: 2;
	}
	.cover {
		stroke: var(--ink);
		stroke-width: 5;
		transform-origin: 58px 96px;
	}
	.warm,
	.hose {
		fill: none;
		stroke: var(--watch);
		stroke-width: 3;
	}
	.hose {
		stroke: var(--quiet);
		stroke-width: 5;
	}
	.glass {
		fill: none;
		stroke: var(--ink);
		stroke-width: 3;
	}
	.sheet,
	.solid {
		fill: var(--dry);
		stroke: var(--quiet);
		stroke-width: 2;
	}
	.solid {
		fill: var(--clay);
	}
	.liquid {
		fill: var(--salt);
	}
	.gas {
		fill: var(--band);
	}
	.bath {
		fill: color-mix(in oklab, var(--salt) 45%, var(--paper));
		stroke: var(--salt-edge);
	}
	.bubbles circle {
		fill: var(--raised);
		stroke: var(--salt-edge);
	}
	text {
		fill: var(--ink);
		font-size: 18px;
	}
	figcaption {
		color: var(--quiet);
		font-size: 16px;
	}
	.noticed {
		min-height: 24px;
		color: var(--watch);
		font-weight: 600;
	}
	@media (prefers-reduced-motion: reduce) {
		svg * {
			transition: none;
		}
	}
</style>
