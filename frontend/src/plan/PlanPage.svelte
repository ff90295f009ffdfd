<script lang="ts">
	import { untrack } from 'svelte';
	import { navigate } from '../router';
	import TopBar from '../ui/TopBar.svelte';
	import { narrow } from '../ui/sizes';
	import Verdict from '../ui/Verdict.svelte';
	import FitAndExpect from './FitAndExpect.svelte';
	import ForTheClass from './ForTheClass.svelte';
	import { handOver } from './handover';
	import { Plan } from './plan.svelte';
	import PlanForm from './PlanForm.svelte';
	import SampleWindow from './SampleWindow.svelte';
	import { Solution } from './solution.svelte';
	import SolutionDesk from './SolutionDesk.svelte';

	const plan = new Plan();
	const solution = new Solution();
	$effect(() => untrack(() => void begin()));

	const sizing = $derived(plan.found?.sizing);
	const fit = $derived(sizing?.asked ? sizing.remarks.at(-1) : undefined);
	const others = $derived(sizing?.remarks.filter((row) => row !== fit) ?? []);

	async function begin(): Promise<void> {
		await plan.begin();
		if (plan.shelf) solution.offer(plan.shelf.wish);
	}

	function make(formula: string, concentration: string, each: string): void {
		const { benches, trials, spare } = plan;
		solution.take({
			formula,
			concentration,
			each,
			benches: String(benches),
			trials: String(trials),
			spare,
			source: 'concentrate'
		});
		document.getElementById('solution')?.scrollIntoView();
	}

	async function start(): Promise<void> {
		handOver(plan.handover);
		await navigate('/');
	}
</script>

<TopBar title="One sample" place="before anyone opens a valve">
	{#if !narrow.current}<a class="button" href="/prepare">Prepare a class</a>{/if}
	<a class="button" href="/plan/reagents">Reagent table</a>
</TopBar>
<main id="main" tabindex="-1">
	<PlanForm {plan} />

	<div class="result">
		{#if plan.general}<p class="fault" role="alert">{plan.general}</p>{/if}
		{#if plan.trouble}<p class="fault" role="alert">{plan.trouble}</p>{/if}
		{#if sizing}
			<SampleWindow {sizing} {others} old={plan.faults.length > 0} />
			<FitAndExpect {plan} {sizing} {fit} />
			<ForTheClass {plan} {make} {start} />
		{:else if plan.faults.length}
			<section class="open" aria-labelledby="open">
				<h2 id="open">How much to weigh</h2>
				<p>
					Say on the left what is weighed and what it does. The smallest and the largest sample that tube,
					vessel and balance allow appear here, with the readings to expect.
				</p>
				<ul>
					{#each plan.open as row (row.path)}<Verdict level="remark" text={row.message} />{/each}
				</ul>
			</section>
		{:else if !plan.trouble}
			<p class="quiet" aria-busy="true">Working it out …</p>
		{/if}
		<SolutionDesk {solution} />
	</div>
</main>

<style>
	main {
		display: grid;
		grid-template-columns: 330px minmax(0, 1fr);
		gap: 36px;
		max-width: 1280px;
		margin: 0 auto;
		padding: 24px;
	}
	.result {
		display: grid;
		align-content: start;
		gap: 26px;
		min-width: 0;
	}
	section {
		display: grid;
		gap: 10px;
		min-width: 0;
	}
	h2 {
		font-size: 22px;
	}
	.open p {
		max-width: 60ch;
		color: var(--quiet);
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: 1fr;
		}
	}
	@media print {
		main {
			display: block;
		}
	}
</style>
