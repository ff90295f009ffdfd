<script lang="ts">
	/* A table to take along: onto the clipboard as text with tabs, which every spreadsheet takes, or as a CSV file. */
	let { rows, file }: { rows: string[][]; file: string } = $props();

	let copied = $state('');
	const csv = $derived(
		'data:text/csv;charset=utf-8,' +
			encodeURIComponent(
				rows.map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(',')).join('\r\n')
			)
	);

	async function copy(): Promise<void> {
		try {
			await navigator.clipboard.writeText(rows.map((row) => row.join('\t')).join('\n'));
			copied = 'copied';
		} catch {
			copied = 'The browser does not let this page copy; take the CSV.';
		}
	}
</script>

<span class="no-print">
	<button type="button" class="plain" onclick={() => void copy()}>Copy</button>
	<a class="plain" href={csv} download={file}>CSV</a>
	<span class="quiet" role="status">{copied}</span>
</span>

<style>
	.plain {
		display: inline-grid;
		place-items: center;
		min-height: 48px;
		padding: 0 10px;
		color: var(--ink);
		text-decoration: underline dotted;
		text-underline-offset: 4px;
		cursor: pointer;
	}
</style>
