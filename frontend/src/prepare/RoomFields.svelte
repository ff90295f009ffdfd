<script lang="ts">
	/* How many the room has of what steps are done at, how far apart benches begin, and whether trials overlap. */
	import type { Prepare } from './prepare.svelte';

	let { prepare }: { prepare: Prepare } = $props();

	const draft = $derived(prepare.draft);
	const places = $derived([
		...new Set([
			...(prepare.found?.places ?? []),
			...Object.keys(draft.room),
			'balance',
			'hood',
			'burner',
			'oven'
		])
	]);
	const called = (name: string) => name.replaceAll('_', ' ');
	function count(place: string, typed: string): void {
		const others = Object.entries(draft.room).filter(([name]) => name !== place);
		draft.room = Object.fromEntries(typed.trim() === '' ? others : [...others, [place, Number(typed)]]);
		prepare.ask();
	}
</script>

<div class="grid">
	{#each places as place (place)}
		<div class="field">
			<label for="room-{place}">{called(place)}: how many</label>
			<input
				id="room-{place}"
				type="number"
				min="0"
				max="1000"
				value={draft.room[place] ?? ''}
				placeholder="enough"
				oninput={(event) => count(place, event.currentTarget.value)}
				aria-invalid={prepare.fault(`room.${place}`) !== ''}
			/>
			<p class="fault">{prepare.fault(`room.${place}`)}</p>
		</div>
	{/each}
	<div class="field">
		<label for="stagger">Benches begin apart by</label>
		<input
			id="stagger"
			bind:value={draft.stagger}
			oninput={() => prepare.ask()}
			aria-invalid={prepare.fault('stagger') !== ''}
			aria-describedby="stagger-help"
		/>
		<p id="stagger-help" class={prepare.fault('stagger') ? 'fault' : 'quiet'}>
			{prepare.fault('stagger') || 'Such as 4 min; 0 min: all at once.'}
		</p>
	</div>
	<div class="field">
		<label class="tick"
			><input type="checkbox" bind:checked={draft.overlap} onchange={() => prepare.ask()} /> The next trial begins
			while one cools</label
		>
	</div>
</div>

<style>
	.grid {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(min(220px, 100%), 1fr));
		gap: 14px 20px;
	}
	label::first-letter {
		text-transform: uppercase;
	}
</style>
