<script lang="ts">
	/* A class to be rehearsed: a method's usual jar, or a class that is prepared. */
	import { untrack } from 'svelte';
	import { beginClass, getClasses, getRehearsals, newUuid, type PracticesView } from '../api/client';
	import { navigate } from '../router';
	import { clock, day, dayAndTime } from '../ui/clock.svelte';
	import TextField from '../ui/TextField.svelte';

	let { methods }: { methods: PracticesView['methods'] } = $props();
	type Prepared = { id: number; title: string; date: string; benches: number };
	type Held = { uuid: string; title: string; seed: string; began_at: string; ended: boolean };
	let prepared = $state.raw<Prepared[]>([]);
	let held = $state.raw<Held[]>([]);
	let what = $state('hydrate');
	let benches = $state('8');
	let balances = $state('2');
	let seed = $state('');
	let busy = $state(false);
	let trouble = $state('');
	let faults = $state<Record<string, string>>({});

	$effect(() => untrack(() => void look()));
	async function look(): Promise<void> {
		const [classes, rehearsed] = await Promise.all([getClasses(), getRehearsals()]);
		if (classes.kind === 'done') prepared = classes.value.classes;
		if (rehearsed.kind === 'done') held = rehearsed.value.classes;
	}

	/* a prepared class brings its benches along */
	function chosen(): void {
		const row = prepared.find((one) => String(one.id) === what);
		if (row) benches = String(row.benches);
	}

	async function begin(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		if (busy) return;
		busy = true;
		[faults, trouble] = [{}, ''];
		const number = prepared.find((one) => String(one.id) === what)?.id ?? null;
		const outcome = await beginClass({
			uuid: newUuid(),
			method: number === null ? what : 'hydrate',
			number,
			benches: Math.trunc(Number(benches)) || 0,
			balances: Math.trunc(Number(balances)) || 0,
			seed
		});
		busy = false;
		if (outcome.kind === 'done')
			await navigate('/practice/class/:uuid', { params: { uuid: outcome.value.uuid } });
		else if (outcome.kind === 'problem' && outcome.faults.length)
			faults = Object.fromEntries(outcome.faults.map((row) => [row.path, row.message]));
		else trouble = outcome.title;
	}
	const known = ['benches', 'balances', 'seed', 'method'];
	const others = $derived(Object.entries(faults).filter(([path]) => !known.includes(path)));
</script>

<form onsubmit={begin} class="begin">
	<h2>Rehearse a class</h2>
	<p class="quiet">
		Students of different skill play the evening on the board, ten times as fast, calls and all: you go, speak
		and decide.
	</p>
	<div class="row">
		<div class="field">
			<label for="class-what">Which class</label>
			<select id="class-what" bind:value={what} onchange={chosen}>
				<optgroup label="A method's usual jar">
					{#each methods as row (row.name)}<option value={row.name}>{row.title}</option>{/each}
				</optgroup>
				{#if prepared.length}
					<optgroup label="As it is prepared">
						{#each prepared as row (row.id)}
							<option value={String(row.id)}>{row.title}, {day(row.date)}</option>
						{/each}
					</optgroup>
				{/if}
			</select>
			{#if faults['method']}<p class="fault">{faults['method']}</p>{/if}
		</div>
		<TextField id="class-benches" label="Benches" bind:value={benches} fault={faults['benches'] ?? ''} />
		<TextField id="class-balances" label="Balances" bind:value={balances} fault={faults['balances'] ?? ''} />
		<TextField
			id="class-seed"
			label="Seed of the class"
			bind:value={seed}
			fault={faults['seed'] ?? ''}
			help="Empty: any."
		/>
	</div>
	<p><button class="button" disabled={busy || !methods.length}>Let it begin</button></p>
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#each others as [path, text] (path)}<p class="fault" role="alert">{text}</p>{/each}
	{#if held.length}
		<ul aria-label="Rehearsed before">
			{#each held as row (row.uuid)}
				<li>
					<a href="/practice/class/{row.uuid}">{row.title}</a>
					<span class="quiet"
						>{dayAndTime(row.began_at, clock.now)}, seed {row.seed}, {row.ended ? 'over' : 'still on'}</span
					>
				</li>
			{/each}
		</ul>
	{/if}
</form>

<style>
	.begin {
		display: grid;
		gap: 14px;
	}
	.row {
		display: grid;
		grid-template-columns: minmax(220px, 2fr) repeat(3, minmax(120px, 1fr));
		gap: 14px 20px;
	}
	@media (max-width: 699px) {
		.row {
			grid-template-columns: minmax(0, 1fr);
		}
	}
	h2 {
		font-size: 22px;
	}
	li a {
		display: inline-grid;
		align-items: center;
		min-height: 44px;
		margin-right: 10px;
	}
</style>
