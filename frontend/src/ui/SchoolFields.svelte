<script lang="ts">
	/* The questions on which practitioners differ, each with its answers. */
	import type { ProcedureView } from '../api/client';

	let {
		schools,
		chosen,
		choose
	}: {
		schools: ProcedureView['schools'];
		chosen: Record<string, string>;
		choose: (school: string, answer: string) => void;
	} = $props();
</script>

{#each schools as school (school.name)}
	<div class="field">
		<label for="school-{school.name}">{school.title}</label>
		<select
			id="school-{school.name}"
			value={chosen[school.name]}
			onchange={(event) => choose(school.name, event.currentTarget.value)}
		>
			{#each Object.entries(school.choices) as [value, text] (value)}<option {value}>{text}</option>{/each}
		</select>
	</div>
{/each}
