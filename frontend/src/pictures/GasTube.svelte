<script lang="ts">
	/* The tube as it stands in the bath: gas above water, its scale counting the way it does, both water levels. */
	import { scaleLinear } from 'd3-scale';
	import type { EntryView, GasPicture } from '../api/client';

	/* `apparatus`: where the gas is made; a cage in the mouth of the tube, or a flask beside it, with or without thistle */
	let {
		gas,
		next,
		typed,
		apparatus
	}: { gas: GasPicture; next: EntryView | null; typed: string; apparatus: readonly string[] } = $props();

	const TOP = 34;
	const WIDE = 96;
	let width = $state(320);
	let height = $state(420);

	const beside = $derived(apparatus.includes('flask') || apparatus.includes('thistle'));
	const left = $derived(Math.max(150, width / 2 - WIDE / 2 - (beside && width > 460 ? 70 : 0)));
	const tube = $derived(gas.tube);
	const dead = $derived(tube.dead ?? 0);
	const moves = $derived(next ? tube.moved_by[next.slot] : undefined);
	/* what is being typed moves the level before it is kept, unless no tube could show it */
	const figure = $derived(Number.parseFloat(typed.replace(',', '.').replace('−', '-')));
	const moved = $derived(
		moves !== 'end' || Number.isNaN(figure) || figure < 0 || figure > (tube.mark ?? figure)
			? null
			: tube.counts_down
				? (tube.mark ?? figure) - figure + dead
				: figure
	);
	const held = $derived(moved ?? tube.end ?? tube.start ?? 0);
	const most = $derived(
		tube.mark === null ? Math.max(10, 1.3 * Math.max(held, tube.start ?? 0)) : tube.mark + dead
	);
	const foot = $derived(height - 54);
	const y = $derived(
		scaleLinear()
			.domain([0, most])
			.range([TOP, foot - 40])
			.clamp(true)
	);
	const surface = $derived(y(held));
	/* the bath stands where the column says, drawn larger than life so that it is seen */
	const typedLevel = $derived(moves === 'level' && !Number.isNaN(figure) ? figure : null);
	const stood = $derived(typedLevel ?? tube.level);
	const level = $derived(stood ?? 0);
	/* what is kept is said by the core; of what is only typed the drawing says the same for itself */
	const text = $derived(moved === null ? tube.held_text : `${moved.toFixed(tube.places)} mL`);
	const side = $derived(level < 0 ? 'below' : 'above');
	const stands = $derived(level === 0 ? '' : `, water inside ${Math.abs(level)} mm ${side} that outside`);
	const said = $derived(
		moved === null && typedLevel === null
			? tube.said
			: `${tube.name}, ${text || `${held.toFixed(tube.places)} mL`} of gas${stands}`
	);
	const bath = $derived(
		Math.min(
			foot - 8,
			Math.max(TOP + 20, surface + Math.sign(level) * Math.min(70, 22 + Math.abs(level) * 0.5))
		)
	);
	/* before the levels are read the bath stands as it is filled, whatever the tube holds */
	const unread = $derived(stood === null && (moves === 'level' || moves === 'end' || tube.end === null));
	const outside = $derived(unread ? foot - 62 : level === 0 ? surface : bath);
	const ticks = $derived(
		scaleLinear()
			.domain([0, tube.mark ?? most])
			.ticks(5)
	);
	const middle = $derived(left + WIDE / 2);
	const flask = $derived(left + WIDE + 128);
	const neck = $derived(foot - 78);
	/* a burette turned over has its zero at the open end and its last mark above */
	const at = (mark: number) => y(tube.counts_down ? (tube.mark ?? most) - mark + dead : mark);
</script>

<figure class="drawing">
	<figcaption class="quiet">The tube as it stands</figcaption>
	<div class="space" bind:clientWidth={width} bind:clientHeight={height}>
		<svg {width} {height} role="img" aria-label={said}>
			<rect
				x={left - 70}
				y={outside}
				width={WIDE + 140}
				height={Math.max(0, foot + 30 - outside)}
				class="water bath"
			/>
			<path d="M{left - 70} {TOP + 60} V{foot + 30} H{left + WIDE + 70} V{TOP + 60}" class="glass" />
			<rect x={left} y={surface} width={WIDE} height={Math.max(0, foot - surface)} class="water" />
			<path
				d="M{left} {foot} V{TOP + 14} Q{left} {TOP} {left + 14} {TOP} H{left + WIDE - 14} Q{left +
					WIDE} {TOP} {left + WIDE} {TOP + 14} V{foot}"
				class="glass"
			/>
			<line
				x1={left}
				x2={left + WIDE}
				y1={surface}
				y2={surface}
				class="surface"
				class:moved={moved !== null}
			/>
			{#if apparatus.includes('cage')}
				<path
					d="M{middle - 15} {foot - 34} H{middle + 15} V{foot - 8} H{middle - 15} Z M{middle - 5} {foot -
						34} V{foot - 8} M{middle + 5} {foot - 34} V{foot - 8} M{middle - 15} {foot - 21} H{middle + 15}"
					class="wire"
				/>
				<path d="M{middle} {foot - 8} V{foot + 8} H{left - 12}" class="wire" />
				<path d="M{middle - 10} {foot - 13} L{middle + 9} {foot - 30}" class="metal" />
			{:else if beside}
				<path
					d="M{middle} {foot - 4} V{foot + 14} H{left + WIDE + 52} V{neck - 30} H{flask - 6} V{neck + 12}"
					class="delivery"
				/>
				<path
					d="M{flask - 16} {neck} V{neck + 26} L{flask - 44} {foot + 28} H{flask + 44} L{flask + 16} {neck +
						26} V{neck}"
					class="glass flask"
				/>
				<path
					d="M{flask - 32} {foot + 4} H{flask + 32} L{flask + 43} {foot + 27} H{flask - 43} Z"
					class="water"
				/>
				<path d="M{flask - 18} {neck} H{flask + 18} V{neck + 9} H{flask - 18} Z" class="stopper" />
				{#if apparatus.includes('thistle')}
					<path
						d="M{flask + 8} {foot + 18} V{neck - 34} Q{flask - 8} {neck - 46} {flask - 4} {neck -
							58} H{flask + 20} Q{flask + 24} {neck - 46} {flask + 8} {neck - 34}"
						class="tubing"
					/>
				{/if}
			{/if}
			{#if dead}
				<line x1={left} x2={left + WIDE} y1={y(dead)} y2={y(dead)} class="mark" />
				<!-- the level's words stand outside of the bath: these above it -->
				<text x={left + WIDE + 34} y={y(dead / 2) + 5} class="label">dead volume</text>
			{/if}
			{#each ticks as tick (tick)}
				<line x1={left + WIDE - 16} x2={left + WIDE} y1={at(tick)} y2={at(tick)} class="tick" />
				<text x={left + WIDE + 8} y={at(tick) + 5} class="figure">{tick}</text>
			{/each}
			<text
				x={left + (WIDE - 16) / 2}
				y={Math.max(TOP + 22, (TOP + surface) / 2 + 6)}
				text-anchor="middle"
				class="gas"
			>
				{text}
			</text>
			{#if level !== 0}
				<line x1={left - 30} x2={left - 30} y1={surface} y2={outside} class="column" />
				<line x1={left - 38} x2={left} y1={surface} y2={surface} class="guide" />
				<text x={left - 80} y={(surface + outside) / 2 + 5} text-anchor="end" class="figure">{level} mm</text>
			{:else if !unread}
				<text x={left - 80} y={outside + 5} text-anchor="end" class="label">levels equal</text>
			{/if}
		</svg>
	</div>
</figure>

<style>
	.space {
		min-height: 206px;
		overflow: hidden;
	}
	.gas {
		font-weight: 700;
		font-size: 16px;
	}
	.water {
		fill: var(--salt);
		opacity: 0.55;
	}
	.bath {
		opacity: 0.28;
	}
	.glass {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2.5;
	}
	.wire,
	.delivery,
	.tubing {
		fill: none;
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.delivery {
		stroke-width: 3;
		stroke-linejoin: round;
	}
	.metal {
		stroke: var(--quiet);
		stroke-width: 4;
	}
	.flask {
		fill: var(--raised);
	}
	.stopper {
		fill: var(--clay);
		stroke: var(--clay-edge);
		stroke-width: 1.5;
	}
	.surface {
		stroke: var(--salt-edge);
		stroke-width: 3;
	}
	.surface.moved {
		stroke: var(--act);
		stroke-width: 4;
	}
	.tick,
	.mark {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.mark {
		stroke-dasharray: 4 4;
	}
	.column {
		stroke: var(--act);
		stroke-width: 3;
	}
	.guide {
		stroke: var(--quiet);
		stroke-dasharray: 3 4;
	}
</style>
