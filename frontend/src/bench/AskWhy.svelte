<script lang="ts">
	/* A reason asked for in the place itself. It may stand inside the form of the figure: its Enter is its own. */
	let {
		id,
		label,
		act,
		reasons = [],
		fault = '',
		say,
		leave
	}: {
		id: string;
		label: string;
		act: string;
		reasons?: string[];
		fault?: string;
		say: (reason: string) => void;
		leave: () => void;
	} = $props();

	let reason = $state('');

	function byKey(event: KeyboardEvent): void {
		if (event.key !== 'Enter') return;
		event.preventDefault();
		say(reason);
	}
</script>

<div class="why">
	<label for={id}>{label}</label>
	<!-- opened by a tap: the reason comes next -->
	<!-- svelte-ignore a11y_autofocus -->
	<input
		{id}
		bind:value={reason}
		onkeydown={byKey}
		list="{id}-usual"
		maxlength="200"
		autocomplete="off"
		aria-invalid={fault !== ''}
		aria-describedby="{id}-fault"
		autofocus
	/>
	<datalist id="{id}-usual"
		>{#each reasons as one (one)}<option value={one}></option>{/each}</datalist
	>
	<button type="button" class="button" onclick={() => say(reason)}>{act}</button>
	<button type="button" class="button" onclick={leave}>Leave it</button>
	<p id="{id}-fault" class="fault" aria-live="polite">{fault}</p>
</div>

<style>
	.why {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		flex-basis: 100%;
		gap: 8px;
	}
	input {
		flex: 1 1 160px;
		min-width: 0;
		min-height: 48px;
		padding: 8px 12px;
		border: 1.5px solid var(--quiet);
		border-radius: 6px;
		background: var(--paper);
	}
	.fault {
		flex-basis: 100%;
	}
	.fault:empty {
		display: none;
	}
</style>
