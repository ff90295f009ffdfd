import { untrack } from 'svelte';

/** Ask a desk what it was opened with, whenever that is another text than the one typed there. */
export function follow(
	desk: { readonly typed: string; ask: (text: string) => Promise<void> },
	asked: () => string
): void {
	$effect(() => {
		const text = asked();
		untrack(() => {
			if (text && text !== desk.typed) void desk.ask(text);
		});
	});
}
