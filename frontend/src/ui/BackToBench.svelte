<script lang="ts">
	/* The way back to the bench of a run; where the bar is narrow in fewer words. */
	import { narrow } from './sizes';

	let { href }: { href: string } = $props();
</script>

<a class="button" {href} aria-label="Back to the bench">{narrow.current ? 'Bench' : 'Back to the bench'}</a>
