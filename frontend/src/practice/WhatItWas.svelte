<script lang="ts">
	/* The conclusion as a sentence to complete; afterwards what was planted, and how the answer stands to it. */
	import type { Practice } from './practice.svelte';

	let { practice, toBench }: { practice: Practice; toBench: () => void } = $props();
	const view = $derived(practice.view);
	const found = $derived(view?.debrief ?? null);
	const unit = $derived(view?.causes.find((row) => row.code === practice.said.cause)?.unit ?? '');
	const nothing = $derived(practice.said.cause === 'nothing');
	const link = $derived(
		view
			? `/practice?${new URLSearchParams({ method: view.method, level: String(view.level), seed: view.seed }).toString()}`
			: '/practice'
	);
	let copied = $state('');
	async function share(): Promise<void> {
		try {
			await navigator.clipboard.writeText(location.origin + link);
			copied = 'The link is copied.';
		} catch {
			copied = location.origin + link;
		}
	}
	function send(event: SubmitEvent): void {
		event.preventDefault();
		void practice.answer();
	}
</script>

{#if view && found}
	<section class="said" aria-label="What it was">
		<h2>{found.total} of {found.of} points</h2>
		<p>{found.planted}</p>
		<table class="ruled">
			<thead><tr><th></th><th>You said</th><th>It was</th><th>Points</th></tr></thead>
			<tbody>
				{#each found.points as row (row.asked)}
					<tr>
						<th scope="row">{row.asked}</th>
						<td>{row.said}</td>
						<td>{row.was}</td>
						<td class="figure earned">{row.points} of {row.of}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<dl>
			<dt>What was there</dt>
			<dd>{found.true}; you found <span class="figure">{found.measured}</span>.</dd>
			{#if found.first_shown}<dt>Where it showed first</dt>
				<dd>{found.first_shown}</dd>{/if}
			{#if found.suspects}<dt>The suspects</dt>
				<dd>{found.suspects}</dd>{/if}
			{#if found.guess}<dt>Your guess</dt>
				<dd>{found.guess}</dd>{/if}
			{#if found.own.length}<dt>How you worked</dt>
				{#each found.own as text (text)}<dd>{text}</dd>{/each}{/if}
			<dt>The way</dt>
			<dd>{found.way}</dd>
		</dl>
		<p class="ends">
			<a class="button act" href="/practice">Another bench</a>
			<a class="button" href={link}>The same once more</a>
			<button class="button" onclick={share}>Share this bench</button>
		</p>
		<p role="status">{copied}</p>
	</section>
{:else if view}
	<section class="said" aria-label="What it was">
		<h2>{view.level ? 'Something may be wrong here' : 'Nothing is hidden here'}</h2>
		{#if view.level}
			<p>
				One thing may have been hidden before you began. Work as always. When you have a result, say what it
				was.
			</p>
		{:else}
			<p>A bench to get to know: heat too hot, weigh too warm, and see what comes of it.</p>
		{/if}
		<h3>What you found</h3>
		<p class="result figure">{view.result || 'no result yet'}</p>
		{#if view.level}
			<form onsubmit={send}>
				<h3>What it was</h3>
				<div class="field">
					<label for="what-cause">It was</label>
					<select
						id="what-cause"
						bind:value={practice.said.cause}
						aria-invalid={Boolean(practice.faults['cause'])}
					>
						<option value="">choose a cause</option>
						{#each view.causes as row (row.code)}<option value={row.code}>{row.label}</option>{/each}
					</select>
					{#if practice.faults['cause']}<p class="fault" role="alert">{practice.faults['cause']}</p>{/if}
				</div>
				{#if !nothing}
					<div class="field">
						<label for="what-sign">It makes the result</label>
						<select id="what-sign" bind:value={practice.said.sign}>
							<option value="">too small or too large?</option>
							<option>too small</option>
							<option>too large</option>
						</select>
						{#if practice.faults['sign']}<p class="fault" role="alert">{practice.faults['sign']}</p>{/if}
					</div>
					<div class="field">
						<label for="what-size">This much of it would do{unit ? `, in ${unit}` : ''}</label>
						<input
							id="what-size"
							class="figure"
							bind:value={practice.said.size}
							autocomplete="off"
							inputmode="decimal"
							aria-invalid={Boolean(practice.faults['size'])}
						/>
						{#if practice.faults['size']}<p class="fault" role="alert">{practice.faults['size']}</p>{/if}
					</div>
				{/if}
				<p class="ends">
					<button class="button act" disabled={practice.busy || !practice.said.cause}
						>That is my answer</button
					>
					<button type="button" class="button" onclick={toBench}>Look again first</button>
				</p>
				<p class="quiet">
					Two points for the cause, one for the sign, one for the size; none lost for looking again, or for
					another trial from the same jar.
				</p>
			</form>
		{/if}
	</section>
{/if}

<style>
	.said,
	form {
		display: grid;
		align-content: start;
		gap: 14px;
	}
	.said {
		padding: 18px 22px;
	}
	h2 {
		font-size: 23px;
	}
	h3 {
		font-size: 19px;
	}
	.result {
		font-size: 26px;
	}
	dt {
		margin-top: 8px;
		font-weight: 600;
	}
	.earned {
		white-space: nowrap;
	}
	.ends {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
</style>
