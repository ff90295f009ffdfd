<script lang="ts">
	/* Questions before and after, the lines to hand in, and when answers are shown. */
	import { NAMES } from './parts';
	import type { Line, Prepare, Question, Reveal } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const draft = $derived(prepare.draft);
	let editing = $state(false);
	const REVEALS: Record<Reveal, string> = {
		always: 'answers are shown at once',
		after_own_figures: 'answers are shown after their own',
		when_closed: 'answers are shown when the class is closed'
	};
	const KINDS = { text: 'in words', number: 'a figure', choice: 'a choice' } as const;
	/* what a replay of the readings answers */
	const REPLAYED = {
		direction: 'too high or too low, by replay',
		deviation: 'by how much it is off',
		cause: 'the cause that is blamed, by replay'
	} as const;
	const CHOSEN: string[] = ['direction', 'cause'];
	const PLACES = { before: 'before', after: 'after' } as const;
	const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;
	const marks = $derived(draft.report.reduce((sum, row) => sum + (row.marks || 0), 0));
	const wrong = $derived(prepare.wrong.filter((row) => row.part === 'practical'));

	function ask(place: 'before' | 'after'): void {
		draft[place] = [...draft[place], { ask: '', kind: 'text', choices: [], answer: '', about: '' }];
	}
	function drop<T>(rows: T[], index: number): T[] {
		return rows.filter((_, place) => place !== index);
	}
	const changed = (): void => prepare.ask();
	function line(): void {
		const row: Line = { line: '', number: draft.report.length + 1, marks: 1 };
		draft.report = [...draft.report, row];
	}
	const choices = (row: Question, typed: string): void => {
		row.choices = typed
			.split(';')
			.map((one) => one.trim())
			.filter(Boolean);
		changed();
	};
	const at = (path: string): string => wrong.find((row) => row.path.startsWith(path))?.message ?? '';
</script>

<section aria-labelledby="before-after">
	<div class="head">
		<h2 id="before-after">Before and after</h2>
		<button type="button" class="worded no-print" aria-expanded={editing} onclick={() => (editing = !editing)}
			>{editing ? 'done' : 'change them'}</button
		>
	</div>
	<p class="quiet">
		{counted(draft.before.length, 'question')} before, {draft.after.length} after; {counted(
			draft.report.length,
			'line'
		)}
		to hand in{draft.report.length ? `, ${counted(marks, 'mark')}` : ''}; {REVEALS[draft.reveal]}.
	</p>
	{#if wrong.length && !editing}<p class="fault">{NAMES('practical')}: {wrong[0]?.message}</p>{/if}
	{#if editing}
		{#each ['before', 'after'] as const as place (place)}
			<h3>Questions {PLACES[place]}</h3>
			{#each draft[place] as row, index (index)}
				<div class="row" role="group" aria-label="Question {index + 1} {place}">
					<div class="field ask">
						<label for="{place}-{index}">Question {index + 1}</label>
						<input id="{place}-{index}" bind:value={row.ask} oninput={changed} maxlength="400" />
					</div>
					<div class="field">
						<label for="{place}-kind-{index}">Answered by</label>
						<select id="{place}-kind-{index}" bind:value={row.kind} onchange={changed}>
							{#each Object.entries(KINDS) as [kind, text] (kind)}<option value={kind}>{text}</option>{/each}
						</select>
					</div>
					{#if row.kind === 'choice' && !CHOSEN.includes(row.about)}
						<div class="field">
							<label for="{place}-choices-{index}">Choices, with ;</label>
							<input
								id="{place}-choices-{index}"
								value={row.choices.join('; ')}
								onchange={(event) => choices(row, event.currentTarget.value)}
							/>
						</div>
					{/if}
					<div class="field">
						<label for="{place}-about-{index}">Held against</label>
						<select
							id="{place}-about-{index}"
							value={row.about}
							onchange={(event) => {
								row.about = event.currentTarget.value;
								if (CHOSEN.includes(row.about)) row.kind = 'choice';
								if (row.about === 'deviation') row.kind = 'number';
								changed();
							}}
						>
							<option value="">the answer written here</option>
							{#if place === 'after'}
								{#each Object.entries(REPLAYED) as [value, text] (value)}<option {value}>{text}</option
									>{/each}
							{/if}
							{#each prepare.found?.lines ?? [] as one (one.name)}<option value={one.name}
									>what comes out: {one.label}</option
								>{/each}
						</select>
					</div>
					{#if !(row.about in REPLAYED)}
						<div class="field">
							<label for="{place}-answer-{index}">Answer</label>
							<input id="{place}-answer-{index}" bind:value={row.answer} oninput={changed} />
						</div>
					{/if}
					<button
						type="button"
						class="button drop"
						aria-label="Drop question {index + 1} {place}"
						onclick={() => {
							draft[place] = drop(draft[place], index);
							changed();
						}}>Drop</button
					>
					{#if at(`${place}[${index}]`)}<p class="fault wide-row">{at(`${place}[${index}]`)}</p>{/if}
				</div>
			{/each}
			<p><button type="button" class="button" onclick={() => ask(place)}>A question {place}</button></p>
		{/each}
		<h3>Lines to hand in</h3>
		{#each draft.report as row, index (index)}
			<div class="row lines" role="group" aria-label="Line {index + 1}">
				<div class="field ask">
					<label for="line-{index}">Line of the working</label>
					<select id="line-{index}" bind:value={row.line} onchange={changed}>
						<option value="">choose one</option>
						{#each prepare.found?.lines ?? [] as one (one.name)}<option value={one.name}>{one.label}</option
							>{/each}
					</select>
				</div>
				<div class="field">
					<label for="line-number-{index}">Its number</label>
					<input
						id="line-number-{index}"
						type="number"
						min="0"
						max="999"
						bind:value={row.number}
						oninput={changed}
					/>
				</div>
				<div class="field">
					<label for="line-marks-{index}">Marks</label>
					<input
						id="line-marks-{index}"
						type="number"
						min="0"
						max="100"
						bind:value={row.marks}
						oninput={changed}
					/>
				</div>
				<button
					type="button"
					class="button drop"
					aria-label="Drop line {index + 1}"
					onclick={() => {
						draft.report = drop(draft.report, index);
						changed();
					}}>Drop</button
				>
				{#if at(`report[${index}]`)}<p class="fault wide-row">{at(`report[${index}]`)}</p>{/if}
			</div>
		{/each}
		<p><button type="button" class="button" onclick={line}>A line to hand in</button></p>
		<div class="field reveal">
			<label for="reveal">When a bench sees accepted values and answers</label>
			<select id="reveal" bind:value={draft.reveal} onchange={changed}>
				{#each Object.entries(REVEALS) as [value, text] (value)}<option {value}>{text}</option>{/each}
			</select>
		</div>
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 8px;
	}
	.head {
		display: flex;
		align-items: baseline;
		gap: 14px;
	}
	h2 {
		font-size: 20px;
	}
	h3 {
		padding-top: 6px;
		font-size: 17px;
	}
	.row {
		display: grid;
		grid-template-columns: repeat(4, minmax(0, 1fr));
		align-items: end;
		gap: 8px 12px;
		padding-bottom: 10px;
		border-bottom: 1px solid var(--rule);
	}
	.lines {
		grid-template-columns: minmax(0, 3fr) minmax(90px, 1fr) minmax(90px, 1fr) auto;
	}
	.row:not(.lines) .ask {
		grid-column: 1 / -1;
	}
	.wide-row {
		grid-column: 1 / -1;
	}
	.reveal {
		max-width: 420px;
	}
	@media (max-width: 699px) {
		.row,
		.lines {
			grid-template-columns: 1fr 1fr;
		}
		.ask {
			grid-column: 1 / -1;
		}
	}
</style>
