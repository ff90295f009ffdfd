<script lang="ts">
	/* What a student works out of a trial: line by line as on paper, with as many digits as they like, and handed in. */
	import { untrack } from 'svelte';
	import type { RunView } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import { focusFault } from '../ui/faults';
	import { faultAt } from '../ui/said';
	import Sentence from '../ui/Sentence.svelte';
	import SheetLines from '../marking/SheetLines.svelte';
	import { Own } from './own.svelte';
	import Questions from './Questions.svelte';

	let { run, look }: { run: RunView; look: () => Promise<void> } = $props();

	const uuid = $derived(run.uuid);
	const label = $derived(run.trial.label);
	const own = $derived.by(() => {
		const [at, trial] = [uuid, label];
		return untrack(() => new Own(at, trial));
	});
	$effect(() => void own.look());

	const found = $derived(own.found);
	const handed = $derived((found?.handed ?? []).filter((row) => row.trial === label));
	const isReady = $derived(found?.trials.includes(label) ?? false);
	const called = $derived(new Map(found?.lines.map((row) => [row.name, row.label])));
	const amiss = $derived(own.said.trouble || faultAt(own.said, 'trial'));
	const fault = (name: string): string => faultAt(own.said, `claims.${name}`);

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (await own.handIn()) await look();
		else focusFault();
	}
</script>

{#snippet whose()}
	{#if found?.students.length}
		<div class="field whose">
			<label for="own-student">Who writes here</label>
			<select id="own-student" bind:value={own.student}>
				<option value="">the bench together</option>
				{#each found.students as name (name)}<option value={name}>{name}</option>{/each}
			</select>
		</div>
	{/if}
{/snippet}

{#if own.trouble}<p class="fault" role="alert">{own.trouble}</p>{/if}
{#if !found}
	<p class="quiet" aria-busy="true">Fetching what is asked …</p>
{:else if !isReady}
	{@render whose()}
	<Questions {own} place="before" />
	<div class="empty">
		<p>There is nothing to work out of trial {run.trial.label} yet: its readings come first.</p>
		<p><a class="button act" href="/runs/{run.uuid}">To the bench</a></p>
	</div>
{:else}
	{@render whose()}
	<Questions {own} place="before" />
	<div class="columns">
		<form novalidate onsubmit={(event) => void submit(event)}>
			<h2>Worked out from your readings</h2>
			<p class="quiet">Each figure with its unit, and the digits that you stand for.</p>
			<ol>
				{#each found.lines as row (row.name)}
					<li>
						{#if row.number}<span class="number figure" aria-hidden="true">{row.number}</span>{/if}
						<label for="own-{row.name}"
							><Sentence text={row.label} />{#if row.unit && !row.is_spoken}<span class="quiet"
									>, in {row.unit}</span
								>{/if}</label
						>
						<span class="field"
							><input
								id="own-{row.name}"
								class="figure"
								value={own.typed[row.name] ?? ''}
								oninput={(event) => own.type(row.name, event.currentTarget.value)}
								autocomplete="off"
								maxlength="120"
								aria-invalid={fault(row.name) !== ''}
								aria-describedby="own-{row.name}-fault"
							/></span
						>
						<span class="quiet marks">{row.marks} {row.marks === 1 ? 'mark' : 'marks'}</span>
						<span class="fault" id="own-{row.name}-fault" aria-live="polite">{fault(row.name)}</span>
					</li>
				{/each}
			</ol>
			{#if amiss}<p class="fault" role="alert">{amiss}</p>{/if}
			<p class="ends">
				<button class="button act" disabled={own.busy}>Hand in</button>
				{#if own.handed}<span role="status"
						>Handed in. {found.held_back || 'The bench shows now what the readings give.'}</span
					>{/if}
			</p>
		</form>
		{#if handed.length}
			<section aria-labelledby="handed">
				<h2 id="handed">Handed in</h2>
				{#each handed as row (row.uuid)}
					<article>
						<h3>{row.student || row.by || 'The bench'}, {timeOfDay(row.at)}</h3>
						{#if row.marked}
							<p>
								<strong>{row.marked.marks} of {row.marked.of}</strong>, given back
								{timeOfDay(row.marked.given_back)}: below.
							</p>
						{:else}
							<dl>
								{#each Object.entries(row.claims) as [name, text] (name)}
									<dt><Sentence text={called.get(name) ?? name} /></dt>
									<dd class="figure">{text}</dd>
								{/each}
							</dl>
						{/if}
					</article>
				{/each}
			</section>
		{/if}
	</div>
	<Questions {own} place="after" />
	{#each handed as row (row.uuid)}
		{#if row.marked}
			<section class="given" aria-labelledby="back-{row.uuid}">
				<h2 id="back-{row.uuid}">Given back: {row.student || 'the bench'}, {timeOfDay(row.at)}</h2>
				<SheetLines sheet={row.marked} />
			</section>
		{/if}
	{/each}
{/if}

<style>
	.columns {
		display: grid;
		grid-template-columns: minmax(0, 640px) minmax(0, 360px);
		gap: 24px 48px;
		align-items: start;
	}
	form,
	.empty,
	section {
		display: grid;
		gap: 12px;
	}
	.given {
		gap: 4px;
		padding-top: 26px;
	}
	h2 {
		font-size: 21px;
	}
	h3 {
		font-size: 17px;
	}
	ol {
		display: grid;
		gap: 4px;
	}
	li {
		display: grid;
		grid-template-columns: 34px minmax(0, 1fr) minmax(150px, 250px) 66px;
		padding-block: 2px;
		align-items: center;
		gap: 0 12px;
		min-height: 54px;
		border-bottom: 1px solid var(--rule);
	}
	li label {
		grid-column: 2;
		line-height: 1.25;
	}
	li input {
		min-height: 48px;
		min-width: 0;
		font-size: 20px;
	}
	.number {
		display: grid;
		place-items: center;
		width: 34px;
		height: 34px;
		border: 1px solid var(--rule);
		border-radius: 50%;
	}
	.marks {
		font-size: 16px;
	}
	li .fault {
		grid-column: 2 / -1;
	}
	li .fault:empty {
		display: none;
	}
	.whose {
		padding-bottom: 22px;
		max-width: 320px;
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px 18px;
	}
	dl {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		gap: 2px 14px;
	}
	dt {
		color: var(--quiet);
	}
	article {
		padding: 8px 0 12px;
		border-bottom: 1px solid var(--rule);
	}
	@media (max-width: 899px) {
		.columns {
			grid-template-columns: minmax(0, 1fr);
		}
	}
	@media (max-width: 559px) {
		li {
			grid-template-columns: 34px minmax(0, 1fr);
			padding-block: 8px;
		}
		li input,
		.marks {
			grid-column: 2;
		}
	}
</style>
