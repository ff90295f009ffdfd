<script lang="ts">
	/* A formula that the server set; `said` tells it in a line for who does not see it. */
	let { mathml, said = '' }: { mathml: string; said?: string } = $props();

	/* one that is wider than its place is looked at by scrolling, also by keyboard */
	let node = $state<HTMLElement | null>(null);
	let scrolls = $state(false);
	$effect(() => {
		if (mathml && node) scrolls = node.scrollWidth > node.clientWidth + 1;
	});
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<span
	class="set"
	bind:this={node}
	tabindex={scrolls ? 0 : undefined}
	role={said ? 'img' : scrolls ? 'group' : undefined}
	aria-label={said || undefined}
>
	<!-- made by the server of its own rules, with every text in them escaped -->
	<!-- eslint-disable-next-line svelte/no-at-html-tags -->
	{@html mathml}
</span>

<style>
	.set {
		display: inline-block;
		max-width: 100%;
		overflow-x: auto;
		overflow-y: hidden;
		padding: 2px 0;
		vertical-align: middle;
	}
	.set :global(math) {
		display: inline-flex;
		font-family: 'Atkinson Hyperlegible Next', math;
	}
</style>
