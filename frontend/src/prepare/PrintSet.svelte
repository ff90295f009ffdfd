<script lang="ts">
	/* The printed set of a class on A4: store room list, kit, solutions, labels to cut, waste, benches and their times. */
	import { hourAndMinute } from '../ui/clock.svelte';
	import type { PreparedView, TimetableView } from '../api/client';
	import Sentence from '../ui/Sentence.svelte';

	interface Shown {
		title: string;
		found: PreparedView;
		table: TimetableView | null;
		places: { bench: string; students: string[]; isOut: boolean }[];
	}
	let { title, found, table, places }: Shown = $props();

	const benches = $derived(places.filter((row) => !row.isOut).length);
	const at = (minutes: number): string => hourAndMinute((table?.starts ?? 0) + minutes);
	const lane = (bench: string) => table?.lanes.find((row) => row.bench === bench);
	const stuck = $derived(found.labels.filter((row) => row.on !== 'pencil'));
	const pencilled = $derived(found.labels.filter((row) => row.on === 'pencil'));
</script>

<article class="set" aria-label="To be printed">
	<h1>{title}</h1>
	<p class="sentence">
		{#each found.sentence as part, index (index)}<Sentence text={part.text} />{/each}
	</p>
	<p>{found.caution}</p>
	{#each found.hazards as said (said)}<p>{said}.</p>{/each}

	<h2>From the store</h2>
	<table>
		<tbody>
			{#each found.order as row, index (index)}
				<tr
					><td class="box"></td><th scope="row"><Sentence text={row.what} /></th><td>{row.amount}</td><td
						>{#if row.makes}for <Sentence text={row.makes} />{/if}</td
					></tr
				>
			{/each}
		</tbody>
	</table>
	<h2>Kit</h2>
	<table>
		<tbody>
			{#each found.kit as row (row.item)}
				<tr
					><td class="box"></td><th scope="row">{row.item}</th><td
						>{row.place === 'bench' ? row.count * benches : row.count}</td
					><td>{row.place === 'bench' ? `${row.count} a bench` : 'for the room'}</td></tr
				>
			{/each}
		</tbody>
	</table>
	{#each found.recipes as recipe (recipe.title)}
		<section>
			<h2>Make {recipe.make} of <Sentence text={recipe.title} /></h2>
			<p>{recipe.need}. {recipe.rule}. {recipe.basis}</p>
			<ol>
				{#each recipe.steps as step (step.text)}<li>
						<Sentence text={step.text} />
						{#if step.caution}<strong><Sentence text={step.caution} /></strong>{/if}
					</li>{/each}
			</ol>
			<p>{recipe.caution}</p>
		</section>
	{/each}
	<section>
		<h2>Benches</h2>
		<table>
			<thead><tr><th>Bench</th><th>Students</th><th>done, usually</th><th>nine of ten by</th></tr></thead>
			<tbody>
				{#each places as place (place.bench)}
					{@const times = lane(place.bench)}
					<tr>
						<th scope="row">{place.bench}</th>
						<td>{place.isOut ? 'dropped out' : place.students.join(', ')}</td>
						<td>{times ? at(times.finish.median) : ''}</td>
						<td>{times ? at(times.finish.p90) : ''}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if table}<p>{table.said.join(' ')}</p>{/if}
	</section>
	{#if found.waste}
		<section>
			<h2>Waste</h2>
			{#each found.waste.containers as box (box.title)}
				<p>
					<strong>{box.title}.</strong>
					{box.fill}
					{box.lines
						.map((line) => [line.amount, line.name || line.what].filter(Boolean).join(' '))
						.join('; ')}
					{box.say}
				</p>
			{/each}
			<p>{found.waste.rules}</p>
		</section>
	{/if}
	<section>
		<h2>Labels</h2>
		<ul class="labels">
			{#each stuck as row (row.text)}<li><Sentence text={row.text} plain /></li>{/each}
		</ul>
		<h2>In pencil, before anything is weighed</h2>
		<ul class="pencil">
			{#each pencilled as row (row.text)}<li>{row.text}</li>{/each}
		</ul>
	</section>
</article>

<style>
	.set {
		display: none;
	}
	@media print {
		.set {
			display: block;
			font-size: 11pt;
		}
		h1 {
			font-size: 20pt;
		}
		h2 {
			margin: 12pt 0 4pt;
			font-size: 13pt;
			break-after: avoid;
		}
		.sentence {
			margin-bottom: 6pt;
			font-family: var(--slab);
		}
		section,
		tr {
			break-inside: avoid;
		}
		table {
			width: 100%;
			border-collapse: collapse;
		}
		td,
		th {
			padding: 3pt 8pt 3pt 0;
			border-bottom: 0.5pt solid #777;
			text-align: left;
			font-weight: 400;
		}
		thead th {
			font-weight: 600;
		}
		.box {
			width: 16pt;
		}
		.box::before {
			display: inline-block;
			width: 9pt;
			height: 9pt;
			border: 0.8pt solid #000;
			content: '';
		}
		ol {
			padding-left: 16pt;
			list-style: decimal;
		}
		.labels {
			display: grid;
			grid-template-columns: 1fr 1fr;
			gap: 6pt;
		}
		.labels li {
			padding: 10pt;
			border: 0.8pt dashed #000;
			font-size: 13pt;
			break-inside: avoid;
		}
		.pencil {
			columns: 4;
		}
	}
</style>
