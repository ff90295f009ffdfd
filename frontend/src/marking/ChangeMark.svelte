<script lang="ts">
	/* Other marks for a line than those reckoned, and why: both stand beside it from then on. */
	import { untrack } from 'svelte';
	import { focusFault } from '../ui/faults';
	import { faultAt } from '../ui/said';
	import type { Marking } from './marking.svelte';

	let { marking }: { marking: Marking } = $props();

	const draft = $derived(marking.draft);
	const sheet = $derived(marking.chosen?.sheet);
	const row = $derived(sheet?.lines.find((one) => one.name === draft?.line));
	const fault = (path: string): string => faultAt(marking.said, path);
	let box = $state<HTMLInputElement | null>(null);
	$effect(() => {
		if (draft?.line) untrack(() => (box?.focus(), box?.select()));
	});

	/* who leaves it by Escape stays on the sheet */
	function leave(event: KeyboardEvent): void {
		if (event.key === 'Escape') marking.leave();
	}

	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!(await marking.keep())) await focusFault('#change-mark');
	}
</script>

<svelte:window onkeydown={leave} />
{#if draft && row && sheet}
	<form id="change-mark" novalidate onsubmit={(event) => void submit(event)}>
		<div class="field">
			<label for="mark-line">Line</label>
			<select
				id="mark-line"
				value={draft.line}
				onchange={(event) => marking.change(event.currentTarget.value)}
			>
				{#each sheet.lines as one (one.name)}<option value={one.name}
						>{one.number ? `${one.number}, ` : ''}{one.label}</option
					>{/each}
			</select>
		</div>
		<div class="field marks">
			<label for="mark-marks">Marks, of {row.of}</label>
			<input
				id="mark-marks"
				class="figure"
				inputmode="numeric"
				autocomplete="off"
				bind:this={box}
				bind:value={draft.marks}
				aria-invalid={fault('marks') !== ''}
				aria-describedby="mark-fault"
			/>
		</div>
		<div class="field note">
			<label for="mark-note">Why</label>
			<input
				id="mark-note"
				autocomplete="off"
				maxlength="1000"
				bind:value={draft.note}
				aria-invalid={fault('note') !== ''}
				aria-describedby="mark-fault"
			/>
		</div>
		<p class="ends">
			<button class="button act" disabled={marking.busy}>Change it</button>
			{#if row.changed_by}<button
					type="button"
					class="button"
					disabled={marking.busy}
					onclick={() => void marking.keep(true)}>As reckoned: {row.reckoned}</button
				>{/if}
			<button type="button" class="button" onclick={() => marking.leave()}>Leave it</button>
		</p>
		<p class="fault" id="mark-fault" role="alert">
			{fault('marks') || fault('note') || fault('line') || marking.said.trouble}
		</p>
	</form>
{/if}

<style>
	form {
		display: grid;
		grid-template-columns: minmax(150px, 1fr) 110px minmax(0, 2fr) auto;
		align-items: end;
		gap: 6px 14px;
		margin-top: 12px;
		padding: 12px 14px;
		border-left: 4px solid var(--act);
		background: var(--raised);
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	.fault {
		grid-column: 1 / -1;
	}
	.fault:empty {
		display: none;
	}
	@media (max-width: 899px) {
		form {
			grid-template-columns: minmax(0, 1fr) 110px;
		}
		.note,
		.ends {
			grid-column: 1 / -1;
		}
	}
</style>
