<script lang="ts">
	/* A tablet joins its bench: the code of the class, and where it stands. */
	import { joinBench } from '../api/client';
	import { navigate, searchParams } from '../router';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import DoorField from './DoorField.svelte';
	import DoorFrame from './DoorFrame.svelte';
	import { who } from './who.svelte';

	let code = $state(String(searchParams.get('code') ?? ''));
	let bench = $state(String(searchParams.get('bench') ?? ''));
	let said = $state.raw<Said>(NOTHING);
	let busy = $state(false);
	/* the code of a tablet is longer than that of a class, and says which bench */
	const takesPlace = $derived(code.replace(/[\s-]/g, '').length === 8);

	async function join(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		busy = true;
		const outcome = await joinBench(code, takesPlace ? '' : bench);
		busy = false;
		said = saidOf(outcome);
		if (outcome.kind !== 'done') return focusFault();
		await who.look();
		await navigate('/');
	}
</script>

<DoorFrame title="Join your bench">
	<form novalidate onsubmit={join}>
		<DoorField
			id="code"
			label="Code of the class"
			bind:value={code}
			fault={faultAt(said, 'code')}
			help="Six letters and digits; your instructor has it. The eight of another tablet take its place."
			first
			big
		/>
		{#if !takesPlace}
			<DoorField
				id="bench"
				label="Bench"
				bind:value={bench}
				fault={faultAt(said, 'bench')}
				help="The name that stands on it."
			/>
		{/if}
		{#if said.trouble}<p class="fault" role="alert">{said.trouble}</p>{/if}
		<button class="button act" disabled={busy}>Join</button>
	</form>
	<p><a href="/sign-in">I have an account</a></p>
</DoorFrame>

<style>
	form {
		display: grid;
		gap: 16px;
	}
	.act {
		min-height: 60px;
		font-size: 20px;
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
