<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { tick, type Snippet } from 'svelte';
	import { navigate } from '../router';
	import type { Runs } from './runs.svelte';
	import { StartForm } from './start.svelte';
	import OptionField from './OptionField.svelte';

	let { runs, label }: { runs: Runs; label: Snippet } = $props();

	let open = $state(false);
	let more = $state(false);
	const form = new StartForm();
	const planned = $derived(form.method?.planned === 'element' ? 'Element' : 'Sample');
	$effect(() => {
		if (runs.shelf) form.offer(runs.shelf);
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
			await tick();
			document.querySelector<HTMLElement>('[role="dialog"] [aria-invalid="true"]')?.focus();
			return;
		}
		open = false;
		await navigate('/runs/:uuid', { params: { uuid } });
	}
</script>

<Dialog {open} onOpenChange={(details) => (open = details.open)}>
	<Dialog.Trigger class="button act">{@render label()}</Dialog.Trigger>
	<Portal>
		<Dialog.Backdrop class="fixed inset-0 z-40 bg-black/50" />
		<Dialog.Positioner class="fixed inset-0 z-50 flex items-start justify-center overflow-y-auto p-4">
			<Dialog.Content class="sheet start-sheet">
				{#if open && runs.shelf}
					<Dialog.Title><h2>Start a run</h2></Dialog.Title>
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
							<select id="bench" bind:value={form.benchId}>
								{#each runs.shelf.benches as bench (bench.id)}<option value={bench.id}>{bench.name}</option
									>{/each}
							</select>
						</div>
						<div class="field">
							<label for="balance">Balance</label>
							<select id="balance" bind:value={form.balanceId}>
								{#each runs.shelf.balances as balance (balance.id)}
									<option value={balance.id}>{balance.name}, ± {balance.half_width}</option>
								{/each}
							</select>
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
						{#each form.firstFields as field (field.name)}<OptionField {form} {field} />{/each}
						{#each form.procedure?.schools ?? [] as school (school.name)}
							<div class="field">
								<label for="school-{school.name}">{school.title}</label>
								<select id="school-{school.name}" bind:value={form.schools[school.name]}>
									{#each Object.entries(school.choices) as [value, text] (value)}<option {value}
											>{text}</option
										>{/each}
								</select>
							</div>
						{/each}
						<details class="wide" bind:open={more}>
							<summary
								>More: {[
									'a window for the sample',
									...form.moreFields.map((field) => field.title.toLowerCase())
								]
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
								{#each form.moreFields as field (field.name)}<OptionField {form} {field} />{/each}
							</div>
						</details>
						<p class="quiet wide">{form.procedure?.caution}</p>
						{#if form.notice}<p class="fault wide" role="alert">{form.notice}</p>{/if}
						<div class="ends wide">
							<Dialog.CloseTrigger class="button">Cancel</Dialog.CloseTrigger>
							<button class="button act" disabled={form.busy}>Start</button>
						</div>
					</form>
				{/if}
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.start-sheet) {
		width: min(960px, 100%);
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
	:global(.start-sheet) .wide {
		grid-column: 1 / -1;
	}
	summary {
		display: flex;
		align-items: center;
		min-height: 48px;
		font-weight: 600;
		cursor: pointer;
	}
	summary::before {
		content: '+';
		width: 24px;
		font-family: var(--mono);
	}
	details[open] summary::before {
		content: '−';
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
