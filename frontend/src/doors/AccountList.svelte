<script lang="ts">
	/* The administrator's accounts: made, given a new password, shut out; and what was done at the doors. */
	import { addAccount, disableAccount, resetAccount } from '../api/client';
	import { dayAndTime, clock } from '../ui/clock.svelte';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, type Said } from '../ui/said';
	import DoorField from './DoorField.svelte';
	import type { Shelf } from './shelf.svelte';

	let { shelf }: { shelf: Shelf } = $props();
	const fresh = () => ({ login: '', name: '', password: '', is_admin: false });
	let values = $state(fresh());
	let said = $state.raw<Said>(NOTHING);
	let told = $state('');

	async function add(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		said = await shelf.atAccounts(addAccount({ ...values }));
		if (said !== NOTHING) return focusFault();
		values = fresh();
	}

	async function reset(number: number, name: string): Promise<void> {
		said = await shelf.atAccounts(resetAccount(number));
		told = said === NOTHING ? `${name}: ${shelf.accounts?.password ?? ''}` : '';
	}
</script>

<section aria-labelledby="accounts">
	<h2 id="accounts">Accounts</h2>
	<ul>
		{#each shelf.accounts?.accounts ?? [] as row (row.id)}
			<li class="acted" class:out={row.is_disabled}>
				<span>
					<b>{row.name}</b>
					<span class="quiet"
						>{row.login}{row.is_admin ? ', administrator' : ''}{row.is_disabled ? ', shut out' : ''}</span
					>
				</span>
				<span class="acts">
					<button class="button" onclick={() => reset(row.id, row.name)}
						>New password<span class="hidden-text"> for {row.name}</span></button
					>
					<button
						class="button"
						onclick={async () => (said = await shelf.atAccounts(disableAccount(row.id, !row.is_disabled)))}
						>{row.is_disabled ? 'Let in' : 'Shut out'}<span class="hidden-text"> {row.name}</span></button
					>
				</span>
			</li>
		{/each}
	</ul>
	{#if told}<p class="told" role="status">New password, told this once. <b class="figure">{told}</b></p>{/if}
	<details class="unfold">
		<summary>Another account</summary>
		<form novalidate onsubmit={add}>
			<DoorField id="new-login" label="Login" bind:value={values.login} fault={faultAt(said, 'login')} />
			<DoorField
				id="new-name"
				label="Name"
				bind:value={values.name}
				fault={faultAt(said, 'name')}
				help="As it shall stand in the log."
			/>
			<DoorField
				id="new-password"
				label="Password"
				kind="password"
				bind:value={values.password}
				fault={faultAt(said, 'password')}
				autocomplete="new-password"
			/>
			<label class="tick"><input type="checkbox" bind:checked={values.is_admin} /> an administrator too</label
			>
			<button class="button">Make it</button>
		</form>
	</details>
	{#if said.trouble || faultAt(said, 'login')}<p class="fault" role="alert">
			{said.trouble || faultAt(said, 'login')}
		</p>{/if}
	<details class="unfold">
		<summary>At the doors lately</summary>
		<ul class="log">
			{#each shelf.audit as row, index (index)}
				<li>
					<span class="figure quiet">{dayAndTime(row.at, clock.now)}</span>
					{row.what} <span class="quiet">{row.about} · {row.who}</span>
				</li>
			{/each}
		</ul>
	</details>
</section>

<style>
	.out {
		color: var(--quiet);
	}
	.acts {
		display: flex;
		gap: 8px;
	}
	.told {
		margin-top: 12px;
		padding: 12px 16px;
		border-left: 5px solid var(--watch);
		background: var(--raised);
	}
	form {
		display: grid;
		gap: 12px;
		padding: 8px 0;
	}
	form .button {
		justify-self: start;
	}
	.log {
		max-height: 320px;
		overflow-y: auto;
	}
	.log li {
		padding: 3px 0;
	}
</style>
