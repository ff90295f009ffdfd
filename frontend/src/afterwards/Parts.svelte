<script lang="ts">
	/* The pages of what comes after the reaction. */
	const PARTS = [
		['/drying', 'Drying'],
		['/waste', 'Waste of the day'],
		['/substances', 'Substances']
	] as const;
	let { here }: { here: string } = $props();
</script>

<nav aria-label="Clear up" class="no-print">
	{#each PARTS as [address, title] (address)}
		<a href={address} aria-current={address === here ? 'page' : undefined}>{title}</a>
	{/each}
</nav>

<style>
	nav {
		display: flex;
		gap: 8px;
		border-bottom: 1px solid var(--rule);
	}
	a {
		display: grid;
		place-items: center;
		min-height: 48px;
		padding: 0 14px;
		border-bottom: 4px solid transparent;
		color: var(--ink);
		text-decoration: none;
		font-size: 19px;
	}
	a[aria-current] {
		border-color: var(--act);
		font-weight: 600;
	}
</style>
