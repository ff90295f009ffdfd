<script lang="ts">
	/* A tablet joins its bench: the code of the class, then a tap on where it stands. */
	import { untrack } from 'svelte';
	import { benchesToJoin, joinBench, type JoinView, type Outcome } from '../api/client';
	import { navigate, searchParams } from '../router';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import DoorField from './DoorField.svelte';
	import DoorFrame from './DoorFrame.svelte';
	import { who } from './who.svelte';

	const OF_A_CLASS = 6;
	const OF_A_TABLET = 8;

	let code = $state(String(searchParams.get('code') ?? ''));
	let said = $state.raw<Said>(NOTHING);
	let busy = $state(false);
	let found = $state.raw<JoinView | null>(null);
	const typed = $derived(code.replace(/[\s-]/g, '').toUpperCase());

	/* once the last character of a code is typed, nothing more is needed to see its benches */
	$effect(() => {
		const wanted = typed;
		untrack(() => {
			found = null;
			said = NOTHING;
			if (wanted.length === OF_A_CLASS) void look();
		});
	});

	async function look(): Promise<void> {
		const wanted = typed;
		busy = true;
		const outcome = await benchesToJoin(wanted);
		busy = false;
		// who typed on meanwhile means another code
		if (wanted !== typed) return;
		if (outcome.kind === 'done') found = outcome.value;
		else await refused(outcome);
	}

	async function join(bench: string): Promise<void> {
		busy = true;
		const outcome = await joinBench(typed, bench);
		busy = false;
		if (outcome.kind !== 'done') return refused(outcome);
		await who.look();
		await navigate('/');
	}

	async function refused(outcome: Outcome<unknown>): Promise<void> {
		said = saidOf(outcome);
		await focusFault();
	}

	/* the code of a tablet is longer than that of a class, and says which bench */
	async function submit(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (typed.length >= OF_A_TABLET) await join('');
		else if (!found) await look();
		else document.querySelector<HTMLElement>('.benches button')?.focus();
	}
</script>

<DoorFrame title="Join your bench">
	<form novalidate onsubmit={submit}>
		<DoorField
			id="code"
			label="Code of the class"
			bind:value={code}
			fault={faultAt(said, 'code')}
			help="Your instructor has it. To take over from another tablet, type the code that it shows."
			first
			big
		/>
		{#if !found}<button class="button act" disabled={busy}>Join</button>{/if}
	</form>
	{#if found}
		<section aria-labelledby="which-bench">
			<h2 id="which-bench">{found.title}{found.starts && `, ${found.starts}`}: which bench is this?</h2>
			<ul class="benches">
				{#each found.benches as bench (bench)}
					<li><button class="button" disabled={busy} onclick={() => void join(bench)}>{bench}</button></li>
				{/each}
			</ul>
		</section>
	{/if}
	<p class="fault" role="alert" id="bench-fault">{said.trouble || faultAt(said, 'bench')}</p>
	<p><a href="/sign-in">I have an account</a></p>
</DoorFrame>

<style>
	form,
	section {
		display: grid;
		gap: 16px;
	}
	.act {
		min-height: 60px;
		font-size: 20px;
	}
	h2 {
		font-size: 20px;
	}
	.benches {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
		gap: 10px;
	}
	.benches .button {
		width: 100%;
		min-height: 60px;
		padding: 6px 10px;
		font-size: 20px;
		overflow-wrap: anywhere;
	}
	.fault:empty {
		display: none;
	}
	a {
		display: inline-grid;
		place-items: center;
		min-height: 48px;
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
</style>
