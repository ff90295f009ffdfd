<script lang="ts">
	/* A sheet over the page, opened by its button; what stands on it is made anew each time. */
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import type { Snippet } from 'svelte';

	let {
		open,
		change,
		width,
		title,
		button,
		look = 'button',
		name,
		description,
		back,
		children
	}: {
		open: boolean;
		change: (open: boolean) => void;
		width: string;
		title: string;
		/** What the button shows, and (where that is not enough) what it is called. */
		button: Snippet;
		look?: string;
		name?: string;
		description?: Snippet;
		/** What has the focus when the sheet is closed; its button where this finds nothing. */
		back?: () => HTMLElement | null;
		children: Snippet;
	} = $props();
</script>

<Dialog {open} onOpenChange={(details) => change(details.open)} finalFocusEl={back}>
	<Dialog.Trigger class={look} aria-label={name}>{@render button()}</Dialog.Trigger>
	<Portal>
		<Dialog.Backdrop class="fixed inset-0 z-40 bg-black/50" />
		<Dialog.Positioner class="fixed inset-0 z-50 flex items-start justify-center overflow-y-auto p-4">
			<Dialog.Content class="sheet" style="width: min({width}, 100%)">
				{#if open}
					<Dialog.Title><h2>{title}</h2></Dialog.Title>
					{#if description}<Dialog.Description>{@render description()}</Dialog.Description>{/if}
					{@render children()}
				{/if}
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>
