<script lang="ts">
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import type { RunView, StepView } from '../api/client';
	import type { Bench } from './bench.svelte';
	import Formula from '../ui/Formula.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import ReadingSheet from './ReadingSheet.svelte';
	import StepTimer from './StepTimer.svelte';
	import TechniqueCard from '../pictures/TechniqueCard.svelte';

	let { run, bench }: { run: RunView; bench: Bench } = $props();

	const SIGNS = {
		done: 'done',
		now: 'now',
		ahead: 'to come',
		missed: 'forgotten',
		passed: 'not marked',
		left: 'not taken'
	};
	/* why a step is done stands at its first round; later rounds know */
	const isFirst = (key: string) => !/#([2-9]|\d\d+)$/.test(key);
	const pending = $derived(
		new Map(
			bench.queue
				.filter((row) => row.trial === bench.trial)
				.map((row) => [`${row.slot} ${row.position}`, row.text])
		)
	);
	const harmful = $derived(
		bench.substances?.substances.filter((row) => !row.hazards[0]?.startsWith('none known')) ?? []
	);
	const current = $derived(run.steps.find((step) => step.state === 'now'));
	/* finished handwork is folded away, so that the step to do now and its caution stay in sight */
	const MOST_DONE = 4;
	/* what this step is watched for; elsewhere the first of what the procedure knows */
	const MOST_TAGS = 4;
	const tags = $derived(current?.observe.length ? current.observe : run.observe.slice(0, MOST_TAGS));
	let other = $state<string | null>(null);

	/* the step to do now, with its caution, stays in sight however long the list above it grows */
	/* reached by the keys only where it scrolls */
	let [room, length] = $state([0, 0]);
	const PADDING = 16;
	const scrolls = $derived(length + PADDING > room);
	function inSight(node: HTMLElement): void {
		const list = ['.list', '.steps']
			.map((name) => node.closest<HTMLElement>(name))
			.find((one) => one && one.scrollHeight > one.clientHeight);
		if (!list) return;
		const top = node.getBoundingClientRect().top - list.getBoundingClientRect().top + list.scrollTop;
		// all of it, and where that is more than there is room for, from its beginning
		list.scrollTop = Math.min(top - 8, top + node.offsetHeight - list.clientHeight + 8);
	}

	async function note(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!other?.trim()) return;
		if (await bench.see(other)) other = null;
	}
	/* the figure that stands at a step: a tap corrects it, moves it, or leaves it out */
	const readingOf = (step: StepView) =>
		run.readings.find(
			(row) =>
				row.current &&
				row.state === 'taken' &&
				row.slot === step.slot &&
				row.position === (step.position ?? 1) &&
				row.trial === run.trial.label
		);
	/* what was seen, not the rinses that were counted: those stand at their step */
	const counted = $derived(run.steps.map((step) => step.counts?.tag));
	const noted = $derived(
		run.observations
			.filter(
				(row) => row.tag !== 'prediction' && !row.taken_back && ['', run.trial.label].includes(row.trial)
			)
			.map((row) => row.tag)
			.filter((tag) => !counted.includes(tag))
	);
	/* what was not marked stays in sight only where it bears on the result */
	const isPast = (step: StepView) => ['done', 'passed'].includes(step.state);
	const folded = $derived(run.steps.filter(isPast).length > MOST_DONE);
	const shown = $derived(
		folded
			? run.steps.filter(
					(step) => !isPast(step) || step.slot !== null || (step.state === 'passed' && step.bears)
				)
			: run.steps
	);
	const unmarked = $derived(run.steps.filter((step) => step.state === 'passed').length);
</script>

<h2 class="hidden-text">Procedure</h2>
<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls where there is no room for all of them) -->
<div
	class="list"
	role="region"
	aria-label="Steps"
	tabindex={scrolls ? 0 : undefined}
	bind:clientHeight={room}
>
	<ol bind:clientHeight={length}>
		{#each shown as step (step.key)}
			{#if step.state === 'now'}
				<li class="now" aria-current="step" {@attach inSight}>
					<h3><Sentence text={step.title} plain /></h3>
					<div>
						{#if step.card}<TechniqueCard name={step.card} />{/if}
						<p>{step.say}</p>
					</div>
					{#if step.timer}<StepTimer {step} {bench} />{/if}
					{#if step.caution}
						<p class="caution"><TriangleAlert size={22} aria-hidden="true" /><span>{step.caution}</span></p>
					{/if}
					{#if step.why && isFirst(step.key)}<p class="why quiet">{step.why}</p>{/if}
				</li>
			{:else}
				{@const row = readingOf(step)}
				<li class={step.state}>
					<span class="dot" aria-hidden="true"></span>
					<span
						><Sentence text={step.short} plain /><span class="hidden-text">, {SIGNS[step.state]}</span></span
					>
					{#if row}
						<ReadingSheet {run} {bench} {row} />
					{:else if pending.has(`${step.slot} ${step.position}`)}
						<span class="waiting"
							><span class="figure">{pending.get(`${step.slot} ${step.position}`)}</span> waits</span
						>
					{/if}
					{#if step.state === 'missed'}<strong class="value">forgotten</strong>{/if}
					{#if step.state === 'passed'}<span class="value" aria-hidden="true">not marked</span>{/if}
					{#if step.state === 'left'}
						<button class="after" onclick={() => void bench.takeAfterAll(step)}
							><span class="hidden-text">{step.short}: </span>not taken</button
						>
					{/if}
				</li>
			{/if}
		{/each}
	</ol>
	{#if !current}<p class="finished">
			{unmarked ? `Nothing is left to do; ${unmarked} not marked.` : 'All steps are done.'}
		</p>{/if}
	<p class="quiet rules">{run.caution}</p>
	{#if harmful.length || bench.substances?.unknown.length}
		<ul class="quiet rules harms" aria-label="What it does to people">
			{#each harmful as row (row.formula)}
				<li><Formula text={row.formula} plain />: {row.hazards.join(', ')}</li>
			{/each}
			{#if bench.substances?.unknown.length}
				<li>
					Not in the register: {bench.substances.unknown.join(', ')}. Look at the label, then
					<a href="/substances">add it</a>.
				</li>
			{/if}
		</ul>
	{/if}
</div>

<section class="no-print" aria-labelledby="seen-at-bench">
	<header>
		<h3 class="seen quiet" id="seen-at-bench">Seen at the bench</h3>
		{#if other === null}<button class="plain" onclick={() => (other = '')}>other …</button>{/if}
	</header>
	{#if other === null}
		<div class="tags seen-tags">
			{#each tags as tag (tag)}
				<button onclick={() => bench.see(tag)}>{tag}</button>
			{/each}
		</div>
	{:else}
		<form onsubmit={note}>
			<label class="hidden-text" for="other-seen">What was seen</label>
			<!-- opened by a tap on “other”: the words come next -->
			<!-- svelte-ignore a11y_autofocus -->
			<input id="other-seen" bind:value={other} maxlength="60" placeholder="In a word or two" autofocus />
			<button class="button act">Note it</button>
			<button type="button" class="button" onclick={() => (other = null)}>Leave it</button>
		</form>
	{/if}
	<p class="quiet last" aria-live="polite">
		{#if noted.length}Noted: {noted.slice(-3).join(', ')}{/if}
	</p>
</section>

<style>
	.list {
		position: relative;
		flex: 1;
		min-height: 0;
		overflow-y: auto;
		padding: 16px 20px 0;
	}
	.plain {
		white-space: nowrap;
	}
	header {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	.plain {
		min-height: 48px;
		padding: 0 8px;
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
	section {
		padding: 0 20px 8px;
		border-top: 1px solid var(--rule);
	}
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px;
	}
	form input {
		grid-column: 1 / -1;
		min-height: 48px;
		padding: 8px 12px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--raised);
	}
	ol {
		display: grid;
		gap: 2px;
	}
	li:not(.now) {
		display: grid;
		grid-template-columns: 22px 1fr auto;
		column-gap: 2px;
		align-items: baseline;
		padding: 4px 0;
	}
	.dot {
		width: 12px;
		height: 12px;
		border-radius: 50%;
		border: 2px solid var(--quiet);
	}
	.done .dot {
		border-color: var(--settled);
		background: var(--settled);
	}
	.missed .dot {
		border-color: var(--stop);
		border-style: dashed;
	}
	.missed .value {
		color: var(--stop);
	}
	:is(.passed, .left) .dot {
		border-style: dotted;
	}
	.after {
		min-height: 48px;
		margin: -12px -8px;
		padding: 0 8px;
		text-decoration: underline dotted;
		text-underline-offset: 5px;
		cursor: pointer;
	}
	.passed,
	.left {
		color: var(--quiet);
	}
	.waiting {
		padding-left: 10px;
		white-space: nowrap;
		color: var(--watch);
		font-weight: 600;
	}
	.ahead {
		color: var(--quiet);
	}
	.now {
		display: grid;
		gap: 8px;
		margin: 6px 0;
		padding: 14px 16px;
		border: 1px solid var(--rule);
		border-left: 5px solid var(--act);
		border-radius: 6px;
		background: var(--raised);
	}
	.now h3 {
		font-size: 20px;
	}
	.why {
		font-size: 16px;
	}
	.caution {
		display: grid;
		grid-template-columns: 24px 1fr;
		gap: 8px;
		padding-top: 10px;
		border-top: 1px dashed var(--rule);
		color: var(--stop);
		font-weight: 600;
	}
	.finished {
		padding: 10px 0;
		font-weight: 600;
		color: var(--settled);
	}
	.seen {
		font-family: inherit;
		font-weight: 400;
		font-size: 16px;
	}
	.tags {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	.tags button {
		min-height: 48px;
		padding: 0 14px;
		border: 1.5px solid var(--quiet);
		border-radius: 24px;
		background: var(--raised);
		cursor: pointer;
	}
	.last,
	.rules {
		margin-top: 8px;
		font-size: 16px;
	}
	.last:empty {
		display: none;
	}
	.rules {
		padding-bottom: 12px;
	}
	.harms li {
		display: block;
		padding: 0 0 2px;
	}
	.harms a {
		color: var(--act);
		text-decoration: underline;
	}
</style>
