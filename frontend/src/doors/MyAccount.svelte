<script lang="ts">
	/* One's own account: another password, out of here, out of everywhere. */
	import { changePassword, signOut, signOutEverywhere } from '../api/client';
	import { navigate } from '../router';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import DoorField from './DoorField.svelte';
	import { who } from './who.svelte';

	let before = $state('');
	let after = $state('');
	let done = $state('');
	let said = $state.raw<Said>(NOTHING);

	async function change(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		done = '';
		said = saidOf(await changePassword(before, after));
		if (said !== NOTHING) return focusFault();
		before = after = '';
		done = 'Changed; every other browser of yours is signed out.';
	}

	async function leave(everywhere: boolean): Promise<void> {
		await (everywhere ? signOutEverywhere() : signOut());
		who.is = null;
		await navigate('/sign-in');
	}
</script>

<section aria-labelledby="mine">
	<h2 id="mine">{who.is?.name ?? 'You'}</h2>
	<div class="acts">
		<button class="button" onclick={() => leave(false)}>Sign out</button>
		<button class="button" onclick={() => leave(true)}>Sign out everywhere</button>
	</div>
	<details class="unfold">
		<summary>Another password</summary>
		<form novalidate onsubmit={change}>
			<DoorField
				id="password-before"
				label="Password now"
				kind="password"
				bind:value={before}
				fault={faultAt(said, 'old')}
				autocomplete="current-password"
			/>
			<DoorField
				id="password-after"
				label="New password"
				kind="password"
				bind:value={after}
				fault={faultAt(said, 'new')}
				help="At least 8 characters; several words are easy to remember."
				autocomplete="new-password"
			/>
			<button class="button">Change it</button>
			{#if said.trouble}<p class="fault" role="alert">{said.trouble}</p>{/if}
			<p role="status">{done}</p>
		</form>
	</details>
</section>

<style>
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
	}
	form {
		display: grid;
		gap: 12px;
		padding: 8px 0;
	}
	form .button {
		justify-self: start;
	}
</style>
