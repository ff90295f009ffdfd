<script lang="ts">
	/* The most serious of what is said of a run: always in sight. */
	import type { RunView } from '../api/client';
	import Verdict from '../ui/Verdict.svelte';
	import { verdictsOf } from './verdicts';

	let { run }: { run: RunView } = $props();

	const first = $derived(verdictsOf(run)[0]);
</script>

<ul aria-live="polite" data-said="first">
	{#if first}<Verdict level={first.level} text={first.text} />{/if}
</ul>
