<script lang="ts">
	/* How the evening runs, bench by bench: at the balance, at work, at rest, and waiting; readable as text too. */
	import { hourAndMinute } from '../ui/clock.svelte';
	import { scaleLinear } from 'd3-scale';
	import type { TimetableView } from '../api/client';
	import type { Prepare } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const LANE = 33;
	const LEFT = 76;
	const RIGHT = 30;
	const TOP = 10;
	let width = $state(760);
	let ranges = $state(false);

	const table = $derived(prepare.table);
	const timed = $derived(prepare.timed);
	const working = $derived(timed !== null && timed.done < 1);
	const end = $derived(
		table ? Math.max(table.length, ...table.lanes.map((lane) => (ranges ? lane.finish.p90 : last(lane)))) : 60
	);
	const x = $derived(
		scaleLinear()
			.domain([0, end])
			.range([LEFT, Math.max(width, 300) - RIGHT])
	);
	const height = $derived(TOP + LANE * (table?.lanes.length ?? 1));
	const ticks = $derived.by(() => {
		const step = [10, 15, 30, 60, 120, 240].find((minutes) => x(minutes) - x(0) > 70) ?? 480;
		const first = table ? (step - (table.starts % step)) % step : 0;
		return Array.from({ length: Math.floor((end - first) / step) + 1 }, (_, index) => first + index * step);
	});
	const said = $derived(table ? table.said.join(' ') : '');
	const best = $derived(
		table?.otherwise.filter((row) => row.saves >= 1 || row.fits > table.fits + 0.02) ?? []
	);

	function last(lane: TimetableView['lanes'][number]): number {
		return Math.max(0, ...lane.bars.map((bar) => bar.done));
	}
	const at = (minutes: number): string => hourAndMinute((table?.starts ?? 0) + minutes);

	/* what would help is taken by one tap */
	function take(row: TimetableView['otherwise'][number]): void {
		const { draft } = prepare;
		Object.assign(draft.room, row.room);
		if (row.stagger) draft.stagger = row.stagger;
		if (row.trials !== null) draft.trials = row.trials;
		if (row.overlap !== null) draft.overlap = row.overlap;
		prepare.ask();
	}
</script>

<section aria-labelledby="evening">
	<div class="head">
		<h2 id="evening">How the evening runs</h2>
		{#if table}
			<span class="quiet"
				>{table.evenings} evenings; {ranges ? 'when each bench is done' : 'this is a usual one'}</span
			>
			<button type="button" class="worded" aria-pressed={ranges} onclick={() => (ranges = !ranges)}
				>{ranges ? 'A usual evening' : 'The range'}</button
			>
		{/if}
		<span class="doing" class:working role="status"
			>{#if working}working it out, {Math.round(100 * (timed?.done ?? 0))} %{/if}</span
		>
	</div>
	{#if timed && timed.sessions > 1}
		<div class="sessions" role="group" aria-label="Meetings of the class">
			{#each Array.from({ length: timed.sessions }, (_, index) => index + 1) as session (session)}
				<button
					type="button"
					class="button"
					aria-pressed={prepare.session === session}
					onclick={() => prepare.meet(session)}
					>{session === 1 ? 'First session' : `Session ${session}`}</button
				>
			{/each}
			{#if timed.after}<span class="quiet">after: {timed.after.toLowerCase()}</span>{/if}
		</div>
	{/if}
	<figure bind:clientWidth={width} class:old={working && !table}>
		{#if table}
			<svg {width} height={height + 34} role="img" aria-label={said}>
				<defs>
					<pattern
						id="waits"
						width="8"
						height="8"
						patternUnits="userSpaceOnUse"
						patternTransform="rotate(45)"
					>
						<rect class="wait-ground" width="8" height="8" /><rect class="wait-line" width="4" height="8" />
					</pattern>
				</defs>
				{#each ticks as tick (tick)}
					<line class="grid" x1={x(tick)} x2={x(tick)} y1={TOP - 6} y2={height + 4} />
					<text class="figure tick" x={x(tick)} y={height + 24} text-anchor="middle">{at(tick)}</text>
				{/each}
				{#each table.lanes as lane, index (lane.bench)}
					{@const y = TOP + index * LANE}
					<text class="name" x={0} y={y + 17}>{lane.bench}</text>
					{#if ranges}
						<line class="rest" x1={x(0)} x2={x(lane.finish.p10)} y1={y + 11} y2={y + 11} />
						<rect
							class="hands"
							x={x(lane.finish.p10)}
							width={Math.max(2, x(lane.finish.p90) - x(lane.finish.p10))}
							{y}
							height="22"
						/>
						<line
							class="median"
							x1={x(lane.finish.median)}
							x2={x(lane.finish.median)}
							y1={y - 2}
							y2={y + 24}
						/>
					{:else}
						{#each lane.bars as bar, number (number)}
							{#if bar.begun > bar.asked}
								<rect
									x={x(bar.asked)}
									width={Math.max(1, x(bar.begun) - x(bar.asked))}
									y={y + 3}
									height="16"
									fill="url(#waits)"
									><title>waits for the {bar.at}, {Math.round(bar.begun - bar.asked)} min</title></rect
								>
							{/if}
							{#if bar.kind === 'rests'}
								<rect class="rest" x={x(bar.begun)} width={x(bar.done) - x(bar.begun)} y={y + 8} height="6"
									><title>{bar.label}, {Math.round(bar.done - bar.begun)} min</title></rect
								>
							{:else}
								<rect
									class={bar.kind}
									x={x(bar.begun)}
									width={Math.max(1, x(bar.done) - x(bar.begun))}
									{y}
									height="22"><title>{bar.label}, {at(bar.begun)} to {at(bar.done)}</title></rect
								>
							{/if}
						{/each}
					{/if}
				{/each}
				<line class="over" x1={x(table.length)} x2={x(table.length)} y1={TOP - 10} y2={height + 8} />
			</svg>
			<figcaption>
				<ul class="key" aria-hidden="true">
					<li><span class="box balance"></span>at a balance</li>
					<li><span class="box hands"></span>at work</li>
					<li><span class="box rest"></span>cools, rests</li>
					<li><span class="box wait"></span>waits</li>
					<li><span class="box over"></span>the period ends, {at(table.length)}</li>
				</ul>
			</figcaption>
		{:else if prepare.untimed}
			<p class="quiet empty">No evening to draw yet: {prepare.untimed}</p>
		{:else if prepare.found && !prepare.found.steps.length}
			<p class="quiet empty">No evening to draw yet: the sentence is not whole.</p>
		{:else}
			<p class="quiet empty" aria-busy="true">Letting some evenings pass …</p>
		{/if}
	</figure>
	{#if table}
		<p class="said">
			<strong>{table.said[0]}</strong>
			{table.said.slice(1).join(' ')}
			{#if table.latest_start !== null}The latest begin that is still safe: <strong class="figure"
					>{at(table.latest_start - table.starts)}</strong
				>.{/if}
		</p>
		{#if best.length}
			<ul class="help" aria-label="What would help">
				{#each best as row (row.text)}
					<li>
						<button type="button" class="take" onclick={() => take(row)}>{row.text}</button>
						{row.saves >= 1 ? `saves ${Math.round(row.saves)} min` : 'ends no sooner'}, {Math.round(
							100 * row.fits
						)} % in time
					</li>
				{/each}
			</ul>
		{/if}
		<details class="unfold">
			<summary>The same as text</summary>
			<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls where the page is narrow) -->
			<div class="scroll" tabindex="0" role="group" aria-label="Bench by bench">
				<table class="ruled">
					<thead><tr><th>Bench</th><th>done, usually</th><th>from – to</th><th>waits</th></tr></thead>
					<tbody>
						{#each table.lanes as lane (lane.bench)}
							<tr>
								<th scope="row">{lane.bench}</th>
								<td class="figure">{at(lane.finish.median)}</td>
								<td class="figure">{at(lane.finish.p10)} – {at(lane.finish.p90)}</td>
								<td class="figure">{Math.round(lane.waited.median)} min</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
		</details>
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 10px;
		min-width: 0;
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 2px 14px;
	}
	h2 {
		font-size: 20px;
	}
	.doing {
		margin-left: auto;
		color: var(--quiet);
		font-size: 16px;
	}
	.sessions {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
	}
	.sessions [aria-pressed='true'] {
		background: var(--rule);
		font-weight: 600;
	}
	figure {
		min-width: 0;
		overflow: hidden;
	}
	svg {
		display: block;
		overflow: visible;
	}
	.grid {
		stroke: var(--rule);
		stroke-width: 2;
	}
	.tick {
		fill: var(--quiet);
		font-size: 15px;
	}
	.name {
		fill: var(--ink);
		font-size: 16px;
	}
	rect.balance {
		fill: var(--ink);
	}
	rect.hands {
		fill: var(--clay-edge);
	}
	rect.rest {
		fill: var(--salt);
	}
	line.rest {
		stroke: var(--salt);
		stroke-width: 6;
	}
	.median {
		stroke: var(--ink);
		stroke-width: 3;
	}
	.wait-ground {
		fill: var(--paper);
	}
	.wait-line {
		fill: var(--watch);
	}
	line.over {
		stroke: var(--stop);
		stroke-width: 3;
	}
	.key {
		display: flex;
		flex-wrap: wrap;
		gap: 2px 18px;
		color: var(--quiet);
		font-size: 15px;
	}
	.key li {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.box {
		display: inline-block;
		width: 18px;
		height: 14px;
	}
	.box.balance {
		background: var(--ink);
	}
	.box.hands {
		background: var(--clay-edge);
	}
	.box.rest {
		height: 6px;
		background: var(--salt);
	}
	.box.wait {
		background: repeating-linear-gradient(45deg, var(--watch) 0 3px, var(--paper) 3px 6px);
	}
	.box.over {
		width: 4px;
		background: var(--stop);
	}
	.empty {
		padding: 40px 0;
	}
	.help li {
		padding: 2px 0;
	}
	.take {
		min-height: 36px;
		color: var(--settled);
		font-family: var(--slab);
		font-weight: 600;
		text-decoration: underline;
		text-underline-offset: 4px;
		cursor: pointer;
	}
	.take::first-letter {
		text-transform: uppercase;
	}
	.scroll {
		overflow-x: auto;
	}
	@media print {
		.worded,
		.doing,
		.help,
		.sessions {
			display: none;
		}
	}
</style>
