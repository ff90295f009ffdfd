<script lang="ts">
	/* How a sheet is left: without doing it, or by doing it. */
	import { Dialog } from '@skeletonlabs/skeleton-svelte';

	let { leave = 'Leave it', act, busy = false }: { leave?: string; act: string; busy?: boolean } = $props();
</script>

<div class="ends">
	<Dialog.CloseTrigger class="button">{leave}</Dialog.CloseTrigger>
	<button class="button act" disabled={busy}>{act}</button>
</div>
