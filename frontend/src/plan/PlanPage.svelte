<script lang="ts">
	import { untrack } from 'svelte';
	import Printer from '@lucide/svelte/icons/printer';
	import { navigate } from '../router';
	import InstrumentFields from '../ui/InstrumentFields.svelte';
	import OptionFields from '../ui/OptionFields.svelte';
	import SchoolFields from '../ui/SchoolFields.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Verdict from '../ui/Verdict.svelte';
	import { handOver } from './handover';
	import { Plan } from './plan.svelte';
	import SizeWindow from '../pictures/SizeWindow.svelte';
	import { Solution } from './solution.svelte';
	import SolutionDesk from './SolutionDesk.svelte';

	const plan = new Plan();
	const solution = new Solution();
	$effect(() => untrack(() => void begin()));

	const sizing = $derived(plan.found?.sizing);
	const look = $derived(sizing?.asked ?? sizing?.about);
	const fit = $derived(sizing?.asked ? sizing.remarks.at(-1) : undefined);
	/* what sets an end somewhere in the picture; a balance that carries a hundred times as much is no news */
	const ends = $derived(
		sizing?.bounds.filter((row) => {
			const [first, last] = [sizing.curve[0], sizing.curve.at(-1)];
			return first && last && row.amount >= first.amount && row.amount <= last.amount;
		}) ?? []
	);
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

	const fault = (field: string) => plan.fault(`options.${field}`);
	const set = (field: string, value: string | boolean): void => {
		plan.values[field] = value;
		plan.ask();
	};

	async function start(): Promise<void> {
		handOver(plan.handover);
		await navigate('/');
	}
</script>

<TopBar title="Plan" place="before anyone opens a valve">
	<a class="button" href="/plan/reagents">Reagent table</a>
</TopBar>
<main>
	<form class="no-print" onsubmit={(event) => event.preventDefault()} novalidate>
		<div class="field">
			<label for="method">What is planned</label>
			<select
				id="method"
				value={plan.methodName}
				onchange={(event) => plan.choose(event.currentTarget.value)}
			>
				{#each plan.shelf?.methods ?? [] as method (method.name)}<option value={method.name}
						>{method.title}</option
					>{/each}
			</select>
		</div>
		<OptionFields fields={plan.firstFields} values={plan.values} {fault} {set} />
		<SchoolFields
			schools={plan.procedure?.schools ?? []}
			chosen={plan.schools}
			choose={(school, answer) => {
				plan.schools[school] = answer;
				plan.ask();
			}}
		/>
		<h2>Room and apparatus</h2>
		<OptionFields
			name="setting"
			fields={plan.settingFields}
			values={plan.setting}
			fault={(field) => plan.fault(`setting.${field}`)}
			set={(field, value) => {
				plan.setting[field] = value;
				plan.ask();
			}}
		/>
		<InstrumentFields
			kinds={plan.kinds}
			chosen={plan.instruments}
			choose={(kind, id) => {
				plan.instruments[kind] = id;
				plan.ask();
			}}
			capacity
		/>
		{#if plan.moreFields.length}
			<details class="unfold">
				<summary>More options</summary>
				<div class="more">
					<OptionFields fields={plan.moreFields} values={plan.values} {fault} {set} />
				</div>
			</details>
		{/if}
	</form>

	<div class="result">
		{#if plan.general}<p class="fault" role="alert">{plan.general}</p>{/if}
		{#if plan.trouble}<p class="fault" role="alert">{plan.trouble}</p>{/if}
		{#if sizing}
			<section aria-labelledby="window" class:old={plan.faults.length > 0}>
				<div class="head">
					<h2 id="window">
						{#if sizing.low && sizing.high}
							<span class="figure">{sizing.low.text.replace(` ${sizing.unit}`, '')}</span> to
							<span class="figure">{sizing.high.text.replace(` ${sizing.unit}`, '')}</span>
							{sizing.unit}
						{:else if sizing.high}up to {sizing.high.text}
						{:else if sizing.low}at least {sizing.low.text}
						{:else}No window{/if}
						<small>{sizing.label}</small>
					</h2>
					{#if sizing.about}
						<p class="about">
							Take about <strong>{sizing.about.text}</strong>{#if sizing.about.percent !== null}: the result
								within
								<strong>{sizing.about.percent_text}</strong>{/if}
						</p>
					{/if}
				</div>
				{#if sizing.curve.length}<SizeWindow {sizing} />{/if}
				<ul>
					{#each others as remark (remark.text)}<Verdict level={remark.level} text={remark.text} />{/each}
					{#each ends as end (end.reason)}<Verdict level="remark" text={end.reason} />{/each}
				</ul>
			</section>
			<div class="two">
				<section aria-labelledby="fit">
					<h2 id="fit">Will it fit?</h2>
					<div class="field">
						<label for="sample">This much {sizing.label}, in {sizing.unit}</label>
						<input
							id="sample"
							class="figure"
							bind:value={plan.sample}
							oninput={() => plan.ask()}
							inputmode="decimal"
							autocomplete="off"
							placeholder={sizing.about?.text ?? ''}
							aria-invalid={plan.fault('sample') !== ''}
							aria-describedby="sample-said"
						/>
					</div>
					<div id="sample-said" aria-live="polite">
						{#if plan.fault('sample')}<p class="fault">{plan.fault('sample')}</p>
						{:else if fit}<ul><Verdict level={fit.level} text={fit.text} /></ul>
						{:else}<p class="quiet">Type what lies on the balance, or in the jar.</p>{/if}
					</div>
				</section>
				{#if look}
					<section aria-labelledby="expect">
						<h2 id="expect">Expect with {look.text}</h2>
						<table class="ruled">
							<tbody>
								{#each look.readings as row (row.label)}
									<tr><th scope="row">{row.label}</th><td class="figure number">{row.text}</td></tr>
								{/each}
							</tbody>
						</table>
						<p class="quiet">{look.limit}</p>
						{#each look.statements as row (row.title)}<p><strong>{row.title}.</strong> {row.text}</p>{/each}
						{#each look.needs as row (row.formula)}<p>
								<strong><Sentence text={row.formula} />.</strong>
								{row.text}
							</p>{/each}
					</section>
				{/if}
			</div>
			<section aria-labelledby="class">
				<h2 id="class">For the class</h2>
				<div class="class no-print">
					<div class="field">
						<label for="benches">Benches</label>
						<input
							id="benches"
							type="number"
							min="1"
							max="60"
							bind:value={plan.benches}
							oninput={() => plan.ask()}
						/>
					</div>
					<div class="field">
						<label for="trials">Trials a bench</label>
						<input
							id="trials"
							type="number"
							min="1"
							max="20"
							bind:value={plan.trials}
							oninput={() => plan.ask()}
						/>
					</div>
					<div class="field">
						<label for="spare">Spare</label>
						<input
							id="spare"
							bind:value={plan.spare}
							oninput={() => plan.ask()}
							aria-invalid={plan.fault('spare') !== ''}
							aria-describedby="spare-said"
						/>
						<p id="spare-said" class="fault">{plan.fault('spare')}</p>
					</div>
				</div>
				{#if plan.found}
					<div class="two">
						<table class="ruled lay">
							<thead
								><tr
									><th>To lay out</th><th class="number">a trial</th><th class="number">in all</th><th
										class="no-print"
									></th></tr
								></thead
							>
							<tbody>
								{#each plan.found.totals as row (row.label)}
									<tr>
										<th scope="row"><Sentence text={row.label} /></th>
										<td class="figure number">{row.each}</td>
										<td class="figure number strong">{row.all}</td>
										<td class="no-print">
											{#if row.formula}<button
													class="button"
													onclick={() => make(row.formula, row.concentration, row.each)}
													>Make it<span class="hidden-text">: {row.label}</span></button
												>{/if}
										</td>
									</tr>
								{/each}
							</tbody>
						</table>
						<div class="kit">
							{#each ['bench', 'room'] as const as place (place)}
								<h3>{place === 'bench' ? 'Each bench' : 'Once for the room'}</h3>
								<ul>
									{#each plan.found.kit.filter((row) => row.place === place) as row (row.item)}
										<li>{row.count} × {row.item}</li>
									{/each}
								</ul>
							{/each}
						</div>
					</div>
					<p class="quiet">{plan.found.caution}</p>
					{#if plan.found.hazards.length}
						<ul class="quiet" aria-label="What it does to people">
							{#each plan.found.hazards as said (said)}<li>{said}</li>{/each}
						</ul>
					{/if}
				{/if}
				<p class="ends no-print">
					{#if plan.procedure}<button class="button act" onclick={start}>Start a run with this</button>{/if}
					<button class="button" onclick={() => window.print()}
						><Printer size={20} aria-hidden="true" /> Print</button
					>
				</p>
			</section>
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
	form {
		display: grid;
		align-content: start;
		gap: 14px;
	}
	@media (min-width: 901px) {
		/* the fields stay beside what they do to the window */
		form {
			position: sticky;
			top: 0;
			max-height: 100dvh;
			margin: -24px 0 0 -24px;
			padding: 24px 6px 24px 24px;
			overflow-y: auto;
		}
	}
	form h2 {
		padding-top: 10px;
		border-top: 1px solid var(--rule);
		font-size: 20px;
	}
	.more {
		display: grid;
		gap: 14px;
	}
	.result {
		display: grid;
		align-content: start;
		gap: 26px;
		min-width: 0;
	}
	.result > section {
		display: grid;
		gap: 10px;
		min-width: 0;
	}
	.old {
		opacity: 0.5;
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		justify-content: space-between;
		gap: 4px 24px;
	}
	#window {
		font-size: 34px;
		font-weight: 700;
		display: flex;
		flex-wrap: wrap;
		align-items: baseline;
		gap: 0 12px;
	}
	#window small {
		color: var(--quiet);
		font-size: 20px;
		font-weight: 600;
	}
	.about {
		font-size: 19px;
	}
	.two {
		display: grid;
		grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
		gap: 32px;
	}
	.two > * {
		align-self: start;
	}
	.two section {
		display: grid;
		gap: 10px;
	}
	h2 {
		font-size: 22px;
	}
	#sample {
		min-height: 60px;
		font-size: 28px;
		font-weight: 600;
	}
	.class {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 160px));
		gap: 20px;
	}
	.strong {
		font-weight: 700;
	}
	.lay th {
		padding-right: 8px;
	}
	.lay .number {
		padding-right: 12px;
	}
	.lay .button {
		min-width: max-content;
		padding: 0 12px;
	}
	.kit {
		display: grid;
		gap: 6px;
	}
	.kit h3 {
		font-size: 18px;
	}
	.kit li {
		padding: 2px 0;
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
	.open p {
		max-width: 60ch;
		color: var(--quiet);
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: 1fr;
		}
		form {
			grid-template-columns: 1fr 1fr;
		}
		form h2,
		details {
			grid-column: 1 / -1;
		}
		.more {
			grid-template-columns: 1fr 1fr;
		}
		.two {
			grid-template-columns: 1fr;
		}
	}
	@media print {
		main {
			display: block;
		}
	}
</style>
