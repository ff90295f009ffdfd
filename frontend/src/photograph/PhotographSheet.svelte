<script lang="ts">
	/* Crystals measured on a photograph: drop it in, set the two ends of its scale bar, then those of each crystal. */
	import Undo2 from '@lucide/svelte/icons/undo-2';
	import X from '@lucide/svelte/icons/x';
	import type { EntryView } from '../api/client';
	import Sheet from '../ui/Sheet.svelte';
	import type { Bench } from '../bench/bench.svelte';
	import drawn from '../bench/crystals.svg';
	import { Photograph, type Point } from './photograph.svelte';

	let { bench, entry }: { bench: Bench; entry: EntryView } = $props();

	const LOUPE = 200;
	const MAGNIFIED = 3;
	/* an arrow key moves the cross so many pixels of the screen, with Shift one */
	const STRIDE = 8;
	const ARROWS: Record<string, Point> = {
		ArrowLeft: [-1, 0],
		ArrowRight: [1, 0],
		ArrowUp: [0, -1],
		ArrowDown: [0, 1]
	};

	const photo = new Photograph();
	let open = $state(false);
	let over = $state(false);
	let shownWidth = $state(1);

	const what = $derived(entry.label.replace(/, [^,]*$/, ''));
	const lengths = $derived(photo.sheet?.lengths ?? []);
	$effect(() => {
		photo.zoom = photo.width / shownWidth || 1;
	});

	function change(next: boolean): void {
		open = next;
		if (!next) photo.close();
	}

	function dropped(event: DragEvent): void {
		event.preventDefault();
		over = false;
		if (photo.source) return;
		const file = event.dataTransfer?.files[0];
		if (file) void photo.open(file);
	}

	const at = (event: MouseEvent): Point => {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		return [(event.clientX - box.left) * photo.zoom, (event.clientY - box.top) * photo.zoom];
	};

	function key(event: KeyboardEvent): void {
		const way = ARROWS[event.key];
		if (way) {
			const far = (event.shiftKey ? 1 : STRIDE) * photo.zoom;
			photo.cross = [photo.cross[0] + far * way[0], photo.cross[1] + far * way[1]];
		} else if (event.key === 'Enter' || event.key === ' ') void photo.set(photo.cross);
		else if (event.key === 'Backspace') void photo.takeBack();
		else return;
		event.preventDefault();
	}

	async function record(): Promise<void> {
		const sheet = photo.sheet;
		if (!sheet?.lengths.length) return;
		const note = `${what} on ${photo.name}: scale bar ${sheet.scale}`;
		const found = sheet.lengths;
		change(false);
		await bench.recordMeasured(entry, found, note);
	}
</script>

<!-- a picture that misses the field by a hand is meant for it all the same: the browser would leave the page for it -->
<svelte:window
	ondragover={(event) => open && event.preventDefault()}
	ondrop={(event) => open && dropped(event)}
/>

<div class="opens">
	<Sheet {open} {change} width="1180px" title="Measure {what} on a photograph">
		{#snippet button()}Measure on a photograph{/snippet}
		{#if !photo.source}
			<div
				class="drop"
				class:over
				role="group"
				aria-label="The photograph"
				ondragover={(event) => {
					event.preventDefault();
					over = true;
				}}
				ondragleave={() => (over = false)}
			>
				<p>Drop a photograph here: taken straight from above, a ruler or scale bar beside the crystals.</p>
				<label class="button act"
					>Choose a photograph
					<input
						type="file"
						accept="image/*"
						class="hidden-text"
						onchange={(event) => {
							const file = event.currentTarget.files?.[0];
							event.currentTarget.value = '';
							if (file) void photo.open(file);
						}}
					/></label
				>
				<button class="button" onclick={() => void photo.show(drawn, 'the drawn crystals')}
					>Try it on drawn crystals</button
				>
				{#if photo.trouble}<p class="fault" role="alert">{photo.trouble}</p>{/if}
			</div>
		{:else}
			<div class="table">
				<!-- a finger covers what it points at: it may slide, watched in the loupe, and sets the point when it lifts -->
				<!-- points are set by mouse and finger, or by the arrow keys and Enter; it is a field of its own kind -->
				<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
				<div
					class="picture"
					role="application"
					tabindex="0"
					aria-label="Photograph: arrow keys move the cross, Enter sets a point, Backspace takes it back"
					bind:clientWidth={shownWidth}
					style:aspect-ratio="{photo.width} / {photo.height}"
					style:--wide={photo.width / photo.height}
					onpointermove={(event) => (photo.cross = at(event))}
					onpointerdown={(event) => (photo.cross = at(event))}
					onpointerup={(event) => event.button === 0 && void photo.set(at(event))}
					onkeydown={key}
				>
					<img src={photo.source} alt="" draggable="false" />
					<svg viewBox="0 0 {photo.width} {photo.height}" aria-hidden="true">
						{#if photo.scale[0] && photo.scale[1]}
							{@render between(photo.scale[0], photo.scale[1], 'bar')}
						{/if}
						{#each photo.crystals as ends, index (index)}
							{@render between(ends[0], ends[1], 'crystal')}
							<text
								x={(ends[0][0] + ends[1][0]) / 2}
								y={(ends[0][1] + ends[1][1]) / 2}
								font-size={20 * photo.zoom}>{index + 1}</text
							>
						{/each}
						{#if photo.begun}{@render between(
								photo.begun,
								photo.cross,
								photo.scaled ? 'crystal' : 'bar'
							)}{/if}
						<path
							class="cross"
							d="M{photo.cross[0] - 14 * photo.zoom} {photo.cross[1]}h{28 * photo.zoom}M{photo
								.cross[0]} {photo.cross[1] - 14 * photo.zoom}v{28 * photo.zoom}"
						/>
					</svg>
				</div>
				<div class="side">
					<p class="doing" role="status">{photo.doing}</p>
					<div
						class="loupe"
						aria-hidden="true"
						style:background-image="url({photo.source})"
						style:background-size="{MAGNIFIED * shownWidth}px auto"
						style:background-position="{LOUPE / 2 - (MAGNIFIED * photo.cross[0]) / photo.zoom}px {LOUPE / 2 -
							(MAGNIFIED * photo.cross[1]) / photo.zoom}px"
					></div>
					<div class="field">
						<label for="bar">Length of the scale bar</label>
						<input
							id="bar"
							bind:value={photo.bar}
							oninput={() => void photo.measure()}
							autocomplete="off"
							aria-invalid={photo.barFault ? 'true' : undefined}
							aria-describedby="bar-said"
						/>
						<p id="bar-said" class={photo.barFault ? 'fault' : 'quiet'}>
							{photo.barFault || photo.sheet?.scale || (photo.scaled ? '' : 'Its two ends are set first.')}
						</p>
					</div>
					{#if photo.fault}<p class="fault" role="alert">{photo.fault}</p>{/if}
					<ol aria-label="Lengths">
						{#each lengths as row, index (index)}
							<li>
								<span class="quiet">{index + 1}</span>
								<span class="figure">{row.shown}</span>
								<button
									class="small"
									aria-label="Leave out crystal {index + 1}"
									onclick={() => void photo.leaveOut(index)}><X size={20} aria-hidden="true" /></button
								>
							</li>
						{/each}
					</ol>
					{#if photo.scaled}<button class="button" onclick={() => void photo.scaleAnew()}
							>Set the scale bar anew</button
						>{/if}
					<button class="button" disabled={!photo.scale.length} onclick={() => void photo.takeBack()}
						><Undo2 size={20} aria-hidden="true" /> Take the last point back</button
					>
				</div>
			</div>
		{/if}
		<div class="ends">
			<button class="button" onclick={() => change(false)}>Cancel</button>
			{#if photo.source}
				<button class="button" onclick={() => photo.close()}>Another photograph</button>
				<button class="button act" disabled={!lengths.length} onclick={() => void record()}
					>Record {lengths.length === 1 ? 'one length' : `${lengths.length} lengths`}</button
				>
			{/if}
		</div>
	</Sheet>
</div>

{#snippet between(one: Point, other: Point, kind: string)}
	{#each ['edge', kind] as line (line)}
		<line class={line} x1={one[0]} y1={one[1]} x2={other[0]} y2={other[1]} />
	{/each}
	{#each [one, other] as end, index (index)}
		<circle class={kind} cx={end[0]} cy={end[1]} r={5 * photo.zoom} />
	{/each}
{/snippet}

<style>
	.opens {
		justify-self: start;
	}
	.drop,
	.table {
		margin: 14px 0 18px;
	}
	.drop {
		display: grid;
		justify-items: center;
		align-content: center;
		gap: 16px;
		min-height: 300px;
		padding: 24px;
		border: 2px dashed var(--quiet);
		border-radius: 10px;
		text-align: center;
	}
	.drop.over {
		border-color: var(--act);
		background: var(--settled-wash);
	}
	.drop:focus-within label {
		outline: 3px solid var(--act);
		outline-offset: 2px;
	}
	.table {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 240px;
		gap: 20px;
		align-items: start;
	}
	.picture {
		position: relative;
		justify-self: center;
		width: min(100%, calc((100dvh - 220px) * var(--wide)));
		touch-action: none;
		cursor: crosshair;
	}
	img,
	svg {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
	}
	line,
	.cross,
	circle {
		fill: none;
		vector-effect: non-scaling-stroke;
	}
	/* on any photograph: a dark edge below a light line */
	.edge {
		stroke: #14100c;
		stroke-width: 6;
	}
	.bar {
		stroke: #f2b45c;
		stroke-width: 3;
	}
	.crystal {
		stroke: #fffdf8;
		stroke-width: 3;
	}
	.cross {
		stroke: #fffdf8;
		stroke-width: 1.5;
		mix-blend-mode: difference;
	}
	text {
		fill: #fffdf8;
		stroke: #14100c;
		stroke-width: 4;
		vector-effect: non-scaling-stroke;
		paint-order: stroke;
		font-weight: 700;
	}
	.side {
		display: grid;
		gap: 12px;
	}
	.doing {
		font-weight: 600;
		min-height: 3em;
	}
	.loupe {
		position: relative;
		justify-self: center;
		width: 200px;
		height: 200px;
		border: 2px solid var(--ink);
		border-radius: 50%;
		background-repeat: no-repeat;
		background-color: var(--band);
		overflow: hidden;
	}
	.loupe::before,
	.loupe::after {
		content: '';
		position: absolute;
		background: #fffdf8;
		mix-blend-mode: difference;
	}
	.loupe::before {
		left: 50%;
		top: 20%;
		width: 1.5px;
		height: 60%;
	}
	.loupe::after {
		top: 50%;
		left: 20%;
		height: 1.5px;
		width: 60%;
	}
	ol {
		max-height: 220px;
		overflow-y: auto;
	}
	li {
		display: grid;
		grid-template-columns: 24px 1fr 48px;
		align-items: center;
	}
	.small {
		display: grid;
		place-items: center;
		width: 48px;
		height: 48px;
		cursor: pointer;
	}
	@media (max-width: 900px) {
		.table {
			grid-template-columns: 1fr;
		}
		.side {
			grid-template-columns: 210px 1fr;
		}
		.loupe {
			grid-row: 1 / span 4;
			align-self: start;
		}
	}
</style>
