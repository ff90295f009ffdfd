<script lang="ts">
	/* After the class: bench by bench what was found and handed in, and each sheet marked line by line. */
	import { untrack } from 'svelte';
	import { follow } from '../api/feed.svelte';
	import { route } from '../router';
	import { day, timeOfDay } from '../ui/clock.svelte';
	import Sentence from '../ui/Sentence.svelte';
	import TopBar from '../ui/TopBar.svelte';
	import Afterwards from './Afterwards.svelte';
	import AnswersGiven from './AnswersGiven.svelte';
	import ChangeMark from './ChangeMark.svelte';
	import ClassReports from './ClassReports.svelte';
	import { Marking } from './marking.svelte';
	import SheetLines from './SheetLines.svelte';
	import Versions from './Versions.svelte';

	const number = $derived(Number(route.params['number'] ?? 0));
	const marking = $derived.by(() => {
		const wanted = number;
		return untrack(() => new Marking(wanted));
	});
	$effect(() => {
		const shown = marking;
		return untrack(() => follow(() => shown.look(), false, shown.number));
	});
	const found = $derived(marking.found);
	const chosen = $derived(marking.chosen);
	const whose = $derived(
		chosen ? `${chosen.bench}${chosen.sheet.student ? `, ${chosen.sheet.student}` : ''}` : ''
	);

	/* a whole class in one sitting: the arrows go from sheet to sheet, M changes a mark, G gives back */
	function byKey(event: KeyboardEvent): void {
		if (event.ctrlKey || event.metaKey || event.altKey) return;
		if (event.target instanceof HTMLElement && event.target.closest('input, select, textarea')) return;
		const key = event.key.toLowerCase();
		const by = { arrowdown: 1, j: 1, arrowup: -1, k: -1 }[key];
		if (by) marking.move(by);
		else if (key === 'm' && chosen) marking.change();
		else if (key === 'g' && chosen) void marking.giveBack();
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={byKey} />
<TopBar
	title={found?.title ?? 'Desk'}
	place={found
		? `${day(found.date)}, ${found.handed} ${found.handed === 1 ? 'sheet' : 'sheets'} handed in${found.given_back ? `, ${found.given_back} given back` : ''}`
		: ''}
/>
<main id="main" tabindex="-1">
	{#if marking.trouble}<p class="fault trouble" role="alert">{marking.trouble}</p>{/if}
	{#if !found}
		<p class="quiet trouble" aria-busy="true">Fetching the class …</p>
	{:else}
		<nav class="benches" aria-label="Sheets">
			<ul>
				{#each found.benches as row (row.bench)}
					<li class:out={row.is_out}>
						<a class="bench" href="/runs/{row.run}">{row.name}</a>
						<span class="figure found">{row.found || (row.is_out ? 'dropped out' : 'nothing yet')}</span>
						<span class="sheets">
							{#each row.sheets as sheet (sheet.uuid)}
								<button
									class="sheet"
									aria-pressed={sheet.uuid === chosen?.sheet.uuid}
									aria-label="{row.name}{sheet.student
										? `, ${sheet.student}`
										: ''}, trial {sheet.trial}: {sheet.marks} of {sheet.of}{sheet.given_back
										? ', given back'
										: ''}"
									class:back={sheet.given_back !== ''}
									onclick={() => marking.choose(sheet.uuid)}
									>{sheet.marks} of {sheet.of}{#if sheet.given_back}<span aria-hidden="true">
											↩</span
										>{/if}</button
								>
							{:else}<span class="quiet">–</span>{/each}
						</span>
					</li>
				{/each}
			</ul>
			{#if found.middle}<p class="quiet middle"><Sentence text={found.middle} /></p>{/if}
			<p class="ways">
				<a class="button" href="/desk/{found.id}/table">Class table</a>
				<a class="button" href="/lab/{found.id}">The board</a>
				<a class="button" href="/find">Find an older one</a>
				{#if marking.waiting.length > 1}<button class="button" onclick={() => void marking.giveBack(true)}
						>Give back all {marking.waiting.length}</button
					>{/if}
			</p>
			<ClassReports number={found.id} />
			<Afterwards open={found.still_open} />
		</nav>
		<section aria-labelledby="sheet">
			{#if chosen}
				<h2 id="sheet" aria-live="polite">{whose}: own figures</h2>
				<p class="quiet">
					Held against the readings, and from each wrong line on against their own figures: a slip costs once.
				</p>
				<Versions {marking} />
				<SheetLines sheet={chosen.sheet} change={(line) => marking.change(line)} />
				{#if marking.draft}<ChangeMark {marking} />{/if}
				<AnswersGiven answers={chosen.answers} />
				<p class="ways">
					<button
						class={['button', { act: !marking.draft && !chosen.sheet.given_back }]}
						disabled={marking.busy}
						onclick={() => void marking.giveBack()}
						>{chosen.sheet.given_back ? 'Give back again' : 'Give back'}</button
					>
					<button class="button" onclick={() => marking.change()}>Change a mark</button>
					<a class="button" href="/runs/{chosen.sheet.run}/working">The working beside it</a>
					{#if chosen.sheet.student}<a
							class="button"
							href="/api/classes/{found.id}/report?of=student&student={encodeURIComponent(
								chosen.sheet.student
							)}"
							target="_blank">On paper</a
						>{/if}
					{#if marking.next}<button class="button" onclick={() => marking.move(1)}
							>Next: {marking.next.bench}</button
						>{/if}
				</p>
				<p class="quiet keys">
					{#if chosen.sheet.given_back}<span role="status"
							>Given back {timeOfDay(chosen.sheet.given_back)}; its bench sees it marked.</span
						>{/if}
					By keyboard: ↓ ↑ from sheet to sheet, M a mark, G give back.
				</p>
			{:else}
				<h2 id="sheet">Own figures</h2>
				<p>
					Nothing was handed in yet. A bench hands in its own figures from its tablet; what a practical asks
					for is said under <a href="/prepare">Prepare</a>.
				</p>
			{/if}
		</section>
	{/if}
</main>

<style>
	main {
		display: grid;
		grid-template-columns: 456px minmax(0, 1fr);
		min-height: calc(100dvh - 56px);
	}
	.trouble {
		grid-column: 1 / -1;
		padding: 18px 24px;
	}
	.benches {
		padding: 14px 0 24px;
		border-right: 1px solid var(--rule);
	}
	.benches li {
		display: grid;
		grid-template-columns: 76px minmax(0, 1fr) auto;
		align-items: center;
		gap: 12px;
		min-height: 52px;
		padding: 2px 16px;
		border-bottom: 1px solid var(--rule);
	}
	.bench {
		display: inline-grid;
		align-items: center;
		min-height: 44px;
		color: var(--ink);
		font-family: var(--slab);
		font-weight: 600;
		text-decoration: none;
	}
	.bench:hover {
		text-decoration: underline;
		text-underline-offset: 4px;
	}
	.out {
		opacity: 0.7;
	}
	.sheets {
		display: flex;
		flex-wrap: wrap;
		justify-content: end;
		gap: 4px;
	}
	.found {
		font-size: 16px;
		white-space: nowrap;
	}
	.sheet {
		min-width: 70px;
		min-height: 46px;
		padding: 0 6px;
		white-space: nowrap;
		border: 1px solid var(--rule);
		border-radius: 6px;
		cursor: pointer;
	}
	.sheet[aria-pressed='true'] {
		border-color: var(--act);
		background: var(--raised);
		font-weight: 600;
	}
	.keys {
		padding-top: 10px;
	}
	.back {
		color: var(--settled);
	}
	.middle {
		padding: 14px 16px 0;
		line-height: 1.35;
	}
	nav > .ways,
	section > .ways {
		padding-top: 18px;
	}
	nav > .ways {
		padding-inline: 16px;
	}
	section {
		padding: 18px 28px 28px;
	}
	h2 {
		font-size: 25px;
	}
	@media (max-width: 1023px) {
		main {
			grid-template-columns: minmax(0, 1fr);
		}
		.benches {
			border-right: 0;
		}
	}
	@media (max-width: 559px) {
		section {
			padding-inline: 14px;
		}
	}
</style>
