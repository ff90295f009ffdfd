<script lang="ts">
	import { searchParams } from 'sv-router';
	import TopBar from '../ui/TopBar.svelte';
	import FormulaDeskView from './FormulaDeskView.svelte';

	const asked = $derived(searchParams.get('f')?.toString() ?? '');
</script>

<TopBar title="Formula desk" />
<main id="main" tabindex="-1" class="page"><FormulaDeskView {asked} /></main>
