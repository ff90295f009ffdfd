<script lang="ts">
	/* The door: sign in, come in as the demo's instructor by one tap, or make the house's first account. */
	import { untrack } from 'svelte';
	import { firstAccount, getDoor, signIn, type DoorView } from '../api/client';
	import { navigate, searchParams } from '../router';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';
	import DoorField from './DoorField.svelte';
	import DoorFrame from './DoorFrame.svelte';
	import { who } from './who.svelte';

	let door = $state.raw<DoorView | null>(null);
	let away = $state('');
	let busy = $state(false);
	let said = $state.raw<Said>(NOTHING);
	let values = $state({ login: '', password: '', code: '', name: '', section: '' });
	const at = (path: string) => faultAt(said, path);

	$effect(() =>
		untrack(() => {
			void look();
		})
	);

	async function look(): Promise<void> {
		const outcome = await getDoor();
		if (outcome.kind === 'done') door = outcome.value;
		else {
			away = outcome.title;
			setTimeout(() => void look(), 2000);
		}
	}

	async function enter(login: string, password: string): Promise<void> {
		busy = true;
		const outcome = door?.is_new
			? await firstAccount({ ...values, login, password })
			: await signIn(login, password);
		busy = false;
		said = saidOf(outcome);
		if (outcome.kind !== 'done') return focusFault();
		await who.look();
		const next = searchParams.get('next');
		// only a place of this house
		const place = typeof next === 'string' && /^\/(?!\/)/.test(next) ? next : '/';
		await navigate((door?.is_new ? '/shelf' : place) as '/');
	}
</script>

<DoorFrame title={door?.is_new ? 'The first account' : 'Sign in'}>
	{#if !door}
		<p class="quiet" aria-busy="true">{away || 'Looking who is at home …'}</p>
	{:else}
		{#if door.is_demo}
			<section class="demo" aria-label="The demo">
				<p>This is the demo: Fernhollow Craft College, an evening of eight benches, all of it invented.</p>
				<button class="button act" disabled={busy} onclick={() => enter('demo', 'demo')}>Come in</button>
				<p class="quiet">
					or below as <b class="figure">demo</b> with the password <b class="figure">demo</b>
				</p>
			</section>
		{/if}
		<form
			novalidate
			onsubmit={(event) => {
				event.preventDefault();
				void enter(values.login, values.password);
			}}
		>
			{#if door.is_new}
				<p>
					Nobody has an account here yet. The first one keeps the house: it makes the others, and looks after
					the backups.
				</p>
				<DoorField
					id="code"
					label="Code"
					bind:value={values.code}
					fault={at('code')}
					help="It stands on the terminal where the house was started."
					first
				/>
				<DoorField
					id="section"
					label="Name of your section"
					bind:value={values.section}
					fault={at('section')}
					help="As the class is called on its sheets; others can be made later."
				/>
				<DoorField
					id="name"
					label="Your name"
					bind:value={values.name}
					fault={at('name')}
					help="As it shall stand in the log."
				/>
			{/if}
			<DoorField
				id="login"
				label="Login"
				bind:value={values.login}
				fault={at('login')}
				help={door.is_new ? 'Small letters and digits.' : ''}
				autocomplete="username"
				first={!door.is_new && !door.is_demo}
			/>
			<DoorField
				id="password"
				label="Password"
				kind="password"
				bind:value={values.password}
				fault={at('password')}
				help={door.is_new ? 'At least 8 characters; several words are easy to remember.' : ''}
				autocomplete={door.is_new ? 'new-password' : 'current-password'}
			/>
			{#if said.trouble}<p class="fault" role="alert">{said.trouble}</p>{/if}
			<button class="button" class:act={!door.is_demo} disabled={busy}
				>{door.is_new ? 'Make the account' : 'Sign in'}</button
			>
		</form>
		{#if !door.is_new}<p class="other">
				<a href="/join">A tablet at a bench: join with the code of the class</a>
			</p>{/if}
	{/if}
</DoorFrame>

<style>
	form,
	.demo {
		display: grid;
		gap: 14px;
	}
	.demo {
		padding-bottom: 22px;
		border-bottom: 1px solid var(--rule);
	}
	.demo .button {
		font-size: 20px;
		min-height: 56px;
	}
	.other a {
		display: inline-grid;
		place-items: center;
		min-height: 48px;
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
</style>
