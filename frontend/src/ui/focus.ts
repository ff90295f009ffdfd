/** The field where the next figure is typed, or what stands in its place; null on other pages. */
export const backToField = (): HTMLElement | null =>
	document.querySelector<HTMLElement>('#reading') ??
	document.querySelector<HTMLElement>('.entry button, .entry a');
