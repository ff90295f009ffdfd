<script lang="ts">
	/* A bench's own figures, trial by trial. */
	import type { RunView } from '../api/client';
	import RunFrame from '../log/RunFrame.svelte';
	import OwnSheet from './OwnSheet.svelte';
</script>

<RunFrame name="Own figures" page="/own-figures">
	{#snippet content(run: RunView, look: () => Promise<void>)}<OwnSheet {run} {look} />{/snippet}
</RunFrame>
