<script lang="ts">
	/* Small drawings of techniques, our own; a tap shows one large, with what the hands do. */
	import { Dialog } from '@skeletonlabs/skeleton-svelte';
	import Sheet from '../ui/Sheet.svelte';

	let { name }: { name: string } = $props();
	let open = $state(false);

	const CARDS: Record<string, { title: string; line: string }> = {
		burner: { title: 'Flame', line: 'Air open: hot, blue. Half shut: cool, yellow, sooty.' },
		tongs: { title: 'Tongs', line: 'Across the rim; down on gauze only.' },
		hot_plate: { title: 'Hot plate', line: 'It looks the same hot and cold; low first, then higher.' },
		oven: { title: 'Oven', line: 'On a watch glass, its name beside it, nothing that burns.' },
		meniscus: { title: 'Lowest point', line: 'At eye level: from above it reads too much.' },
		meniscus_inverted: { title: 'Turned over', line: 'Lowest point of the curve; look which way it counts.' },
		fold_quarter: { title: 'In four', line: 'Three layers on one side, one on the other.' },
		fold_fluted: { title: 'Flutes', line: 'Each eighth folded back between its neighbours.' },
		gravity: { title: 'By gravity', line: 'Stem against the wall, paper below the rim.' },
		vacuum: { title: 'Trap between', line: 'First the tubing off, then the water.' },
		magnet: { title: 'Held by a magnet', line: 'The magnet holds the solid; the clear liquid goes.' },
		lift: {
			title: 'By the dry edge',
			line: 'Wet paper tears: lift it by its fold, lay it whole on the glass.'
		},
		decanting: { title: 'Along the rod', line: 'Clear liquid first, the solid last.' }
	};
	const card = $derived(CARDS[name]);
</script>

{#snippet drawing()}
	<svg viewBox="0 0 120 96" aria-hidden="true">
		{#if name === 'burner'}
			<path d="M50 90 H70 V58 H50 Z M44 90 H76" class="glass" />
			<path d="M60 58 C46 44 56 30 60 12 C64 30 74 44 60 58 Z" class="warm" />
			<path d="M60 57 C54 48 58 42 60 34 C62 42 66 48 60 57 Z" class="wet" />
			<path d="M70 74 H92" class="line" />
		{:else if name === 'tongs'}
			<path d="M36 58 H76 L70 84 H42 Z" class="clay" />
			<path d="M8 20 L52 56 M8 34 L60 62" class="line thick" />
			<path d="M24 88 H96 M30 92 H90" class="line" />
		{:else if name === 'hot_plate'}
			<path d="M14 66 H106 V84 H14 Z M26 84 V90 M94 84 V90" class="glass" />
			<path d="M26 64 H94" class="line thick" />
			<circle cx="90" cy="75" r="5" class="line" />
			<path d="M34 42 H86 Q80 62 70 62 H50 Q40 62 34 42 Z" class="clay" />
			<path d="M48 30 q5 -7 0 -14 M60 30 q5 -7 0 -14 M72 30 q5 -7 0 -14" class="line dash" />
		{:else if name === 'oven'}
			<path d="M12 12 H108 V86 H12 Z" class="glass" />
			<path d="M20 20 H80 V78 H20 Z" class="paper" />
			<path d="M22 60 H78" class="line thick" />
			<path d="M34 50 Q50 60 66 50" class="glass" />
			<path d="M38 50 Q50 38 62 50 Z" class="clay" />
			<circle cx="94" cy="30" r="8" class="line" />
			<path d="M94 30 L98 24 M88 50 H100 M88 60 H100" class="line" />
		{:else if name === 'meniscus' || name === 'meniscus_inverted'}
			{#if name === 'meniscus'}
				<path d="M46 6 V90 H74 V6" class="glass" />
				<path d="M46 44 Q60 56 74 44 V89 H46 Z" class="wet" />
			{:else}
				<path d="M46 90 V8 Q60 2 74 8 V90" class="glass" />
				<path d="M46 46 Q60 58 74 46 V89 H46 Z" class="wet" />
			{/if}
			<path d="M74 52 H84 M74 40 H80 M74 64 H80 M74 28 H80 M74 76 H80" class="line" />
			<path d="M116 52 H78" class="line dash" />
			<path d="M100 46 q10 6 0 12" class="line" />
		{:else if name === 'fold_quarter'}
			<circle cx="24" cy="30" r="20" class="paper" />
			<path d="M24 10 V50" class="line dash" />
			<path d="M52 10 a20 20 0 0 1 0 40 Z" class="paper" />
			<path d="M52 30 H72" class="line dash" />
			<path d="M82 30 h20 a20 20 0 0 1 -20 20 Z" class="paper" />
			<path d="M40 62 H80 L60 94 Z M40 62 Q60 72 80 62 M60 66 V94" class="paper" />
		{:else if name === 'fold_fluted'}
			<circle cx="30" cy="34" r="26" class="paper" />
			<path d="M30 8 V60 M4 34 H56 M12 16 L48 52 M48 16 L12 52" class="line dash" />
			<path d="M66 40 l7 10 6 -10 7 10 6 -10 7 10 6 -10 L92 92 Z" class="paper" />
			<path d="M73 50 L91 90 M86 50 L92 90 M99 50 L93 90" class="line" />
		{:else if name === 'lift'}
			<path d="M8 30 H52 L36 56 V84 H24 V56 Z" class="glass" />
			<path d="M70 34 H106 L88 66 Z M88 34 V62" class="paper" />
			<path d="M79 52 H97 L88 66 Z" class="clay" />
			<path d="M88 8 V32 M80 14 Q88 4 96 14" class="line thick" />
			<path d="M64 84 Q88 94 112 84" class="glass" />
			<path d="M60 50 q-8 -22 14 -24" class="line dash" />
		{:else if name === 'gravity' || name === 'decanting'}
			<path d="M34 22 H86 L64 52 V74 L60 80 V52 Z" class="glass" />
			<path d="M40 28 H80 L63 50 Z" class="paper" />
			<path d="M48 38 H72 L63 50 Z" class="wet" />
			<path d="M40 62 V92 H82 V62" class="glass" />
			<path d="M41 80 H81 V91 H41 Z" class="wet" />
			<path d="M60 80 L42 84" class="line dash" />
			{#if name === 'decanting'}
				<path d="M62 36 L98 2" class="line thick" />
				<path d="M84 2 L112 14 L104 30 L82 18 Z" class="glass" />
			{:else}
				<path d="M62 36 L84 6" class="line thick" />
			{/if}
		{:else if name === 'magnet'}
			<g transform="rotate(38 52 52)">
				<path d="M30 24 V80 H74 V24" class="glass" />
				<path d="M31 46 L73 12 V79 H31 Z" class="wet" />
				<path d="M34 70 q18 -10 36 0 v9 H34 Z" class="grains" />
				<path d="M38 84 H66 V94 H38 Z" class="warm" />
			</g>
			<path d="M88 34 q14 8 16 54" class="line dash" />
			<path d="M14 26 H46 V38 H14 Z M26 38 V46 H34 V38" class="glass" />
			<path d="M14 38 H46" class="line thick" />
			<path d="M24 44 V52 L8 90 H52 L36 52 V44 M38 54 H62" class="glass" />
			<path d="M11 82 H49 L52 90 H8 Z" class="wet" />
			<path d="M62 54 V62 M62 62 H86 V90 H62 Z M84 54 V62 M84 54 H112" class="glass" />
			<path d="M112 46 v16" class="line thick" />
		{/if}
	</svg>
{/snippet}

{#if card}
	<span class="thumb">
		<Sheet
			{open}
			change={(isOpen) => (open = isOpen)}
			width="560px"
			title={card.title}
			look="card"
			name="Drawing: {card.title}"
			button={drawing}
		>
			<figure>
				{@render drawing()}
				<figcaption>{card.line}</figcaption>
			</figure>
			<Dialog.CloseTrigger class="button">Close</Dialog.CloseTrigger>
		</Sheet>
	</span>
{/if}

<style>
	.thumb {
		float: right;
		margin: 2px 0 4px 10px;
	}
	.thumb :global(.card) {
		display: block;
		width: 84px;
		padding: 6px;
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--paper);
		cursor: pointer;
	}
	svg {
		display: block;
		width: 100%;
		height: auto;
	}
	figure {
		display: grid;
		gap: 16px;
		padding: 8px 0;
	}
	figure svg {
		max-width: 420px;
		margin: 0 auto;
	}
	figcaption {
		font-size: 21px;
	}
	path,
	circle {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2;
		stroke-linejoin: round;
		stroke-linecap: round;
	}
	.wet {
		fill: var(--salt);
		stroke: var(--salt-edge);
		stroke-width: 1;
	}
	.warm {
		fill: var(--bar);
		stroke: var(--watch);
		stroke-width: 1.5;
	}
	.grains {
		fill: var(--ink);
	}
	.clay {
		fill: var(--clay);
		stroke: var(--clay-edge);
	}
	.paper {
		fill: var(--raised);
	}
	.thick {
		stroke-width: 4;
	}
	.dash {
		stroke-dasharray: 4 4;
		stroke-width: 1.5;
	}
</style>
