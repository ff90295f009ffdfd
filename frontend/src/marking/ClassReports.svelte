<script lang="ts">
	/* The class on paper: its report, all result slips in one print, every bench's report in one archive. */
	import { untrack } from 'svelte';
	import { Reports } from './reports.svelte';

	let { number }: { number: number } = $props();

	const FORMS = { pdf: 'PDF, for print', html: 'web page', odt: 'OpenDocument, to write on' } as const;
	let to = $state<keyof typeof FORMS>('pdf');
	const reports = $derived.by(() => {
		const wanted = number;
		return untrack(() => new Reports(wanted));
	});

	async function all(): Promise<void> {
		const found = await reports.fetch(to);
		if (!found) return;
		const address = URL.createObjectURL(new Blob([found.data], { type: 'application/zip' }));
		const link = Object.assign(document.createElement('a'), { href: address, download: found.name });
		link.click();
		setTimeout(() => URL.revokeObjectURL(address), 60_000);
	}
</script>

<section aria-labelledby="on-paper">
	<h2 id="on-paper">On paper</h2>
	<div class="field">
		<label for="report-form">As</label>
		<select id="report-form" bind:value={to}>
			{#each Object.entries(FORMS) as [form, words] (form)}<option value={form}>{words}</option>{/each}
		</select>
	</div>
	<p class="ways">
		<a class="button" href="/api/classes/{number}/report?to={to}" target="_blank">Report of the class</a>
		<a class="button" href="/api/classes/{number}/report?of=slips&to={to}" target="_blank">All slips</a>
		<button class="button" disabled={reports.busy} onclick={() => void all()}>Every bench’s report</button>
	</p>
	{#if reports.busy}
		<p role="status">
			<progress max={reports.of || 1} value={reports.done} aria-label="Reports written"></progress>
			{reports.of ? `${reports.done} of ${reports.of} written, ${reports.whose} the last` : 'Writing them …'}
		</p>
	{/if}
	{#if reports.trouble}<p class="fault" role="alert">{reports.trouble}</p>{/if}
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		padding: 18px 16px 0;
	}
	h2 {
		font-size: 19px;
	}
	progress {
		width: 120px;
		accent-color: var(--act);
	}
</style>
