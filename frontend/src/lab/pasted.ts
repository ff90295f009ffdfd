/** What was pasted into a round: a line a bench, its name before the figure where there is one. */

/** By place in the list the figures of some pasted lines; those without a bench's name fill up from a place on. */
export function pasted(text: string, benches: readonly string[], from: number): Map<number, string> {
	const found = new Map<number, string>();
	let next = from;
	for (const line of text.split(/\r?\n/)) {
		const typed = line.trim();
		if (!typed) continue;
		// of "Flint" and "Flint 2" the longer one
		const longest = benches.filter((name) => startsWith(typed, name)).sort((a, b) => b.length - a.length)[0];
		const named = longest === undefined ? -1 : benches.indexOf(longest);
		const place = named >= 0 ? named : next;
		if (place >= benches.length) continue;
		const name = benches[named] ?? '';
		found.set(place, named >= 0 ? typed.slice(name.length).replace(/^[\s:;,=]+/, '') : typed);
		next = place + 1;
	}
	return found;
}

const startsWith = (line: string, name: string): boolean =>
	line.toLowerCase().startsWith(name.toLowerCase()) && /^[\s:;,=]/.test(line.slice(name.length));
