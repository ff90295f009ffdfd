<script lang="ts">
	/* What may be wider than the page: then it is looked at by scrolling, also by keyboard. */
	import type { Snippet } from 'svelte';

	let { label, children }: { label: string; children: Snippet } = $props();

	let width = $state(0);
	let node = $state<HTMLElement | null>(null);
	const scrolls = $derived(node !== null && node.scrollWidth > width + 1);
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
	class="wide"
	bind:this={node}
	bind:clientWidth={width}
	role="group"
	aria-label={label}
	tabindex={scrolls ? 0 : undefined}
>
	{@render children()}
</div>
