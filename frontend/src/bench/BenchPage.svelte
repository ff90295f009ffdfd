<script lang="ts">
	import { untrack } from 'svelte';
	import { navigate, route } from '../router';
	import TrialLinks from '../trials/TrialLinks.svelte';
	import { chosenTrial } from '../trials/trial';
	import TopBar from '../ui/TopBar.svelte';
	import Answer from './Answer.svelte';
	import { Bench } from './bench.svelte';
	import Entry from './Entry.svelte';
	import CrystalSizes from '../pictures/CrystalSizes.svelte';
	import GasTube from '../pictures/GasTube.svelte';
	import LossBars from '../pictures/LossBars.svelte';
	import MassStair from '../pictures/MassStair.svelte';
	import PhotographSheet from '../photograph/PhotographSheet.svelte';
	import OtherBenches from './OtherBenches.svelte';
	import PressureFall from '../pictures/PressureFall.svelte';
	import ReactingBars from '../pictures/ReactingBars.svelte';
	import ReagentTable from '../pictures/ReagentTable.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import SolubilityCurve from '../pictures/SolubilityCurve.svelte';
	import Steps from './Steps.svelte';

	const uuid = $derived(route.params['uuid'] ?? '');
	const trial = $derived(chosenTrial());
	const bench = $derived.by(() => {
		const [id, label] = [uuid, trial];
		return untrack(() => new Bench(id, label));
	});
	const run = $derived(bench.run);
	const several = $derived((run?.trials.length ?? 0) > 1);

	async function another(): Promise<void> {
		const label = await bench.another();
		if (label !== null) await navigate('/runs/:uuid', { params: { uuid }, search: { trial: label } });
	}

	$effect(() => {
		const shown = bench;
		// what the first look reads must not begin everything anew
		return untrack(() => shown.begin());
	});
</script>

{#if bench.missing}
	<TopBar title="No such run" />
	<main class="plain">
		<p>There is no run at this address. It may belong to another database.</p>
		<a class="button" href="/">All runs</a>
	</main>
{:else if !run}
	<TopBar title="Clay Kettle" />
	<main class="plain" aria-busy="true">
		<p class="quiet">
			{bench.away ? 'The server does not answer. Trying again every two seconds.' : 'Fetching the run …'}
		</p>
	</main>
{:else}
	{@const pictures = run.pictures}
	<div class="bench" class:several>
		<TopBar title={run.title} place="Bench {run.bench}, trial {run.trial.label}">
			{#if !several}<button class="button" onclick={another}>Another trial</button>{/if}
		</TopBar>
		{#if several}
			<TrialLinks {run}>
				<a class="button" href="/runs/{run.uuid}/trials">Side by side</a>
				<button class="button" onclick={another}>Another trial</button>
			</TrialLinks>
		{/if}
		<main>
			<div class="steps"><Steps {run} {bench} /></div>
			<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls where the field below needs room) -->
			<div
				class="pictures"
				class:three={pictures.reacting}
				class:tabled={pictures.table}
				role="region"
				aria-label="Pictures"
				tabindex="0"
			>
				{#if pictures.gas}
					<GasTube gas={pictures.gas} next={bench.entry} typed={bench.typed} />
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
			<div class="entry no-print"><Entry {run} {bench} /></div>
			<div class="answer"><Answer {run} {bench} /></div>
		</main>
		<OtherBenches {bench} />
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
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		grid-template-rows: auto 1fr auto;
		height: 100dvh;
	}
	.several {
		grid-template-rows: auto auto 1fr auto;
	}
	main {
		display: grid;
		grid-template: 'steps pictures answer' 1fr 'steps entry answer' auto / 304px minmax(0, 1fr) 340px;
		min-height: 0;
	}
	.answer {
		overflow-y: auto;
		padding: 16px 20px;
	}
	.steps {
		display: flex;
		flex-direction: column;
		min-height: 0;
		grid-area: steps;
		border-right: 1px solid var(--rule);
	}
	.answer {
		grid-area: answer;
		border-left: 1px solid var(--rule);
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
	.entry {
		grid-area: entry;
		padding: 8px 22px 18px;
	}
	@media (max-width: 1100px) {
		.bench {
			height: auto;
			min-height: 100dvh;
		}
		main {
			grid-template: 'steps pictures' auto 'answer answer' auto 'entry entry' auto / 310px minmax(0, 1fr);
		}
		.steps,
		.answer {
			overflow: visible;
		}
		.pictures {
			grid-template-rows: minmax(300px, 440px) auto;
			align-content: start;
		}
		.pictures.three {
			grid-template-rows: auto minmax(280px, 360px) auto;
		}
		.pictures.tabled {
			grid-template-rows: auto auto;
		}
		.answer {
			border-top: 1px solid var(--rule);
			border-left: 0;
		}
		.entry {
			position: sticky;
			z-index: 10;
			bottom: 0;
			background: var(--paper);
			border-top: 1px solid var(--rule);
			padding-top: 12px;
		}
	}
	@media (max-width: 640px) {
		main {
			grid-template: 'steps' auto 'pictures' auto 'answer' auto 'entry' auto / minmax(0, 1fr);
		}
	}
	@media print {
		.bench {
			height: auto;
		}
	}
</style>
