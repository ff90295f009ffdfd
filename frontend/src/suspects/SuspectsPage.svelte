<script lang="ts">
	import Wide from '../ui/Wide.svelte';
	import { scaleLinear } from 'd3-scale';
	import { untrack } from 'svelte';
	import { innerWidth } from 'svelte/reactivity/window';
	import type { RunView, Suspect } from '../api/client';
	import RunFrame from '../log/RunFrame.svelte';
	import { route } from '../router';
	import { chosenTrial } from '../trials/trial';
	import { Suspects } from './suspects.svelte';
	import SuspectRow from './SuspectRow.svelte';

	const width = $derived((innerWidth.current ?? 1280) < 900 ? 230 : 420);
	const uuid = $derived(route.params['uuid'] ?? '');
	const desk = $derived.by(() => {
		const [id, label] = [uuid, chosenTrial()];
		return untrack(() => new Suspects(id, label));
	});
	$effect(() => {
		const shown = desk;
		untrack(() => void shown.look());
	});

	const found = $derived(desk.found);
	/* the scale holds both figures; an arrow that leaves it is cut, and shows that it is */
	const x = $derived.by(() => {
		if (!found) return scaleLinear().range([0, width]);
		const gap = Math.max(Math.abs(found.measured - found.expected), 1e-6 * Math.abs(found.expected));
		const [low, high] = [Math.min(found.measured, found.expected), Math.max(found.measured, found.expected)];
		return scaleLinear()
			.domain([low - 0.75 * gap, high + 0.75 * gap])
			.range([14, width - 14]);
	});
	const most = $derived(desk.chosen ? Math.max(1.5 * desk.chosen.most, 1.2 * (desk.chosen.dose ?? 0)) : 1);
	const words = (row: Suspect) => `${row.label}, ${desk.tried?.dose_text ?? ''}`;
</script>

<RunFrame name="Suspects" page="/suspects">
	{#snippet content(run: RunView)}
		<div class="head">
			<p>
				<span class="quiet">measured</span>
				<span class="figure big">{run.answer.headline ?? 'no result yet'}</span>
			</p>
			<form
				class="no-print"
				onsubmit={(event) => {
					event.preventDefault();
					void desk.look();
				}}
			>
				<label for="expect" class="quiet">expected</label>
				<input
					id="expect"
					class="figure"
					bind:value={desk.expect}
					placeholder={found?.expected_text ?? ''}
					inputmode="decimal"
					autocomplete="off"
					aria-invalid={desk.fault !== ''}
					aria-describedby="expect-fault"
				/>
				<button class="button">Compare</button>
			</form>
			<p id="expect-fault" class="fault" aria-live="polite">{desk.fault}</p>
			{#if found}<p class="gap"><strong>{found.text}</strong></p>{/if}
		</div>
		{#if found}
			{#if found.together.length}
				<section class="together" aria-labelledby="two-together">
					<h2 id="two-together">No single cause will do. Two together would:</h2>
					<ul>
						{#each found.together as pair (pair.text)}<li>{pair.text}</li>{/each}
					</ul>
				</section>
			{/if}
			<Wide label="Suspects, a table">
				<table>
					<thead>
						<tr>
							<th>Cause</th><th>What a usual dose does</th><th>Dose that would explain it</th><th>So it is</th
							>
						</tr>
					</thead>
					<tbody>
						{#each found.suspects as row (row.code)}
							<SuspectRow
								{row}
								{found}
								{x}
								{width}
								chosen={row.code === desk.code}
								choose={() => desk.choose(row.code)}
							/>
						{/each}
					</tbody>
					<tfoot>
						<tr>
							<td></td>
							<td>
								<svg {width} height="26" aria-hidden="true">
									<text x={x(found.measured)} y="18" text-anchor="middle" class="measured">measured</text>
									<text x={x(found.expected)} y="18" text-anchor="middle">expected</text>
								</svg>
							</td>
							<td></td><td></td>
						</tr>
					</tfoot>
				</table>
			</Wide>
			{#if desk.chosen}
				{@const row = desk.chosen}
				<section class="try no-print" aria-label="Try a dose">
					<label for="dose">{row.label}</label>
					<input
						id="dose"
						type="range"
						min="0"
						max={most}
						step={most / 200}
						value={desk.dose}
						oninput={(event) => desk.try(Number(event.currentTarget.value))}
					/>
					<p class="figure" aria-live="polite">
						{desk.tried ? `${desk.tried.dose_text} → ${desk.tried.result_text}` : '…'}
					</p>
					<button class="button act" onclick={() => desk.note(words(row))}>Note it in the log</button>
					<p class="quiet" role="status">{desk.noted}</p>
				</section>
			{/if}
			<p class="quiet">
				Each arrow and each dose is replayed through this run's own calculation. A believable cause is not a
				proven one.
			</p>
		{/if}
	{/snippet}
</RunFrame>

<style>
	.head {
		display: grid;
		grid-template-columns: auto auto 1fr;
		align-items: center;
		gap: 4px 32px;
	}
	.big {
		font-size: 22px;
		font-weight: 600;
	}
	form {
		display: flex;
		align-items: center;
		gap: 10px;
	}
	form input {
		width: 168px;
		min-height: 48px;
		padding: 6px 10px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--raised);
	}
	.fault:empty {
		display: none;
	}
	.gap,
	.fault {
		grid-column: 1 / -1;
	}
	table {
		width: 100%;
	}
	thead th {
		padding: 4px 12px 6px 0;
		border-bottom: 1px solid var(--rule);
		color: var(--quiet);
		font-weight: 400;
		text-align: left;
	}
	text {
		fill: var(--ink);
		font-size: 16px;
	}
	.measured {
		fill: var(--settled);
	}
	.together {
		margin: 4px 0 14px;
		padding: 12px 18px;
		border-left: 5px solid var(--watch);
		border-radius: 6px;
		background: var(--raised);
	}
	.together h2 {
		font-size: 18px;
	}
	.together li {
		padding: 4px 0;
	}
	.try {
		display: grid;
		grid-template-columns: 220px 1fr auto auto;
		align-items: center;
		gap: 6px 20px;
		padding: 14px 18px;
		border: 1px solid var(--rule);
		border-radius: 8px;
		background: var(--raised);
	}
	.try label {
		font-family: var(--slab);
		font-weight: 600;
		font-size: 18px;
	}
	.try label::first-letter {
		text-transform: uppercase;
	}
	.try input {
		width: 100%;
		min-height: 48px;
		accent-color: var(--act);
	}
	.try .figure {
		min-width: 210px;
		font-size: 20px;
	}
	.try .quiet {
		grid-column: 1 / -1;
	}
	.try .quiet:empty {
		display: none;
	}
	@media (max-width: 560px) {
		table,
		tbody {
			display: block;
		}
		thead {
			display: none;
		}
		form {
			flex-wrap: wrap;
		}
	}
	@media (max-width: 900px) {
		.head,
		.try {
			grid-template-columns: 1fr;
		}
	}
</style>
