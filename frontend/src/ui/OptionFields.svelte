<script lang="ts">
	/* Options as the server describes them, one field each; what is said of a reagent table leads to it. */
	import OptionField from './OptionField.svelte';
	import SubstanceNames from './SubstanceNames.svelte';
	import type { OptionFieldSpec } from './options';

	let {
		fields,
		values,
		fault,
		proposal = () => '',
		set,
		name = 'option',
		linked = false
	}: {
		fields: OptionFieldSpec[];
		values: Record<string, string | boolean>;
		fault: (field: string) => string;
		/** What could stand in a faulty field instead, empty where nothing is known. */
		proposal?: (field: string) => string;
		set: (field: string, value: string | boolean) => void;
		/** Before the dash of each field's id. */
		name?: string;
		/** Whether a table that can be filled in first is offered as a link. */
		linked?: boolean;
	} = $props();
</script>

{#if fields.some((field) => field.substance)}<SubstanceNames />{/if}
{#each fields as field (field.name)}
	{#if field.table && linked}
		<p class="two-wide link">
			<a href="/plan/reagents">Fill in a reagent table</a>, and start the run from there.
		</p>
	{/if}
	<OptionField
		{field}
		id="{name}-{field.name}"
		value={values[field.name]}
		fault={fault(field.name)}
		proposal={proposal(field.name)}
		set={(value) => set(field.name, value)}
	/>
{/each}

<style>
	.link {
		align-self: end;
	}
</style>
