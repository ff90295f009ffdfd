<script lang="ts">
	/* A compound as a brick of its elements: as much of the brick as there is of each by mass. */
	let {
		lines,
		water
	}: {
		lines: { symbol: string; percent: string }[];
		/** Of all that, crystal water. */ water: string | null;
	} = $props();

	const HEIGHT = 120;
	const DEPTH = 14;
	const FILLS = ['clay', 'salt', 'dry', 'bar', 'band'];
	/* so wide that a symbol stands inside its part */
	const INSIDE = 54;
	let width = $state(600);

	const scale = $derived((width - DEPTH - 2) / 100);
	const parts = $derived.by(() => {
		let from = 0;
		return lines.map((line, index) => {
			const share = Number(line.percent);
			const part = { ...line, x: from * scale, width: share * scale, fill: FILLS[index % FILLS.length] };
			from += share;
			return part;
		});
	});
	/* the names of narrow parts stand below, one step down for each, so that none lies on another */
	const narrow = $derived(parts.filter((part) => part.width < INSIDE));
	const said = $derived(lines.map((line) => `${line.symbol} ${line.percent} %`).join(', '));
</script>

<div bind:clientWidth={width}>
	<svg {width} height={HEIGHT + DEPTH + 30 * narrow.length + 6} role="img" aria-label="By mass: {said}">
		{#each parts as part, index (part.symbol)}
			<polygon
				class={part.fill}
				points="{part.x},{DEPTH} {part.x + DEPTH},0 {part.x + part.width + DEPTH},0 {part.x +
					part.width},{DEPTH}"
			/>
			<rect class={part.fill} x={part.x} y={DEPTH} width={part.width} height={HEIGHT} />
			{#if index === parts.length - 1}
				<polygon
					class="side"
					points="{part.x + part.width},{DEPTH} {part.x + part.width + DEPTH},0 {part.x +
						part.width +
						DEPTH},{HEIGHT} {part.x + part.width},{HEIGHT + DEPTH}"
				/>
			{/if}
			{#if part.width >= INSIDE}
				<text
					x={part.x + part.width / 2}
					y={DEPTH + HEIGHT / 2}
					text-anchor="middle"
					class="symbol {part.fill}-on">{part.symbol}</text
				>
				<text
					x={part.x + part.width / 2}
					y={DEPTH + HEIGHT / 2 + 26}
					text-anchor="middle"
					class="figure {part.fill}-on">{part.percent}{part.width > 90 ? ' %' : ''}</text
				>
			{/if}
		{/each}
		{#each narrow as part, index (part.symbol)}
			{@const x = part.x + part.width / 2}
			{@const y = HEIGHT + DEPTH + 24 + 30 * index}
			{@const right = x > width * 0.6}
			<line x1={x} x2={x} y1={HEIGHT + DEPTH - 8} y2={y - 6} />
			<text x={x + (right ? -8 : 8)} {y} text-anchor={right ? 'end' : 'start'} class="below"
				>{part.symbol} <tspan class="figure">{part.percent} %</tspan></text
			>
		{/each}
	</svg>
	{#if water !== null}
		<p class="quiet">
			Of all that, <span class="figure">{water} %</span> is crystal water: its hydrogen and part of its oxygen.
		</p>
	{/if}
</div>

<style>
	.clay {
		fill: var(--clay);
	}
	.salt {
		fill: var(--salt);
	}
	.dry {
		fill: var(--dry);
	}
	.bar {
		fill: var(--bar);
	}
	.band,
	.side {
		fill: var(--band);
	}
	rect,
	polygon {
		stroke: var(--ink);
		stroke-width: 1.5;
		stroke-linejoin: round;
	}
	line {
		stroke: var(--quiet);
		stroke-width: 1.5;
	}
	text {
		fill: #212c38;
		font-size: 17px;
	}
	.symbol {
		font-family: var(--slab);
		font-size: 26px;
		font-weight: 700;
	}
	.band-on,
	.below {
		fill: var(--ink);
	}
</style>
