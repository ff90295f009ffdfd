<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { correctReading, newUuid, type ReadingView, type RunView } from '../api/client';
	import { clock } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';

	let { run, row, done }: { run: RunView; row: ReadingView; done: () => Promise<void> } = $props();

	const REASON_AFTER_MS = 30_000;
	const REASONS = ['digits swapped', 'mistyped', 'wrong line', 'wrong balance'];

	let open = $state(false);
	let text = $state('');
	let reason = $state('');
	let fault = $state('');
	let faultAt = $state('');
	let doubt = $state('');
	let uuid = '';

	const old = $derived(clock.now - Date.parse(row.at) > REASON_AFTER_MS);

	function change(isOpen: boolean): void {
		open = isOpen;
		if (!isOpen) return;
		text = row.text;
		reason = fault = faultAt = doubt = '';
		uuid = newUuid();
	}

	async function submit(event: SubmitEvent, confirmed = false): Promise<void> {
		event.preventDefault();
		fault = faultAt = doubt = '';
		const outcome = await correctReading(run.uuid, {
			uuid,
			supersedes: row.uuid,
			text,
			reason,
			by: '',
			confirmed
		});
		if (outcome.kind === 'done') {
			open = false;
			await done();
		} else if (outcome.kind === 'problem' && outcome.code === 'doubt') doubt = outcome.title;
		else {
			const first = outcome.kind === 'problem' ? outcome.faults[0] : undefined;
			fault = first?.message ?? `${outcome.title} What you typed is still here; try again.`;
			faultAt = first?.path ?? '';
		}
	}
</script>

<Dialog {open} onOpenChange={(details) => change(details.open)}>
	<Dialog.Trigger class="button" aria-label="Correct {row.label}, {row.text} {row.unit}"
		>Correct</Dialog.Trigger
	>
	<Portal>
		<Dialog.Backdrop class="fixed inset-0 z-40 bg-black/50" />
		<Dialog.Positioner class="fixed inset-0 z-50 flex items-start justify-center overflow-y-auto p-4 pt-24">
			<Dialog.Content class="sheet correct-sheet">
				{#if open}
					<Dialog.Title><h2>Correct {row.label}</h2></Dialog.Title>
					<Dialog.Description>
						<span class="figure">{row.text} {row.unit}</span> stays in the log, struck through.
					</Dialog.Description>
					<form onsubmit={submit} novalidate>
						<div class="field">
							<label for="new-text">What it should say, in {row.unit}</label>
							<input
								id="new-text"
								class="figure"
								bind:value={text}
								inputmode="decimal"
								autocomplete="off"
								aria-invalid={faultAt === 'text'}
								aria-describedby="correct-fault"
							/>
						</div>
						{#if old}
							<div class="field">
								<label for="reason">Why</label>
								<input
									id="reason"
									bind:value={reason}
									list="reasons"
									maxlength="500"
									aria-invalid={faultAt === 'reason'}
									aria-describedby="correct-fault"
								/>
								<datalist id="reasons"
									>{#each REASONS as one (one)}<option value={one}></option>{/each}</datalist
								>
							</div>
						{/if}
						<div id="correct-fault" aria-live="assertive">
							{#if fault}<p class="fault">{fault}</p>{/if}
							{#if doubt}
								<p class="fault"><Sentence text={doubt} /></p>
								<button
									type="button"
									class="button"
									onclick={(event) => submit(event as unknown as SubmitEvent, true)}
									>It is right all the same</button
								>
							{/if}
						</div>
						<div class="ends">
							<Dialog.CloseTrigger class="button">Leave it</Dialog.CloseTrigger>
							<button class="button act">Correct</button>
						</div>
					</form>
				{/if}
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.correct-sheet) {
		width: min(480px, 100%);
	}
	form {
		display: grid;
		gap: 16px;
		padding-top: 16px;
	}
</style>
