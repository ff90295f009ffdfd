<script lang="ts">
	/* An equation as masses in balance: what goes in stands on one pan, what comes out on the other, block by block. */
	import type { EquationSheet } from '../api/client';
	import { pieces } from '../ui/formula';

	let { lines }: { lines: EquationSheet['lines'] } = $props();

	const TALL = 180;
	/* so high that its name and mass stand within */
	const LEAST = 44;
	const FILLS = ['clay', 'salt', 'dry', 'bar'];
	let width = $state(600);

	/* grams that take part where amounts are given, else those of the equation as it stands, in moles */
	const given = $derived(lines.some((line) => Number(line.mass) > 0));
	const share = (text: string) => {
		const [above = '1', below = '1'] = text.split('/');
		return Number(above) / Number(below);
	};
	const rows = $derived(
		lines.map((line, index) => ({
			formula: line.formula,
			left: line.is_reactant,
			grams: given ? Number(line.mass) : share(line.coefficient || '1') * Number(line.molar_mass),
			fill: FILLS[index % FILLS.length]
		}))
	);
	const usable = $derived(rows.every((row) => Number.isFinite(row.grams) && row.grams >= 0));
	const total = $derived(rows.filter((row) => row.left).reduce((sum, row) => sum + row.grams, 0));
	const digits = $derived(total >= 100 ? 2 : total >= 1 ? 3 : 4);

	function stack(left: boolean) {
		const side = rows.filter((row) => row.left === left);
		let top = 0;
		return side.map((row) => {
			const height = (row.grams / total) * TALL;
			const block = { ...row, y: top, height };
			top += height;
			return block;
		});
	}
	const sides = $derived([
		{ x: width * 0.25, blocks: stack(true), word: 'goes in' },
		{ x: width * 0.75, blocks: stack(false), word: 'comes out' }
	]);
	const block = $derived(Math.min(170, width * 0.24));
	const said = $derived(
		`${rows
			.filter((row) => row.left)
			.map((row) => `${row.formula} ${row.grams.toFixed(digits)} g`)
			.join(', ')} go in, ${rows
			.filter((row) => !row.left)
			.map((row) => `${row.formula} ${row.grams.toFixed(digits)} g`)
			.join(', ')} come out: ${total.toFixed(digits)} g on each side`
	);
	const PAN = TALL + 16;
</script>

{#snippet formula(text: string)}{#each pieces(text) as piece, index (index)}{#if piece.style}<tspan
				dy={piece.style === 'sub' ? 5 : -6}
				font-size="12">{piece.text}</tspan
			><tspan dy={piece.style === 'sub' ? -5 : 6}>&#8203;</tspan>{:else}<tspan>{piece.text}</tspan
			>{/if}{/each}{/snippet}

{#if usable && total > 0}
	<div bind:clientWidth={width}>
		<svg {width} height={PAN + 74} role="img" aria-label={said}>
			<path
				d="M{width / 2 - 26},{PAN + 60} L{width / 2},{PAN + 20} L{width / 2 + 26},{PAN + 60} Z"
				class="foot"
			/>
			<line x1={sides[0]?.x} x2={sides[1]?.x} y1={PAN + 20} y2={PAN + 20} class="beam" />
			{#each sides as side (side.word)}
				<line x1={side.x - block * 0.8} x2={side.x + block * 0.8} y1={PAN} y2={PAN} class="pan" />
				<line x1={side.x} x2={side.x} y1={PAN} y2={PAN + 20} class="beam" />
				{#each side.blocks as one (one.formula)}
					{@const y = PAN - one.y - one.height}
					<rect class={one.fill} x={side.x - block / 2} {y} width={block} height={Math.max(1, one.height)} />
					{#if one.height >= LEAST}
						<text x={side.x} y={y + one.height / 2 - 3} text-anchor="middle" class="on name"
							>{@render formula(one.formula)}</text
						>
						<text x={side.x} y={y + one.height / 2 + 17} text-anchor="middle" class="on figure"
							>{one.grams.toFixed(digits)} g</text
						>
					{:else}
						{@const right = side.x > width / 2}
						<text
							x={side.x + (right ? 1 : -1) * (block / 2 + 10)}
							y={Math.max(16, y + one.height / 2 + 6)}
							text-anchor={right ? 'start' : 'end'}
							><tspan class="name">{@render formula(one.formula)}</tspan>
							<tspan class="figure" dx="2">{one.grams.toFixed(digits)} g</tspan></text
						>
					{/if}
				{/each}
				<text x={side.x} y={PAN + 48} text-anchor="middle" class="quiet"
					>{side.word}: <tspan class="figure">{total.toFixed(digits)} g</tspan></text
				>
			{/each}
		</svg>
		<p class="quiet">
			{given ? 'Of what was given, so much takes part.' : 'In moles, as the equation stands.'}
		</p>
	</div>
{/if}

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
	rect {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.beam,
	.pan {
		stroke: var(--ink);
		stroke-width: 4;
		stroke-linecap: round;
	}
	.foot {
		fill: none;
		stroke: var(--ink);
		stroke-width: 3;
		stroke-linejoin: round;
	}
	text {
		fill: var(--ink);
		font-size: 16px;
		paint-order: stroke;
		stroke: var(--paper);
		stroke-width: 4px;
	}
	.name {
		font-family: var(--slab);
		font-weight: 600;
	}
	.on {
		fill: #212c38;
		stroke: none;
	}
	.quiet {
		fill: var(--quiet);
	}
</style>
