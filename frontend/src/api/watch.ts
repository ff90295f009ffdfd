/**
 * Look now and every so often; gives back what ends it. Never twice at once: a server that hangs is not asked again
 * before it has answered, since a browser has few lines to it. A page that nobody sees does not look, unless it must.
 */
export function watch(look: () => Promise<void>, everyMs: number, evenHidden = false): () => void {
	let looking = false;
	const ask = async (): Promise<void> => {
		if (looking || (document.hidden && !evenHidden)) return;
		looking = true;
		try {
			await look();
		} finally {
			looking = false;
		}
	};
	void ask();
	const timer = setInterval(() => void ask(), everyMs);
	return () => clearInterval(timer);
}
