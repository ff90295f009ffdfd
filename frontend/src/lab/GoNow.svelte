<script lang="ts">
	/* Which bench to go to, why, and what to say there; a tap answers. */
	import type { CallView } from '../api/client';
	import { focusFault } from '../ui/faults';
	import Sentence from '../ui/Sentence.svelte';
	import type { Lab } from './lab.svelte';

	let { lab }: { lab: Lab } = $props();

	const calls = $derived(lab.feed.board?.calls ?? null);
	let noting = $state<string | null>(null);
	let text = $state('');
	const idOf = (call: CallView): string => `${call.run} ${call.key}`;

	let fault = $state('');

	async function answer(call: CallView, kind: 'reached' | 'snoozed'): Promise<void> {
		fault = await lab.answer(call, kind);
	}
	/* a step to be signed off: with what was seen there */
	const signs = (call: CallView): boolean => call.code === 'sign';
	async function note(event: SubmitEvent, call: CallView): Promise<void> {
		event.preventDefault();
		fault = await lab.answer(call, signs(call) ? 'signed' : 'noted', text);
		if (fault) return focusFault();
		noting = null;
		text = '';
	}
</script>

<section aria-labelledby="go-now">
	<h2 id="go-now">Go now</h2>
	{#if calls}
		<ol aria-live="polite">
			{#each calls.go as call, index (idOf(call))}
				<li class="call-{call.code}">
					<h3><a href="/runs/{call.run}">{index + 1} {call.name}</a></h3>
					<p><Sentence text={call.reason} /></p>
					<p class="quiet"><Sentence text={call.say} /></p>
					{#if noting === idOf(call)}
						<form onsubmit={(event) => void note(event, call)}>
							<div class="field">
								<label for="note"
									>{signs(call) ? `What you saw at ${call.name}` : `For the log of ${call.name}`}</label
								>
								<!-- svelte-ignore a11y_autofocus (the button that opened it is gone) -->
								<input id="note" bind:value={text} maxlength="400" autofocus aria-invalid={!!fault} />
							</div>
							<div class="taps">
								<button class="button act">{signs(call) ? 'Sign it off' : 'Note it'}</button>
								<button type="button" class="button" onclick={() => (noting = null)}>Leave it</button>
							</div>
						</form>
					{:else}
						<div class="taps">
							<button
								class="button"
								aria-label="Was there: {call.name}"
								onclick={() => void answer(call, 'reached')}>Was there</button
							>
							<button
								class="button"
								aria-label="In 5 min: {call.name}"
								onclick={() => void answer(call, 'snoozed')}>In 5 min</button
							>
							<button
								class={['button', { act: signs(call) }]}
								aria-label="{signs(call) ? 'Sign off' : 'Note'}: {call.name}"
								onclick={() => (noting = idOf(call))}>{signs(call) ? 'Sign off' : 'Note'}</button
							>
						</div>
					{/if}
				</li>
			{:else}<li class="nobody">Nobody needs you.</li>{/each}
		</ol>
		<p class="quiet">
			{calls.more ? `${calls.more} more after these. ` : ''}{calls.said}
		</p>
	{/if}
	{#if fault}<p class="fault" role="alert">{fault}</p>{/if}
</section>

<style>
	section {
		display: grid;
		align-content: start;
		gap: 12px;
	}
	h2 {
		font-size: 21px;
	}
	ol {
		display: grid;
		gap: 16px;
	}
	li {
		display: grid;
		gap: 4px;
		padding-left: 12px;
		border-left: 5px solid var(--rule);
		line-height: 1.3;
	}
	h3 {
		font-size: 20px;
	}
	h3 a {
		display: inline-grid;
		align-items: center;
		min-height: 36px;
		color: var(--ink);
		text-decoration: none;
	}
	h3 a:hover {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.call-stop,
	.call-doubt {
		border-color: var(--stop);
	}
	.call-time {
		border-color: var(--act);
	}
	.call-look {
		border-color: var(--watch);
	}
	.nobody {
		border-color: var(--settled);
		padding-block: 6px;
	}
	.taps {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		padding-top: 4px;
	}
	.taps .button {
		flex: 1 1 auto;
		min-height: 48px;
		padding: 0 8px;
		font-size: 16px;
	}
	form {
		display: grid;
		gap: 6px;
	}
</style>
