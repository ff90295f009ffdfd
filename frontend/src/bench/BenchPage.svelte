<script lang="ts">
	import { untrack } from 'svelte';
	import CrystalSizes from '../pictures/CrystalSizes.svelte';
	import { beside } from '../api/place';
	import { who } from '../doors/who.svelte';
	import GasTube from '../pictures/GasTube.svelte';
	import LossBars from '../pictures/LossBars.svelte';
	import MassStair from '../pictures/MassStair.svelte';
	import PressureFall from '../pictures/PressureFall.svelte';
	import ReactingBars from '../pictures/ReactingBars.svelte';
	import ReagentTable from '../pictures/ReagentTable.svelte';
	import SolubilityCurve from '../pictures/SolubilityCurve.svelte';
	import { whenNoted } from '../practice/beside';
	import PhotographSheet from '../photograph/PhotographSheet.svelte';
	import { navigate, route } from '../router';
	import TrialLinks from '../trials/TrialLinks.svelte';
	import { chosenTrial } from '../trials/trial';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import { narrow, wide } from '../ui/sizes';
	import AnswerHead from './AnswerHead.svelte';
	import AnswerMore from './AnswerMore.svelte';
	import { Bench } from './bench.svelte';
	import Entry from './Entry.svelte';
	import FirstVerdict from './FirstVerdict.svelte';
	import OtherBenches from './OtherBenches.svelte';
	import Steps from './Steps.svelte';
	import Told from './Told.svelte';
	import Writer from './Writer.svelte';

	const uuid = $derived(route.params['uuid'] ?? '');
	const trial = $derived(chosenTrial());
	const bench = $derived.by(() => {
		const [id, label] = [uuid, trial];
		return untrack(() => new Bench(id, label));
	});
	const run = $derived(bench.run);
	const several = $derived((run?.trials.length ?? 0) > 1);
	const size = $derived(wide.current ? 'wide' : narrow.current ? 'narrow' : 'middle');

	/* where there is room for one thing at a time */
	const VIEWS = { now: 'Now', weighed: 'Measured', means: 'Answer' } as const;
	let view = $state<keyof typeof VIEWS>('now');

	async function another(): Promise<void> {
		const label = await bench.another();
		if (label !== null) await navigate('/runs/:uuid', { params: { uuid }, search: { trial: label } });
	}

	$effect(() => {
		const shown = bench;
		// what the first look reads must not begin everything anew
		return untrack(() => shown.begin());
	});
	$effect(() => {
		const shown = bench;
		return untrack(() => (beside ? whenNoted((figure) => shown.type(figure)) : undefined));
	});
	$effect(() => {
		// the trial that was shown has been taken back
		if (bench.gone) void navigate('/runs/:uuid', { params: { uuid } });
	});
</script>

{#snippet drawings(bench: Bench, run: NonNullable<Bench['run']>)}
	{@const pictures = run.pictures}
	<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls where the field below needs room) -->
	<div
		class="pictures"
		class:three={pictures.reacting}
		class:tabled={pictures.table}
		role="region"
		aria-label="Pictures"
		tabindex={size === 'middle' ? undefined : 0}
	>
		{#if pictures.gas}
			<GasTube gas={pictures.gas} next={bench.entry} typed={bench.typed} apparatus={run.apparatus} />
			<PressureFall gas={pictures.gas} />
		{:else if pictures.curve}
			<SolubilityCurve curve={pictures.curve} />
			<p class="quiet">
				<Sentence text="{pictures.curve.name}: g of {pictures.curve.basis}, per 100 g of solvent" />
			</p>
		{:else if pictures.sizes}
			<CrystalSizes sizes={pictures.sizes} />
			{#if bench.entry?.kind === 'ruler'}<PhotographSheet {bench} entry={bench.entry} />{/if}
		{:else}
			{#if pictures.reacting}<ReactingBars reacting={pictures.reacting} />{/if}
			{#if pictures.table}<ReagentTable table={pictures.table} />{:else}
				<MassStair treads={run.stair} next={bench.entry} />
			{/if}
		{/if}
		{#if run.tolerance}
			<LossBars
				losses={run.losses}
				toleranceMg={run.tolerance_mg}
				tolerance={run.tolerance}
				round={run.round}
			/>
		{/if}
	</div>
{/snippet}

{#if bench.missing}
	<TopBar title="No such run" />
	<main class="plain" id="main" tabindex="-1">
		<p>There is no run at this address. It may belong to another database.</p>
		<a class="button" href="/">All runs</a>
	</main>
{:else if bench.refused}
	<TopBar title="Not here" />
	<main class="plain" id="main" tabindex="-1">
		<p role="alert">{bench.refused}</p>
		<a class="button" href="/">All runs</a>
	</main>
{:else if !run}
	<TopBar title="Clay Kettle" />
	<main class="plain" id="main" tabindex="-1" aria-busy="true">
		<p class="quiet">
			{bench.away ? 'The server does not answer. Trying again every two seconds.' : 'Fetching the run …'}
		</p>
	</main>
{:else}
	<div class="bench">
		<TopBar title={run.title} place="Bench {run.bench}, trial {run.trial.label}">
			<Writer {bench} />
			{#if !several && size !== 'narrow'}<button class="button" onclick={another}>Another trial</button>{/if}
		</TopBar>
		{#if several}
			<TrialLinks {run}>
				<a class="button" href="/runs/{run.uuid}/trials">Side by side</a>
				<button class="button" onclick={another}>Another trial</button>
			</TrialLinks>
		{/if}
		{#if who.atBench}<Told {bench} />{/if}
		<main class={size} id="main" tabindex="-1">
			<!-- the field first: what is done here all the time is reached first by the keys too -->
			<div class="entry no-print">
				{#if size === 'narrow'}<FirstVerdict {run} />{/if}
				<Entry {run} {bench} />
			</div>
			{#if size === 'narrow'}
				<div class="views no-print" role="group" aria-label="What is shown">
					{#each Object.entries(VIEWS) as [name, title] (name)}
						<button aria-pressed={view === name} onclick={() => (view = name as keyof typeof VIEWS)}
							>{title}</button
						>
					{/each}
				</div>
			{/if}
			{#if size !== 'narrow' || view === 'now'}<div class="steps"><Steps {run} {bench} /></div>{/if}
			{#if size === 'wide' || (size === 'narrow' && view === 'weighed')}{@render drawings(bench, run)}{/if}
			{#if size !== 'narrow' || view === 'means'}
				<section class="answer" aria-label="Answer so far">
					<div class="head"><AnswerHead {run} verdictElsewhere={size === 'narrow'} /></div>
					<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls) -->
					<div class="more" role="region" aria-label="What the answer rests on" tabindex="0">
						{#if size === 'middle'}{@render drawings(bench, run)}{/if}
						<AnswerMore {run} {bench} />
						{#if !several && size === 'narrow'}
							<button class="button another" onclick={another}>Another trial</button>
						{/if}
					</div>
				</section>
			{/if}
		</main>
		{#if bench.shut}<p class="clock" role="alert">{bench.shut}</p>{/if}
		{#if run.clock_doubt}<p class="clock" role="alert">{run.clock_doubt}</p>{/if}
		{#if size !== 'narrow'}<OtherBenches {bench} />{/if}
	</div>
{/if}

<style>
	.plain {
		display: grid;
		gap: 20px;
		justify-items: start;
		padding: 48px 24px;
		max-width: 60ch;
	}
	.bench {
		display: flex;
		flex-direction: column;
		min-height: 100dvh;
	}
	.bench > main {
		flex: 1 0 auto;
	}
	.steps,
	.more,
	.pictures {
		/* what is hidden from the eyes scrolls with what it belongs to */
		position: relative;
	}
	/* each scrolls within the room that is left beside the field. What is said above may take of it down to a least
	   height; beyond that the page scrolls as a whole, and nothing ever lies over anything. */
	main:not(.plain) {
		display: grid;
	}
	.wide {
		grid-template:
			'steps pictures answer' minmax(180px, 1fr) 'steps entry answer' auto / 304px minmax(0, 1fr)
			340px;
	}
	.middle {
		grid-template: 'steps answer' minmax(180px, 1fr) 'steps entry' auto / 284px minmax(0, 1fr);
	}
	.narrow {
		grid-template: 'views' auto 'shown' minmax(120px, 1fr) 'entry' auto / minmax(0, 1fr);
	}
	main > :is(.steps, .answer, .pictures) {
		contain: size;
	}
	.steps {
		display: flex;
		flex-direction: column;
		min-height: 0;
		grid-area: steps;
		border-right: 1px solid var(--rule);
	}
	.narrow > :is(.steps, .answer, :global(.pictures)) {
		grid-area: shown;
		border: 0;
	}
	.narrow .steps {
		display: block;
		overflow-y: auto;
	}
	.clock {
		padding: 8px 24px;
		background: var(--raised);
		color: var(--watch);
		font-weight: 600;
	}
	.another {
		flex-shrink: 0;
		margin-top: 8px;
	}
	.answer {
		display: flex;
		flex-direction: column;
		grid-area: answer;
		overflow-y: auto;
	}
	.wide .answer {
		border-left: 1px solid var(--rule);
	}
	.head {
		padding: 14px 20px 4px;
	}
	.middle .head {
		padding: 10px 20px 4px;
		border-bottom: 1px solid var(--rule);
	}
	.more {
		display: flex;
		flex: 1;
		flex-direction: column;
		min-height: 120px;
		overflow-y: auto;
		padding: 0 20px 16px;
	}
	.pictures {
		grid-area: pictures;
		display: grid;
		grid-template: minmax(240px, 1fr) auto / minmax(0, 1fr);
		gap: 8px;
		padding: 16px 22px 8px;
		min-height: 0;
		overflow-y: auto;
	}
	.pictures.three {
		grid-template-rows: auto minmax(220px, 1fr) auto;
	}
	.pictures.tabled {
		grid-template-rows: auto auto;
		align-content: start;
	}
	.middle .pictures {
		flex: none;
		grid-template-rows: minmax(250px, 320px) auto;
		padding: 10px 0 12px;
		overflow: visible;
	}
	.middle .pictures.three {
		grid-template-rows: auto minmax(250px, 320px) auto;
	}
	.middle .pictures.tabled {
		grid-template-rows: auto auto;
	}
	.entry {
		grid-area: entry;
		padding: 8px 22px 14px;
	}
	.middle .entry {
		padding: 8px 16px 10px;
		border-top: 1px solid var(--rule);
	}
	.narrow .entry {
		padding: 4px 12px 10px;
		border-top: 1px solid var(--rule);
	}
	.narrow .entry > :global(ul) {
		max-height: 84px;
		overflow-y: auto;
	}
	.views {
		grid-area: views;
		display: grid;
		grid-template-columns: repeat(3, 1fr);
		border-bottom: 1px solid var(--rule);
	}
	.views button {
		min-height: 48px;
		border-bottom: 4px solid transparent;
		color: var(--ink);
		cursor: pointer;
	}
	.views button[aria-pressed='true'] {
		border-color: var(--act);
		background: var(--raised);
		font-weight: 600;
	}
	@media (max-height: 600px) {
		/* enlarged, or held across: the field comes first, and what is read there comes below it */
		.wide {
			grid-template:
				'steps entry answer' auto 'steps pictures answer' minmax(180px, 1fr) / 304px minmax(0, 1fr)
				340px;
		}
		.middle {
			grid-template: 'steps entry' auto 'steps answer' minmax(180px, 1fr) / 284px minmax(0, 1fr);
		}
		.narrow {
			grid-template: 'entry' auto 'views' auto 'shown' minmax(180px, 1fr) / minmax(0, 1fr);
		}
	}
	@media print {
		main > :is(.steps, .answer, .pictures) {
			contain: none;
		}
	}
</style>
