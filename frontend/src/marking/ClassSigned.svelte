<script lang="ts">
	/* Who signed what of a class, what came after, and one name below all of it. */
	import { untrack } from 'svelte';
	import { getClassSignatures, signClass, type ClassSignaturesView } from '../api/client';
	import { who } from '../doors/who.svelte';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';

	let { number }: { number: number } = $props();

	const SIGNS = { signed: '✓', later: '▲', broken: '■', unsigned: '–', empty: '–' } as const;
	let found = $state.raw<ClassSignaturesView | null>(null);
	let name = $state(untrack(() => (who.is?.name || who.is?.login) ?? ''));
	let said = $state.raw<Said>(NOTHING);
	let busy = $state(false);
	$effect(() => {
		void getClassSignatures(number).then((outcome) => {
			if (outcome.kind === 'done') found = outcome.value;
		});
	});

	async function sign(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		busy = true;
		const outcome = await signClass(number, name);
		busy = false;
		said = saidOf(outcome);
		if (outcome.kind === 'done') found = outcome.value;
		else await focusFault('#sign-class');
	}
</script>

{#if found}
	<section aria-labelledby="class-signed">
		<h2 id="class-signed">Signatures</h2>
		<p role="status">
			{found.said}
			{#if found.fingerprint}One fingerprint over all of them:
				<span class="figure">{found.fingerprint}</span>.{/if}
		</p>
		<ul>
			{#each found.benches as row (row.run)}
				<li class={row.standing}>
					<span class="sign" aria-hidden="true">{SIGNS[row.standing]}</span>
					<a href="/runs/{row.run}/log#sign">{row.name}</a>
					<span>{row.said}</span>
					<span class="quiet">{row.names.join(', ')}</span>
				</li>
			{/each}
		</ul>
		<form id="sign-class" class="no-print" novalidate onsubmit={(event) => void sign(event)}>
			<div class="field">
				<label for="class-name">Your name, below every bench’s record</label>
				<input
					id="class-name"
					bind:value={name}
					maxlength="120"
					autocomplete="name"
					aria-invalid={faultAt(said, 'name') !== ''}
					aria-describedby="class-name-fault"
				/>
				<span class="fault" id="class-name-fault">{faultAt(said, 'name') || said.trouble}</span>
			</div>
			<button class="button" disabled={busy}>Sign the class</button>
		</form>
	</section>
{/if}

<style>
	section {
		display: grid;
		gap: 8px;
		padding-top: 10px;
	}
	h2 {
		font-size: 21px;
	}
	li {
		display: grid;
		grid-template-columns: 24px 90px minmax(0, 1fr) minmax(0, 1fr);
		gap: 0 12px;
		align-items: baseline;
		padding: 7px 0;
		border-bottom: 1px solid var(--rule);
	}
	li a {
		color: var(--ink);
		font-family: var(--slab);
		font-weight: 600;
	}
	.signed .sign {
		color: var(--settled);
	}
	.later .sign {
		color: var(--watch);
	}
	.broken .sign {
		color: var(--stop);
	}
	form {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 10px 16px;
	}
	form .field {
		min-width: min(320px, 100%);
	}
	.fault:empty {
		display: none;
	}
	@media (max-width: 699px) {
		li {
			grid-template-columns: 24px 90px minmax(0, 1fr);
		}
		li .quiet {
			grid-column: 2 / -1;
		}
	}
</style>
