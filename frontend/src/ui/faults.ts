import { tick } from 'svelte';

/** Put the focus on the first field that has a fault, once it is shown. */
export async function focusFault(within = ''): Promise<void> {
	await tick();
	document.querySelector<HTMLElement>(`${within} [aria-invalid="true"]`)?.focus();
}
