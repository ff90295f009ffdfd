<script lang="ts">
	import { untrack } from 'svelte';
	import { getDrying, observe, type DryingView, type RestingView } from '../api/client';
	import { follow } from '../api/feed.svelte';
	import { clock, dayAndTime, secondsLeft } from '../ui/clock.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Parts from './Parts.svelte';

	let view = $state<DryingView | null>(null);
	let trouble = $state('');

	async function look(): Promise<boolean> {
		const outcome = await getDrying();
		if (outcome.kind === 'done') {
			view = outcome.value;
			clock.set(view.now);
			trouble = '';
		} else trouble = outcome.title;
		return outcome.kind === 'done';
	}

	$effect(() => untrack(() => follow(look, true)));

	const SHELVES = [1, 2, 3];
	const inOven = $derived(view?.resting.filter((row) => row.rest.waits_in === 'oven') ?? []);
	const at = (place: string) => inOven.filter((row) => row.rest.place === place);
	const elsewhere = (row: RestingView) => view?.places.includes(row.rest.place) === false;
	const due = (row: RestingView) => row.due !== null && secondsLeft(row.due) <= 0;

	async function put(row: RestingView, place: string): Promise<void> {
		const outcome = await observe(row.uuid, row.trial, 'place', place);
		if (outcome.kind !== 'done') trouble = outcome.title;
		await look();
	}
</script>

<TopBar title="Drying" />
<main id="main" tabindex="-1" class="page">
	<Parts here="/drying" />
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if view}
		<div class="two">
			<section aria-labelledby="waiting">
				<h2 id="waiting">What waits</h2>
				<ul class="waits">
					{#each view.resting as row (row.uuid + row.trial)}
						<li class:due={due(row)}>
							<a class="pencil" href="/runs/{row.uuid}">{row.label}</a>
							<div>
								<strong>{row.title}</strong>
								<p>
									In the {row.rest.waits_in} since {dayAndTime(row.rest.since, clock.now)}{#if row.due},
										{due(row) ? 'due since' : 'due'}
										{dayAndTime(row.due, clock.now)}{/if}
								</p>
							</div>
							{#if row.rest.waits_in === 'oven'}
								<div class="field">
									<label for="place-{row.uuid}-{row.trial}">Stands on</label>
									<select
										id="place-{row.uuid}-{row.trial}"
										value={row.rest.place}
										onchange={(event) => void put(row, event.currentTarget.value)}
									>
										{#if !row.rest.place}<option value="">not said</option>{/if}
										{#if row.rest.place && elsewhere(row)}<option value={row.rest.place}
												>{row.rest.place}</option
											>{/if}
										{#each view.places as place (place)}
											<option value={place} disabled={at(place).some((other) => other !== row)}
												>{place}</option
											>
										{/each}
									</select>
								</div>
							{/if}
						</li>
					{:else}
						<li class="quiet empty">
							Nothing is drying. A run that reaches its drying step is listed here, with where it stands and
							since when.
						</li>
					{/each}
				</ul>
				{#if view.is_cut}<p class="quiet">
						There are more that wait, of longer ago: look for them by their day.
					</p>{/if}
			</section>
			<figure class="oven">
				<figcaption><h2>Oven map</h2></figcaption>
				<div class="walls" role="img" aria-label="Three shelves of four places">
					{#each SHELVES as shelf (shelf)}
						<div class="shelf">
							{#each [1, 2, 3, 4] as place (place)}
								{@const here = at(`shelf ${shelf}, place ${place}`)}
								<span class="place" class:taken={here.length > 0} class:due={here.some(due)}>
									{#each here as row (row.uuid + row.trial)}
										{#each row.label.split(' · ') as part (part)}<span>{part}</span>{/each}
									{:else}<span class="quiet">{place}</span>{/each}
								</span>
							{/each}
							<span class="name quiet">shelf {shelf}</span>
						</div>
					{/each}
				</div>
				{#if inOven.some((row) => !row.rest.place)}
					<p class="quiet">
						Not on the map: {inOven
							.filter((row) => !row.rest.place)
							.map((row) => row.label)
							.join(', ')}
					</p>
				{/if}
			</figure>
		</div>
		<section aria-labelledby="names">
			<div class="head">
				<h2 id="names">Names for papers and dishes</h2>
				<button class="button no-print" onclick={() => window.print()} disabled={!view.names.length}
					>Print</button
				>
			</div>
			<p class="quiet">
				In pencil on the rim, before it is weighed: a name written afterwards weighs as product.
			</p>
			<ul class="names">
				{#each view.names as row (row.uuid + row.trial)}
					<li>
						<span class="pencil">{row.label}</span>
						<span>{row.title}</span>
						<span class="quiet">{row.weighed ? 'weighed already' : 'not weighed yet'}</span>
					</li>
				{:else}
					<li class="quiet empty">No open run collects a solid.</li>
				{/each}
			</ul>
		</section>
	{:else if !trouble}
		<p class="quiet" aria-busy="true">Looking what stands where …</p>
	{/if}
</main>

<style>
	.two {
		display: grid;
		grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
		gap: 32px;
		align-items: start;
	}
	h2 {
		font-size: 22px;
	}
	.waits li {
		display: grid;
		grid-template-columns: 140px minmax(0, 1fr) 190px;
		gap: 16px;
		align-items: center;
		min-height: 76px;
		padding: 10px 0;
		border-bottom: 1px solid var(--rule);
	}
	.waits li.empty,
	.names li.empty {
		display: block;
		max-width: 56ch;
	}
	.pencil {
		display: grid;
		place-items: center;
		min-height: 48px;
		padding: 4px 10px;
		border: 2px solid var(--quiet);
		border-radius: 50% / 38%;
		background: var(--raised);
		color: var(--ink);
		font-family: var(--slab);
		font-size: 16px;
		font-weight: 600;
		white-space: nowrap;
		text-decoration: none;
	}
	.due .pencil,
	.place.due {
		border-color: var(--act);
		color: var(--act);
	}
	.field label {
		font-size: 16px;
	}
	.walls {
		display: grid;
		gap: 10px;
		margin-top: 12px;
		padding: 16px;
		border: 3px solid var(--quiet);
		border-radius: 8px;
		background: var(--paper);
	}
	.shelf {
		position: relative;
		display: grid;
		grid-template-columns: repeat(4, minmax(0, 1fr));
		gap: 10px;
		padding-bottom: 24px;
		border-bottom: 4px solid var(--quiet);
	}
	.shelf .name {
		position: absolute;
		right: 4px;
		bottom: 0;
		font-size: 16px;
	}
	.place {
		display: grid;
		place-items: center;
		min-height: 56px;
		padding: 4px;
		border: 1.5px dashed var(--rule);
		border-radius: 50% / 44%;
		font-size: 16px;
		line-height: 1.15;
		text-align: center;
	}
	.place.taken {
		border: 2px solid var(--quiet);
		background: var(--raised);
		font-weight: 600;
	}
	.place.taken.due {
		border-color: var(--act);
	}
	.head {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	.names {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
		gap: 12px 24px;
		padding-top: 12px;
	}
	.names li {
		display: grid;
		gap: 4px;
		justify-items: start;
	}
	.names .pencil {
		min-width: 150px;
	}
	@media (max-width: 900px) {
		.two {
			grid-template-columns: 1fr;
		}
	}
	@media (max-width: 560px) {
		.waits li {
			grid-template-columns: minmax(0, 1fr);
			justify-items: start;
		}
	}
</style>
