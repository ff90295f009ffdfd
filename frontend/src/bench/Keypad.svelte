<script lang="ts">
	/* Our own keys, so that no system keyboard hides the pictures: large, and nothing a weighing does not need. */
	import Delete from '@lucide/svelte/icons/delete';

	let {
		press,
		erase,
		minus = null
	}: { press: (character: string) => void; erase: () => void; minus?: (() => void) | null } = $props();

	const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '.', '0'];
	/* the field keeps the focus and its place in the digits */
	const stay = (event: PointerEvent) => event.preventDefault();
</script>

<div class="keypad" class:signed={minus !== null} role="group" aria-label="Keypad">
	{#each KEYS as key (key)}
		<button
			type="button"
			class="figure"
			style:grid-area={key === '.' ? 'point' : `k${key}`}
			onpointerdown={stay}
			onclick={() => press(key)}>{key}</button
		>
	{/each}
	{#if minus}
		<button type="button" class="figure minus" onpointerdown={stay} onclick={minus} aria-label="Minus sign"
			>−</button
		>
	{/if}
	<button
		type="button"
		class="back"
		onpointerdown={stay}
		onclick={erase}
		aria-label="Take back the last digit"
	>
		<Delete size={26} aria-hidden="true" />
	</button>
</div>

<style>
	.keypad {
		display: grid;
		grid-template-areas: 'k7 k8 k9' 'k4 k5 k6' 'k1 k2 k3' 'point k0 back';
		grid-auto-columns: minmax(56px, 1fr);
		gap: 8px;
	}
	@container (max-width: 440px) {
		/* three rows in place of four: the step or the picture above keeps its room */
		.keypad {
			grid-template-areas: 'k7 k8 k9 back' 'k4 k5 k6 point' 'k1 k2 k3 k0';
		}
	}
	/* a figure may lie below zero: the minus stands apart from the digits */
	.keypad.signed {
		grid-template-areas: 'k7 k8 k9 back' 'k4 k5 k6 minus' 'k1 k2 k3 point' 'k0 k0 k0 k0';
	}
	.minus {
		grid-area: minus;
	}
	.back {
		grid-area: back;
	}
	button {
		display: grid;
		place-items: center;
		min-height: 56px;
		border: 1.5px solid var(--quiet);
		border-radius: 8px;
		background: var(--paper);
		font-size: 28px;
		font-weight: 600;
		cursor: pointer;
		touch-action: manipulation;
	}
	button:active {
		background: var(--rule);
	}
</style>
