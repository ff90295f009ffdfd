<script lang="ts">
	/* Names below the record: what each stands for, and whether it still speaks of all that stands here. */
	import PenLine from '@lucide/svelte/icons/pen-line';
	import { newUuid, signRun, type RunView } from '../api/client';
	import { dayAndTime, clock } from '../ui/clock.svelte';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import Sentence from '../ui/Sentence.svelte';
	import Verdict from '../ui/Verdict.svelte';

	let { run, done }: { run: RunView; done: () => Promise<void> } = $props();

	let name = $state('');
	let said = $state<Said>(NOTHING);
	let busy = $state(false);
	/* one signature, however often it has to be sent */
	let uuid = newUuid();

	let field = $state<HTMLInputElement | null>(null);

	/* come from the bench to sign: the page was not yet laid out when the address was followed */
	$effect(() => {
		if (location.hash === '#sign') field?.focus();
	});

	const whole = $derived(run.signatures.filter((row) => row.holds && row.later === 0));
	const fault = $derived(faultAt(said, 'name') || said.trouble);

	async function sign(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (busy) return;
		busy = true;
		const answer = saidOf(await signRun(run.uuid, { uuid, name }));
		busy = false;
		said = answer;
		if (answer !== NOTHING) return;
		uuid = newUuid();
		name = '';
		await done();
	}
</script>

<section aria-labelledby="signed" id="sign">
	<h2 id="signed">Signed</h2>
	<ul>
		{#each run.signatures as row (row.uuid)}
			<li>
				<p class="who">
					<PenLine size={22} aria-hidden="true" />
					<strong>{row.name}</strong>
					<span class="figure quiet">{dayAndTime(row.at, clock.now)}</span>
				</p>
				<p>
					{#each row.results as result (result)}<span class="result"><Sentence text={result} /></span>{/each}
				</p>
				<p class="quiet">record <span class="figure">{row.fingerprint}</span></p>
				<ul>
					{#if !row.holds}
						<Verdict
							level="stop"
							text="What stands here is not what was signed: a row was changed past the log. Compare it with the run file of that day."
						/>
					{:else if row.later}
						<Verdict
							level="watch"
							text="{row.later} {row.later === 1 ? 'entry' : 'entries'} came after this signature{row.changed
								? ', and the answer is another now'
								: ''}. Read them, and sign once more."
						/>
					{:else if row.changed}
						<Verdict
							level="watch"
							text="The same readings give another answer today: a later version of the program rounds or judges otherwise. What was signed stands above."
						/>
					{/if}
				</ul>
			</li>
		{:else}
			<li class="quiet">Nobody has signed yet. Both partners sign, each with their own name.</li>
		{/each}
	</ul>
	<form onsubmit={sign} class="no-print" novalidate>
		<div class="field">
			<label for="sign-name">Your name</label>
			<input
				id="sign-name"
				bind:this={field}
				bind:value={name}
				autocomplete="off"
				maxlength="120"
				aria-invalid={fault ? 'true' : undefined}
				aria-describedby={fault ? 'sign-fault' : 'sign-means'}
			/>
		</div>
		<button class="button act" disabled={busy}>Sign the record</button>
		{#if fault}<p class="fault" id="sign-fault" role="alert">{fault}</p>{/if}
		<p class="quiet" id="sign-means">
			{whole.length === 1
				? `${whole[0]?.name} has signed; the partner signs too.`
				: 'You say by it that you have read the record, and that it is as you saw it.'}
			A later correction stays possible; it shows here.
		</p>
	</form>
</section>

<style>
	section {
		display: grid;
		gap: 14px;
		scroll-margin-top: 90px;
	}
	h2 {
		font-size: 22px;
	}
	section > ul > li:not(.quiet) {
		display: grid;
		gap: 2px;
		padding: 10px 0 10px 14px;
		border-left: 4px solid var(--settled);
		margin-bottom: 12px;
	}
	.who {
		display: flex;
		align-items: center;
		gap: 10px;
	}
	.who :global(svg) {
		color: var(--settled);
	}
	.result {
		display: block;
	}
	form {
		display: grid;
		grid-template-columns: minmax(220px, 340px) auto 1fr;
		align-items: end;
		gap: 8px 14px;
	}
	form p {
		grid-column: 1 / -1;
	}
	@media (max-width: 560px) {
		form {
			grid-template-columns: 1fr;
		}
	}
</style>
