<script lang="ts">
	/* A desk beside the page: it hands back what was found, and the page stays as it was. */
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { backToField } from '../ui/focus';
	import { drawer } from '../ui/drawer.svelte';
	import EquationDeskView from './EquationDeskView.svelte';
	import FormulaDeskView from './FormulaDeskView.svelte';

	const title = $derived(drawer.kind === 'equation' ? 'Equation desk' : 'Formula desk');
	const hand = $derived(
		drawer.handBack
			? (found: string) => {
					drawer.handBack?.(found);
					drawer.close();
				}
			: null
	);
</script>

<Dialog
	finalFocusEl={() => document.getElementById(drawer.field) ?? backToField()}
	open={drawer.kind !== null}
	onOpenChange={(details) => !details.open && drawer.close()}
>
	<Portal>
		<Dialog.Backdrop class="fixed inset-0 z-50 bg-black/50" />
		<Dialog.Positioner class="fixed inset-0 z-50 flex justify-end">
			<Dialog.Content class="desk-drawer">
				<header>
					<Dialog.Title><h2>{title}</h2></Dialog.Title>
					<Dialog.CloseTrigger class="button">Close</Dialog.CloseTrigger>
				</header>
				{#if drawer.kind === 'formula'}<FormulaDeskView asked={drawer.asked} {hand} />
				{:else if drawer.kind === 'equation'}<EquationDeskView asked={drawer.asked} {hand} />{/if}
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.desk-drawer) {
		display: grid;
		align-content: start;
		gap: 20px;
		width: min(720px, 100%);
		height: 100dvh;
		overflow-y: auto;
		padding: 16px 24px 32px;
		border-left: 1px solid var(--rule);
		background: var(--paper);
	}
	header {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 16px;
	}
</style>
