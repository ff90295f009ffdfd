<script lang="ts">
	/* The board's link: what it holds is exchanged for a cookie, and gone from the address. */
	import { untrack } from 'svelte';
	import { atBoard } from '../api/client';
	import { navigate } from '../router';
	import DoorFrame from './DoorFrame.svelte';
	import { who } from './who.svelte';

	let trouble = $state('');
	$effect(() =>
		untrack(() => {
			void enter();
		})
	);

	async function enter(): Promise<void> {
		const link = location.hash.slice(1);
		history.replaceState(history.state, '', '/board');
		const outcome = await atBoard(link);
		if (outcome.kind !== 'done') {
			trouble = outcome.title;
			return;
		}
		await who.look();
		await navigate('/lab');
	}
</script>

<DoorFrame title="The board">
	{#if trouble}<p class="fault" role="alert">{trouble}</p>{:else}<p class="quiet" aria-busy="true">
			One moment …
		</p>{/if}
</DoorFrame>
