<script lang="ts">
	/* A formula that the server set; `said` tells it in a line for who does not see it. */
	let { mathml, said = '' }: { mathml: string; said?: string } = $props();
</script>

<!-- made by the server of its own rules, with every text in them escaped -->
<!-- eslint-disable-next-line svelte/no-at-html-tags -->
<span class="set" role={said ? 'img' : undefined} aria-label={said || undefined}>{@html mathml}</span>

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
