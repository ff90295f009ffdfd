<script lang="ts">
	import TopBar from './TopBar.svelte';
</script>

<TopBar title="Nothing here" />
<main id="main" tabindex="-1">
	<p>
		There is no page at this address. It may have been typed wrongly, or the run belongs to another database.
	</p>
	<a class="button" href="/">All runs</a>
</main>

<style>
	main {
		display: grid;
		gap: 20px;
		justify-items: start;
		padding: 48px 24px;
		max-width: 60ch;
	}
</style>
