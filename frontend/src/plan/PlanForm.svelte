<script lang="ts">
	/* What is planned: the method's own fields, the schools, the room and the instruments. */
	import InstrumentFields from '../ui/InstrumentFields.svelte';
	import OptionFields from '../ui/OptionFields.svelte';
	import SchoolFields from '../ui/SchoolFields.svelte';
	import type { Plan } from './plan.svelte';

	let { plan }: { plan: Plan } = $props();

	const fault = (field: string) => plan.fault(`options.${field}`);
	const set = (field: string, value: string | boolean): void => {
		plan.set(field, value);
		plan.ask();
	};
</script>

<form class="no-print" onsubmit={(event) => event.preventDefault()} novalidate>
	<div class="field">
		<label for="method">What is planned</label>
		<select id="method" value={plan.methodName} onchange={(event) => plan.choose(event.currentTarget.value)}>
			{#each plan.shelf?.methods ?? [] as method (method.name)}<option value={method.name}
					>{method.title}</option
				>{/each}
		</select>
	</div>
	<OptionFields fields={plan.firstFields} values={plan.values} {fault} {set} />
	<SchoolFields
		schools={plan.procedure?.schools ?? []}
		chosen={plan.schools}
		choose={(school, answer) => {
			plan.settle(school, answer);
			plan.ask();
		}}
	/>
	<h2>Room and apparatus</h2>
	<OptionFields
		name="setting"
		fields={plan.settingFields}
		values={plan.setting}
		fault={(field) => plan.fault(`setting.${field}`)}
		set={(field, value) => {
			plan.setting[field] = value;
			plan.ask();
		}}
	/>
	<InstrumentFields
		kinds={plan.kinds}
		chosen={plan.instruments}
		choose={(kind, id) => {
			plan.instruments[kind] = id;
			plan.ask();
		}}
		capacity
	/>
	{#if plan.moreFields.length}
		<details class="unfold">
			<summary>More options</summary>
			<div class="more">
				<OptionFields fields={plan.moreFields} values={plan.values} {fault} {set} />
			</div>
		</details>
	{/if}
</form>

<style>
	form {
		display: grid;
		align-content: start;
		gap: 14px;
	}
	@media (min-width: 901px) {
		/* the fields stay beside what they do to the window */
		form {
			position: sticky;
			top: 0;
			max-height: 100dvh;
			margin: -24px 0 0 -24px;
			padding: 24px 6px 24px 24px;
			overflow-y: auto;
		}
	}
	form h2 {
		padding-top: 10px;
		border-top: 1px solid var(--rule);
		font-size: 20px;
	}
	.more {
		display: grid;
		gap: 14px;
	}
	@media (max-width: 900px) {
		form {
			grid-template-columns: 1fr 1fr;
		}
		form h2,
		details {
			grid-column: 1 / -1;
		}
		.more {
			grid-template-columns: 1fr 1fr;
		}
	}
</style>
