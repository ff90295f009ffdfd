<script lang="ts">
	/* Another tablet takes the place of this one: the code that is typed there. */
	import { handOver } from '../api/client';
	import { timeOfDay } from '../ui/clock.svelte';
	import Sheet from '../ui/Sheet.svelte';

	let { waiting }: { waiting: number } = $props();

	let open = $state(false);
	let code = $state('');
	let until = $state('');
	let trouble = $state('');

	async function change(to: boolean): Promise<void> {
		open = to;
		code = trouble = '';
		if (!to) return;
		const outcome = await handOver();
		if (outcome.kind !== 'done') trouble = outcome.title;
		else ({ code, until } = outcome.value);
	}
</script>

{#snippet button()}Hand over{/snippet}
{#snippet description()}On the other tablet open this house, and type this instead of the code of the class.
	This tablet is out then.{/snippet}

<Sheet
	{open}
	change={(to) => void change(to)}
	width="460px"
	title="Hand over to another tablet"
	{button}
	{description}
>
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{/if}
	{#if code}
		<p class="figure code" aria-label="Code for the other tablet">{code.slice(0, 4)} {code.slice(4)}</p>
		<p class="quiet">Good once, until {timeOfDay(until)}.</p>
	{/if}
	{#if waiting}<p class="waits" role="status">
			{waiting}
			{waiting === 1 ? 'reading waits' : 'readings wait'} on this tablet: hand over when {waiting === 1
				? 'it is'
				: 'they are'} saved.
		</p>{/if}
</Sheet>

<style>
	.code {
		padding: 14px 0 6px;
		font-size: 44px;
		letter-spacing: 0.06em;
	}
	.waits {
		padding-top: 10px;
		color: var(--watch);
		font-weight: 600;
	}
</style>
