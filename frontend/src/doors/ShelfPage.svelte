<script lang="ts">
	/* The Shelf: who may come in, by which door, and where the records have their copy. */
	import TopBar from '../ui/TopBar.svelte';
	import AccountList from './AccountList.svelte';
	import Backups from './Backups.svelte';
	import BenchList from './BenchList.svelte';
	import ClassDoor from './ClassDoor.svelte';
	import { Shelf } from './shelf.svelte';
	import MyAccount from './MyAccount.svelte';
	import SectionList from './SectionList.svelte';
	import { who } from './who.svelte';

	const shelf = new Shelf();
	$effect(() => {
		if (who.is) void shelf.begin();
	});
</script>

<TopBar title="Shelf" place={who.is?.section ?? ''} />
<main id="main" tabindex="-1">
	{#if shelf.trouble}<p class="fault" role="alert">{shelf.trouble}</p>{/if}
	{#if shelf.isNew}
		<section class="first" aria-labelledby="first-steps">
			<h2 id="first-steps">Before the first class</h2>
			<ol>
				<li class:done={shelf.benches.length > 0}>Name the benches, below.</li>
				<li class:done={shelf.hasBalance}>
					<a href="/today">Put the balances and the other instruments on the day’s shelf</a>, with what they
					are right to.
				</li>
				<li class:done={shelf.found?.code}>Give out the code of the class: tablets join with it.</li>
				<li><a href="/">Start a run.</a></li>
			</ol>
		</section>
	{/if}
	<div class="columns">
		<div>
			{#if shelf.found}<ClassDoor {shelf} found={shelf.found} />{/if}
			{#if shelf.found}<BenchList {shelf} found={shelf.found} />{/if}
		</div>
		<div>
			<SectionList {shelf} />
			<MyAccount />
			{#if who.is?.is_admin}<AccountList {shelf} />{/if}
			<Backups {shelf} />
		</div>
	</div>
</main>

<style>
	main {
		max-width: 1180px;
		margin: 0 auto;
		padding: 24px;
	}
	.columns {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 48px;
	}
	.columns > div {
		display: grid;
		align-content: start;
		gap: 40px;
		min-width: 0;
	}
	.columns :global(h2) {
		margin-bottom: 12px;
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
		font-size: 22px;
	}
	.first {
		margin-bottom: 32px;
		padding: 18px 22px;
		border-left: 5px solid var(--act);
		border-radius: 6px;
		background: var(--raised);
	}
	.first h2 {
		font-size: 22px;
	}
	.first ol {
		margin-top: 8px;
		padding-left: 24px;
		list-style: decimal;
	}
	.first li {
		padding: 4px 0;
	}
	.first .done {
		color: var(--quiet);
		text-decoration: line-through;
	}
	.first a {
		color: var(--ink);
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	@media (max-width: 900px) {
		.columns {
			grid-template-columns: 1fr;
		}
	}
	@media (max-width: 560px) {
		main {
			padding: 18px 14px;
		}
	}
</style>
