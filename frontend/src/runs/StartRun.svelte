<script lang="ts">
	import { tick, untrack, type Snippet } from 'svelte';
	import { navigate } from '../router';
	import type { Runs } from './runs.svelte';
	import { StartForm } from './start.svelte';
	import { takeOver } from '../plan/handover';
	import InstrumentFields from '../ui/InstrumentFields.svelte';
	import OptionFields from '../ui/OptionFields.svelte';
	import SchoolFields from '../ui/SchoolFields.svelte';
	import Sheet from '../ui/Sheet.svelte';
	import SheetEnds from '../ui/SheetEnds.svelte';

	let { runs, label }: { runs: Runs; label: Snippet } = $props();

	let open = $state(false);
	let more = $state(false);
	let instruments = $state(false);
	const form = new StartForm();
	const planned = $derived(form.method?.planned_label ?? '');
	const fault = (field: string) => form.fault(`options.${field}`);
	const proposal = (field: string) => form.proposal(field);
	const set = (field: string, value: string | boolean) => form.set(field, value);
	const reads = $derived(
		[
			runs.shelf?.balances.find((row) => row.id === form.balanceId),
			...form.kinds.map((group) =>
				group.rows.find((row) => row.id === (form.instruments[group.kind] ?? group.usual))
			)
		]
			.map((row) => row?.name)
			.filter(Boolean)
			.join(', ')
	);
	$effect(() => {
		if (!runs.shelf) return;
		form.offer(runs.shelf);
		untrack(() => {
			const plan = takeOver();
			if (!plan) return;
			form.take(plan);
			open = true;
		});
	});

	$effect(() => {
		if (open) form.remember();
	});

	/* the form may come after the sheet: it still gets the focus that it would have had */
	function focusFirst(field: HTMLInputElement): void {
		requestAnimationFrame(() => field.focus());
	}

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const uuid = await form.send();
		if (!uuid) {
			more ||= form.faultUnderMore;
			instruments ||= form.fault('balance_id') !== '';
			await tick();
			document.querySelector<HTMLElement>('[role="dialog"] [aria-invalid="true"]')?.focus();
			return;
		}
		open = false;
		await navigate('/runs/:uuid', { params: { uuid } });
	}
</script>

<Sheet
	{open}
	change={(isOpen) => (open = isOpen)}
	width="960px"
	title="Start a run"
	look="button act"
	button={label}
>
	{#if runs.shelf}
		<form onsubmit={submit} novalidate>
			<div class="field title">
				<label for="title">Name of the run</label>
				<input
					id="title"
					{@attach focusFirst}
					bind:value={form.title}
					maxlength="120"
					placeholder="What it is, and where it came from"
					aria-invalid={!!form.fault('title')}
				/>
				{#if form.fault('title')}<p class="fault">{form.fault('title')}</p>{/if}
			</div>
			{#if runs.shelf.methods.length > 1}
				<div class="field">
					<label for="method">Method</label>
					<select
						id="method"
						value={form.methodName}
						onchange={(event) => form.choose(event.currentTarget.value)}
					>
						{#each runs.shelf.methods as method (method.name)}<option value={method.name}
								>{method.title}</option
							>{/each}
					</select>
				</div>
			{/if}
			<div class="field">
				<label for="bench">Bench</label>
				<select id="bench" bind:value={form.benchId} aria-invalid={!!form.fault('bench_id')}>
					{#each runs.shelf.benches as bench (bench.id)}<option value={bench.id}>{bench.name}</option>{/each}
				</select>
				{#if form.fault('bench_id')}<p class="fault">{form.fault('bench_id')}</p>{/if}
			</div>
			<div class="field">
				<label for="planned">{planned} planned, about</label>
				<input
					id="planned"
					bind:value={form.about}
					inputmode="decimal"
					placeholder={form.procedure?.windows[form.method?.planned ?? '']?.['about'] ?? '1.5 g'}
					aria-invalid={!!form.fault(`planned.${form.method?.planned}.about`)}
				/>
				{#if form.fault(`planned.${form.method?.planned}.about`)}<p class="fault">
						{form.fault(`planned.${form.method?.planned}.about`)}
					</p>{/if}
			</div>
			<OptionFields fields={form.firstFields} values={form.values} {fault} {proposal} {set} linked />
			<SchoolFields
				schools={form.procedure?.schools ?? []}
				chosen={form.schools}
				choose={(school, answer) => form.settle(school, answer)}
			/>
			{#if form.calibrations.length}
				<div class="field wide">
					<label for="calibration">Take from a run on a known sample</label>
					<select
						id="calibration"
						value={form.calibration}
						onchange={(event) => form.calibrate(event.currentTarget.value)}
						aria-describedby="calibration-help"
					>
						<option value="">nothing</option>
						{#each form.calibrations as row (row.uuid)}<option value={row.uuid}
								>{row.title}, {row.bench}, {row.date}</option
							>{/each}
					</select>
					<p id="calibration-help" class="quiet">
						{form.calibrations.find((row) => row.uuid === form.calibration)?.texts.join(' ') ??
							'Its sample counts as pure, or as its label says: the gas left dissolved, or the equation.'}
					</p>
				</div>
			{/if}
			<details class="wide unfold" bind:open={instruments}>
				<summary>Read with: {reads || 'no balance yet'}</summary>
				<div class="more">
					<div class="field">
						<label for="balance">Balance</label>
						<select id="balance" bind:value={form.balanceId} aria-invalid={!!form.fault('balance_id')}>
							{#each runs.shelf.balances as balance (balance.id)}
								<option value={balance.id}>{balance.name}, ± {balance.half_width}</option>
							{/each}
						</select>
						{#if form.fault('balance_id')}<p class="fault">{form.fault('balance_id')}</p>{/if}
					</div>
					<InstrumentFields
						kinds={form.kinds}
						chosen={form.instruments}
						choose={(kind, id) => form.useInstrument(kind, id)}
					/>
				</div>
			</details>
			<details class="wide unfold" bind:open={more}>
				<summary
					>More: {['a window for the sample', ...form.moreFields.map((field) => field.title.toLowerCase())]
						.slice(0, 4)
						.join(', ')}</summary
				>
				<div class="more">
					{#each ['low', 'high'] as const as end (end)}
						{@const path = `planned.${form.method?.planned}.${end}`}
						<div class="field">
							<label for={path}>{planned} {end === 'low' ? 'at least' : 'at most'}</label>
							<input
								id={path}
								bind:value={form[end]}
								inputmode="decimal"
								aria-invalid={!!form.fault(path)}
								aria-describedby="{path}-help"
							/>
							<p id="{path}-help" class={form.fault(path) ? 'fault' : 'quiet'}>
								{form.fault(path) || 'In place of “about”: a window, or a hard upper limit.'}
							</p>
						</div>
					{/each}
					<OptionFields fields={form.moreFields} values={form.values} {fault} {proposal} {set} linked />
				</div>
			</details>
			<p class="quiet wide">{form.procedure?.caution}</p>
			{#if form.notice}<p class="fault wide" role="alert">{form.notice}</p>{/if}
			<div class="wide"><SheetEnds leave="Cancel" act="Start" busy={form.busy} /></div>
		</form>
	{/if}
</Sheet>

<style>
	form :global(.link a) {
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	form,
	.more {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 1fr));
		gap: 14px 20px;
		padding-top: 16px;
	}
	.title {
		grid-column: span 2;
	}
	.wide {
		grid-column: 1 / -1;
	}
	@media (min-width: 561px) {
		form :global(.two-wide) {
			grid-column: span 2;
		}
	}
	@media (max-width: 800px) {
		form,
		.more {
			grid-template-columns: 1fr 1fr;
		}
	}
	@media (max-width: 560px) {
		form,
		.more {
			grid-template-columns: 1fr;
		}
	}
</style>
