<script lang="ts">
	import { searchParams } from 'sv-router';
	import TopBar from '../ui/TopBar.svelte';
	import EquationDeskView from './EquationDeskView.svelte';

	const asked = $derived(searchParams.get('e')?.toString() ?? '');
</script>

<TopBar title="Equation desk" />
<main id="main" tabindex="-1" class="page"><EquationDeskView {asked} /></main>
