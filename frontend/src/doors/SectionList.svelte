<script lang="ts">
	/* The caller's sections: where one works now, with whom each is shared. */
	import { goToSection, makeSection, renameSection, shareSection } from '../api/client';
	import { focusFault } from '../ui/faults';
	import { faultAt, NOTHING, type Said } from '../ui/said';
	import TextField from '../ui/TextField.svelte';
	import type { Shelf } from './shelf.svelte';

	let { shelf }: { shelf: Shelf } = $props();
	let name = $state('');
	let login = $state('');
	let saidOfName = $state.raw<Said>(NOTHING);
	let saidOfShare = $state.raw<Said>(NOTHING);
	const here = $derived(shelf.sections.find((row) => row.is_here));

	async function make(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		saidOfName = await shelf.atSections(makeSection(name));
		if (saidOfName !== NOTHING) return focusFault();
		name = '';
	}

	async function share(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (!here) return;
		saidOfShare = await shelf.atSections(shareSection(here.id, login, false));
		if (saidOfShare !== NOTHING) return focusFault();
		login = '';
	}
</script>

<section aria-labelledby="sections">
	<h2 id="sections">Sections</h2>
	<ul>
		{#each shelf.sections as row (row.id)}
			<li class="acted">
				<span>
					<b>{row.name}</b>
					<span class="quiet"
						>{row.is_mine
							? row.members.length > 1
								? `shared with ${row.members
										.filter((one) => !one.is_owner)
										.map((one) => one.name)
										.join(', ')}`
								: 'yours'
							: `of ${row.members.find((one) => one.is_owner)?.name ?? 'a colleague'}`}</span
					>
				</span>
				{#if row.is_here}<span class="here">You work here</span>
				{:else}<button class="button" onclick={() => shelf.atSections(goToSection(row.id))}
						>Go there<span class="hidden-text"> {row.name}</span></button
					>{/if}
			</li>
		{:else}<li class="quiet">You have none yet: make one, or ask a colleague to share theirs.</li>{/each}
	</ul>
	<form class="field-and-act" novalidate onsubmit={make}>
		<TextField
			id="section-name"
			label={here?.is_mine ? 'Another section, or a new name' : 'A section of your own'}
			bind:value={name}
			fault={faultAt(saidOfName, 'name')}
			help="As the class is called on its sheets."
		/>
		<span class="acts">
			<button class="button">Make it</button>
			{#if here?.is_mine}<button
					type="button"
					class="button"
					onclick={async () => {
						saidOfName = await shelf.atSections(renameSection(here.id, name));
						if (saidOfName === NOTHING) name = '';
						else void focusFault();
					}}>Rename</button
				>{/if}
		</span>
	</form>
	{#if here?.is_mine}
		<form class="field-and-act" novalidate onsubmit={share}>
			<TextField
				id="share-login"
				label="Share “{here.name}” with"
				bind:value={login}
				fault={faultAt(saidOfShare, 'login')}
				help="A colleague’s login: they see and record everything in it."
			/>
			<button class="button">Share</button>
		</form>
		{#each here.members.filter((one) => !one.is_owner) as one (one.login)}
			<p class="acted">
				{one.name} <span class="quiet">{one.login}</span>
				<button class="button" onclick={() => shelf.atSections(shareSection(here.id, one.login, true))}
					>End it<span class="hidden-text"> with {one.name}</span></button
				>
			</p>
		{/each}
	{/if}
	{#if saidOfName.trouble || saidOfShare.trouble}<p class="fault" role="alert">
			{saidOfName.trouble || saidOfShare.trouble}
		</p>{/if}
</section>

<style>
	.here {
		color: var(--settled);
		font-weight: 600;
	}
	.acts {
		display: flex;
		gap: 8px;
	}
</style>
