<script lang="ts">
	/* The door of the class: its code, large; the tablets that came in by it; the board's link; its end. */
	import { boardLink, closeClass, renewCode, turnOut, type ClassView } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import type { Shelf } from './shelf.svelte';

	let { shelf, found }: { shelf: Shelf; found: ClassView } = $props();
	let trouble = $state('');
	let answers = $state(false);

	const number = $derived(found.number);
	$effect(() => shelf.watch(number));

	async function act(asked: Parameters<Shelf['atClass']>[0]): Promise<void> {
		trouble = (await shelf.atClass(asked)).trouble;
	}
	async function other(to: number): Promise<void> {
		trouble = (await shelf.goTo(to)).trouble;
	}
	const code = $derived(`${found.code.slice(0, 3)} ${found.code.slice(3)}`);
	const board = $derived(found.link ? `${location.origin}/board#${found.link}` : '');
</script>

<section aria-labelledby="class-door">
	<h2 id="class-door">The class today</h2>
	{#if found.beside.length}
		<!-- several at one hour: each has its own code, its own tablets and its own end -->
		<p class="which">{found.title}{found.starts && `, ${found.starts}`}</p>
		<div class="acts beside">
			{#each found.beside as row (row.number)}
				<button class="button" onclick={() => void other(row.number)}
					>{row.title}{row.starts && `, ${row.starts}`}</button
				>
			{/each}
		</div>
	{/if}
	{#if found.is_closed}
		<p>It is closed: its tablets record nothing more.</p>
		<div class="acts">
			<button class="button act" onclick={() => act(closeClass(number, false))}>Open it again</button>
		</div>
	{:else}
		{#if found.code}
			<p class="code figure" aria-label="Code of the class">{code}</p>
			<p class="quiet">Tablets join with it until {timeOfDay(found.code_until)}.</p>
		{:else}
			<p>No code is given out: no tablet can join.</p>
		{/if}
		<div class="acts">
			<button class="button" class:act={!found.code} onclick={() => act(renewCode(number))}
				>{found.code ? 'New code' : 'Give out a code'}</button
			>
			<button class="button" onclick={() => act(closeClass(number, true))}>Close the class</button>
		</div>
		{#if found.code && shelf.addresses.length}
			<div class="reached">
				{#each shelf.addresses.slice(0, 1) as row (row.address)}
					<img src={row.code} alt="Code for a camera: {row.address}/join" width="150" height="150" />
				{/each}
				<ul>
					{#each shelf.addresses as row (row.address)}<li class="figure">{row.address}/join</li>{/each}
				</ul>
			</div>
		{/if}
	{/if}
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	<h3>Tablets</h3>
	<ul>
		{#each found.tablets as tablet (tablet.id)}
			<li class="acted">
				<span
					><b>{tablet.bench}</b>
					<span class="quiet">since {timeOfDay(tablet.joined_at)}, {tablet.address}</span></span
				>
				<button class="button" onclick={() => act(turnOut(number, tablet.id))}
					>Turn out<span class="hidden-text"> the tablet of {tablet.bench}</span></button
				>
			</li>
		{:else}<li class="quiet">None has joined.</li>{/each}
	</ul>
	<h3>Projector</h3>
	{#if board}
		<p>This link only reads; it is shown this once.</p>
		<p class="link figure">{board}</p>
	{/if}
	<div class="acts">
		<label class="tick"><input type="checkbox" bind:checked={answers} /> with names and answers</label>
		<button class="button" onclick={() => act(boardLink(number, answers))}
			>{board ? 'Another link' : 'Make a link'}</button
		>
	</div>
</section>

<style>
	h3 {
		margin: 20px 0 6px;
		font-size: 18px;
	}
	.which {
		font-weight: 600;
	}
	.beside {
		margin: 8px 0 12px;
	}
	.code {
		font-size: 56px;
		font-weight: 700;
		line-height: 1.2;
		letter-spacing: 0.06em;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 12px;
		margin-top: 12px;
	}
	.reached {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 18px;
		margin-top: 16px;
	}
	.reached img {
		border-radius: 6px;
		background: #fff;
	}
	.link {
		padding: 10px 0;
		overflow-wrap: anywhere;
	}
</style>
