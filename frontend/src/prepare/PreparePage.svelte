<script lang="ts">
	/* Tomorrow's class tonight: the sentence, what it takes, and how its evening runs. */
	import { tick, untrack } from 'svelte';
	import { navigate, searchParams } from '../router';
	import { takeOver } from '../plan/handover';
	import TopBar from '../ui/TopBar.svelte';
	import BeforeAndAfter from './BeforeAndAfter.svelte';
	import Evening from './Evening.svelte';
	import Needs from './Needs.svelte';
	import { namesIn, Prepare } from './prepare.svelte';
	import Practicals from './Practicals.svelte';
	import PrintSet from './PrintSet.svelte';
	import SentenceLine from './SentenceLine.svelte';
	import Steps from './Steps.svelte';

	const prepare = new Prepare();
	$effect(() => {
		untrack(() => void begin());
		return () => prepare.end();
	});

	/* a run that went well becomes a practical */
	async function begin(): Promise<void> {
		await prepare.begin();
		const plan = takeOver();
		if (plan) prepare.takePlan(plan);
		const run = searchParams.get('run');
		if (run) await prepare.takeRun(String(run));
	}

	async function layOut(): Promise<void> {
		await prepare.current();
		if (prepare.wrong.length) return showWrong();
		const laid = await prepare.layOut();
		if (laid) await navigate('/classes/:number', { params: { number: String(laid.id) } });
		else if (prepare.wrong.length) await showWrong();
	}

	/* the first part at which something is wrong, opened */
	async function showWrong(): Promise<void> {
		prepare.open = prepare.wrong.find((row) => row.part)?.part ?? '';
		await tick();
		document.getElementById(`part-${prepare.open}`)?.scrollIntoView({ block: 'center' });
	}
</script>

<TopBar title="Prepare" place={prepare.found?.title ?? 'a class'}>
	<Practicals {prepare} />
</TopBar>
{#if prepare.found}<PrintSet
		title={prepare.found.title}
		found={prepare.found}
		table={prepare.table}
		places={prepare.draft.benches.map((id) => ({
			bench: prepare.shelf?.benches.find((row) => row.id === id)?.name ?? '',
			students: namesIn(prepare.draft.students[String(id)] ?? ''),
			isOut: false
		}))}
	/>{/if}
<main id="main" tabindex="-1" class="no-print">
	{#if prepare.trouble}<p class="fault" role="alert">{prepare.trouble}</p>{/if}
	<SentenceLine {prepare} />
	<div class="two">
		<div class="needs"><Needs {prepare} /></div>
		<div class="evening">
			<Evening {prepare} />
			<Steps {prepare} />
			<BeforeAndAfter {prepare} />
		</div>
	</div>
</main>
<footer class="no-print">
	<button
		id="part-room"
		type="button"
		class="button"
		onclick={() => (prepare.open = prepare.open === 'room' ? '' : 'room')}>What the room has</button
	>
	<button type="button" class="button" onclick={() => window.print()}>Print</button>
	<button type="button" class="button act" disabled={prepare.busy} onclick={() => void layOut()}
		>Lay out the benches</button
	>
</footer>

<style>
	main {
		display: grid;
		gap: 22px;
		max-width: 1320px;
		margin: 0 auto;
		padding: 20px 24px 24px;
	}
	.two {
		display: grid;
		grid-template-columns: 340px minmax(0, 1fr);
		gap: 20px 44px;
		align-items: start;
	}
	.needs,
	.evening {
		display: grid;
		gap: 24px;
		min-width: 0;
	}
	footer {
		position: sticky;
		bottom: 0;
		display: flex;
		flex-wrap: wrap;
		justify-content: flex-end;
		gap: 12px;
		padding: 10px 24px;
		border-top: 1px solid var(--rule);
		background: var(--paper);
	}
	@media (max-width: 999px) {
		.two {
			grid-template-columns: minmax(0, 1fr);
		}
		.evening {
			order: -1;
		}
	}
	@media (max-width: 699px) {
		main {
			padding: 14px 12px 20px;
		}
		/* on a phone the page has the room, and what ends it stands at its end */
		footer {
			position: static;
			padding: 10px 12px;
		}
		footer .act {
			flex: 1 0 100%;
			order: -1;
		}
	}
</style>
