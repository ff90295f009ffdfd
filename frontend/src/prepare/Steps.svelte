<script lang="ts">
	/* The practical's steps: how long each takes, and by hand added, dropped, reworded, reordered, retimed. */
	import type { Prepare } from './prepare.svelte';
	import { isRepeat, withSteps, type Row, type Span, type Step } from './steps';

	let { prepare }: { prepare: Prepare } = $props();

	let editing = $state(false);
	let wrong = $state('');
	let shown = $state('');
	/* the cautions of the method's own steps: they stay */
	const built = $derived(prepare.found?.built_in ?? {});

	const rows = $derived((prepare.draft.procedure?.['steps'] ?? []) as Row[]);
	const faults = $derived(prepare.wrong.filter((row) => row.path.startsWith('procedure')));
	const planned = $derived(prepare.found?.steps ?? []);
	const learnt = $derived(planned.filter((row) => row.learnt));
	const total = $derived(planned.filter((row) => row.session === 1).reduce((sum, row) => sum + row.usual, 0));

	async function edit(): Promise<void> {
		wrong = await prepare.unfold();
		editing = !wrong;
	}

	function write(steps: Row[]): void {
		prepare.draft.procedure = withSteps(prepare.draft.procedure ?? {}, steps);
		prepare.ask();
	}

	/* rows with one step changed, wherever it stands */
	function change(id: string, by: Partial<Step>): void {
		const changed = (step: Step): Step => {
			if (step.id !== id) return step;
			const after = { ...step, ...by };
			return Object.fromEntries(Object.entries(after).filter(([, value]) => value !== undefined)) as Step;
		};
		write(rows.map((row) => (isRepeat(row) ? { ...row, repeat: row.repeat.map(changed) } : changed(row))));
	}

	const drop = (id: string): void =>
		write(
			rows
				.filter((row) => row.id !== id)
				.map((row) => (isRepeat(row) ? { ...row, repeat: row.repeat.filter((step) => step.id !== id) } : row))
		);

	function move(index: number, by: number): void {
		const to = index + by;
		if (to < 0 || to >= rows.length) return;
		const after = [...rows];
		const [row] = after.splice(index, 1);
		if (row) after.splice(to, 0, row);
		write(after);
	}

	function add(index: number): void {
		const known = rows.flatMap((row) =>
			isRepeat(row) ? [row.id, ...row.repeat.map((step) => step.id)] : [row.id]
		);
		let number = 1;
		while (known.includes(`own_${number}`)) number += 1;
		const step: Step = { id: `own_${number}`, title: 'A new step', say: 'What is done.' };
		write([...rows.slice(0, index + 1), step, ...rows.slice(index + 1)]);
		shown = step.id;
	}

	function further(step: Step, typed: string): void {
		const own = built[step.id] ?? '';
		change(step.id, { caution: [own, typed.trim()].filter(Boolean).join(' ') || undefined });
	}
	const furtherOf = (step: Step): string => (step.caution ?? '').replace(built[step.id] ?? '', '').trim();

	function time(step: Step, part: keyof Span, typed: string): void {
		if (typed.trim() === '') return change(step.id, { takes: undefined });
		const value = Number(typed);
		const span = step.takes ?? { low: value, usual: value, high: value };
		const after = { ...span, [part]: value };
		if (part === 'usual')
			Object.assign(after, { low: Math.min(after.low, value), high: Math.max(after.high, value) });
		change(step.id, { takes: after });
	}

	function back(): void {
		prepare.draft.procedure = null;
		editing = false;
		prepare.ask();
	}
</script>

{#snippet one(step: Step, index: number, inside: boolean)}
	<li class="step" class:inside>
		<button
			type="button"
			class="name"
			aria-expanded={shown === step.id}
			onclick={() => (shown = shown === step.id ? '' : step.id)}
			>{step.title}{#if step.reads}<span class="quiet"> · a reading</span>{/if}</button
		>
		{#if !inside}
			<span class="do">
				<button type="button" class="small" aria-label="Earlier: {step.title}" onclick={() => move(index, -1)}
					>↑</button
				>
				<button type="button" class="small" aria-label="Later: {step.title}" onclick={() => move(index, 1)}
					>↓</button
				>
			</span>
		{/if}
		{#if shown === step.id}
			<div class="fields">
				<div class="field wide-field">
					<label for="title-{step.id}">What it is called</label>
					<input
						id="title-{step.id}"
						value={step.title}
						maxlength="120"
						oninput={(event) => change(step.id, { title: event.currentTarget.value })}
					/>
				</div>
				<div class="field wide-field">
					<label for="say-{step.id}">What is done</label>
					<textarea
						id="say-{step.id}"
						rows="2"
						value={step.say}
						oninput={(event) => change(step.id, { say: event.currentTarget.value })}
					></textarea>
				</div>
				<div class="field wide-field">
					<label for="why-{step.id}">Why, for those who ask</label>
					<input
						id="why-{step.id}"
						value={step.why ?? ''}
						maxlength="300"
						oninput={(event) => change(step.id, { why: event.currentTarget.value || undefined })}
					/>
				</div>
				{#if built[step.id]}<p class="caution wide-field">{built[step.id]}</p>{/if}
				<div class="field wide-field">
					<label for="caution-{step.id}">{built[step.id] ? 'And also beware' : 'Beware'}</label>
					<input
						id="caution-{step.id}"
						value={furtherOf(step)}
						maxlength="300"
						onchange={(event) => further(step, event.currentTarget.value)}
					/>
				</div>
				<div class="field wide-field">
					<label for="sign-{step.id}">You look at it before it counts as done: at what?</label>
					<input
						id="sign-{step.id}"
						value={step.sign_off ?? ''}
						maxlength="160"
						placeholder="pH of the rinsed burette"
						onchange={(event) => change(step.id, { sign_off: event.currentTarget.value.trim() || undefined })}
					/>
				</div>
				{#if step.timer}
					<div class="field">
						<label for="timer-{step.id}">Its timer, min</label>
						<input
							id="timer-{step.id}"
							type="number"
							min="0.5"
							step="0.5"
							value={step.timer.minutes}
							onchange={(event) =>
								change(step.id, {
									timer: { ...step.timer, minutes: Number(event.currentTarget.value) || 1 }
								})}
						/>
					</div>
				{/if}
				{#each [['low', 'At least'], ['usual', 'Usually'], ['high', 'At most']] as const as [part, label] (part)}
					<div class="field">
						<label for="{part}-{step.id}">{label}, min</label>
						<input
							id="{part}-{step.id}"
							type="number"
							min="0"
							step="0.5"
							value={step.takes?.[part] ?? ''}
							placeholder={String(planned.find((row) => row.name.split('#')[0] === step.id)?.[part] ?? '')}
							onchange={(event) => time(step, part, event.currentTarget.value)}
						/>
					</div>
				{/each}
				<div class="field">
					<label for="at-{step.id}">At what of the room</label>
					<input
						id="at-{step.id}"
						value={step.at ?? ''}
						maxlength="60"
						placeholder={planned.find((row) => row.name.split('#')[0] === step.id)?.at || 'none'}
						onchange={(event) => change(step.id, { at: event.currentTarget.value.trim() || undefined })}
					/>
				</div>
				<p class="acts wide-field">
					{#if !inside}<button type="button" class="button" onclick={() => add(index)}>A step after it</button
						>{/if}
					<button type="button" class="button" onclick={() => drop(step.id)}>Drop it</button>
				</p>
			</div>
		{/if}
	</li>
{/snippet}

<section aria-labelledby="steps">
	<div class="head">
		<h2 id="steps">Steps</h2>
		<span class="quiet">{planned.length} a trial, {Math.round(total)} min of them in the first session</span>
		{#if editing}
			<button type="button" class="worded" onclick={() => (editing = false)}>done</button>
		{:else}
			<button type="button" class="worded no-print" onclick={() => void edit()}>change them</button>
		{/if}
	</div>
	{#if wrong}<p class="fault" role="alert">{wrong}</p>{/if}
	{#each faults as row (row.path + row.message)}<p class="fault">{row.message}</p>{/each}
	{#if learnt.length}
		<p class="quiet">
			{learnt.length} of the times {learnt.length === 1 ? 'is what it' : 'are what they'} took in classes held here:
			{learnt
				.slice(0, 3)
				.map((row) => `${row.label.toLowerCase()}: ${row.learnt}`)
				.join('; ')}.
			<button
				type="button"
				class="worded"
				onclick={() => {
					prepare.draft.learnt = !prepare.draft.learnt;
					prepare.ask();
				}}>{prepare.draft.learnt ? 'Use the procedure’s' : 'Use them'}</button
			>
		</p>
	{/if}
	{#if editing}
		<ol>
			{#each rows as row, index (row.id)}
				{#if isRepeat(row)}
					<li class="again">
						<span class="quiet">again and again:</span>
						<span class="do">
							<button
								type="button"
								class="small"
								aria-label="Earlier: the rounds"
								onclick={() => move(index, -1)}>↑</button
							>
							<button
								type="button"
								class="small"
								aria-label="Later: the rounds"
								onclick={() => move(index, 1)}>↓</button
							>
						</span>
					</li>
					{#each row.repeat as step (step.id)}{@render one(step, index, true)}{/each}
				{:else}{@render one(row, index, false)}{/if}
			{/each}
		</ol>
		<p class="acts">
			<button type="button" class="button" onclick={() => add(rows.length - 1)}>A step at the end</button>
			<button type="button" class="button" onclick={back}>Back to the method's own steps</button>
		</p>
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 6px;
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
	.step,
	.again {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		align-items: center;
		border-bottom: 1px solid var(--rule);
	}
	.again {
		min-height: 40px;
	}
	.inside {
		padding-left: 20px;
	}
	.name {
		min-height: 44px;
		text-align: left;
		font-weight: 600;
		cursor: pointer;
	}
	.name .quiet {
		font-weight: 400;
	}
	.small {
		min-width: 44px;
		min-height: 44px;
		cursor: pointer;
	}
	.fields {
		display: grid;
		grid-column: 1 / -1;
		grid-template-columns: repeat(auto-fill, minmax(min(150px, 100%), 1fr));
		gap: 10px 14px;
		padding: 8px 0 14px;
	}
	.wide-field {
		grid-column: 1 / -1;
	}
	.caution {
		color: var(--watch);
		font-weight: 600;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
	}
</style>
