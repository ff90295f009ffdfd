<script lang="ts">
	/* A few answers of which one holds: by arrow keys, or by a tap on a large field. */
	let {
		name,
		choices,
		chosen,
		choose
	}: {
		name: string;
		choices: (readonly [string, string])[];
		chosen: string;
		choose: (value: string) => void;
	} = $props();
</script>

<div class="choices" role="radiogroup" aria-label={name.replaceAll('_', ' ')}>
	{#each choices as [value, text] (value)}
		<label class:chosen={value === chosen}>
			<input
				type="radio"
				name="choice-{name}"
				{value}
				checked={value === chosen}
				onchange={() => choose(value)}
			/>
			{text}
		</label>
	{/each}
</div>

<style>
	.choices {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(min(250px, 100%), 1fr));
		gap: 8px;
	}
	label {
		display: flex;
		align-items: center;
		gap: 10px;
		min-height: 48px;
		padding: 6px 14px;
		border: 1.5px solid var(--rule);
		border-radius: 6px;
		cursor: pointer;
	}
	label:hover {
		border-color: var(--quiet);
	}
	.chosen {
		border-color: var(--act);
		font-weight: 600;
	}
	input {
		flex-shrink: 0;
		width: 22px;
		height: 22px;
		accent-color: var(--act);
	}
</style>
