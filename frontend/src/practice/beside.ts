/** The bench's page beside a simulated bench: a figure that was noted there comes into its field. */
type Noted = { kettle: 'noted'; figure: string };

/** Put a figure into the field of the page in this frame. */
export function note(frame: HTMLIFrameElement | null, figure: string): void {
	const said: Noted = { kettle: 'noted', figure };
	frame?.contentWindow?.postMessage(said, location.origin);
	frame?.focus();
}

/** Tell of every figure that is noted; gives back what ends it. */
export function whenNoted(take: (figure: string) => void): () => void {
	const hear = (event: MessageEvent<Partial<Noted> | null>): void => {
		if (event.origin !== location.origin || event.source !== window.parent) return;
		if (event.data?.kettle !== 'noted' || typeof event.data.figure !== 'string') return;
		take(event.data.figure);
		document.querySelector<HTMLInputElement>('input.figure')?.focus();
	};
	window.addEventListener('message', hear);
	return () => window.removeEventListener('message', hear);
}
