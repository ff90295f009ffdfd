<script lang="ts" module>
	import { getSubstances, type SubstanceView } from '../api/client';

	/* asked once for all fields of all forms */
	let asked: Promise<SubstanceView[]> | null = null;
	const known = (): Promise<SubstanceView[]> =>
		(asked ??= getSubstances().then((outcome) => {
			if (outcome.kind === 'done') return outcome.value.substances;
			asked = null;
			return [];
		}));
</script>

<script lang="ts">
	/* What a field for a substance offers while its name or formula is typed. */
	let substances = $state.raw<SubstanceView[]>([]);
	$effect(() => {
		void known().then((rows) => (substances = rows));
	});
</script>

<datalist id="substances">
	{#each substances as row (row.formula + row.name)}<option value={row.formula}>{row.name}</option>{/each}
</datalist>
