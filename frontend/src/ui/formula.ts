/** Pieces of a formula for setting: subscripts after letters and brackets, a raised dot, a superscript charge. */
export type Piece = { text: string; style: 'plain' | 'sub' | 'sup' };

export function pieces(formula: string): Piece[] {
	const [body = '', charge] = formula.split('^');
	const found: Piece[] = [];
	for (const [text] of body.matchAll(/\d+(?:\.\d+)?|[^\d]+/g)) {
		const before = found.at(-1)?.text.at(-1);
		const counts = /^\d/.test(text) && before !== undefined && /[A-Za-z)\]}]/.test(before);
		found.push({ text: text.replace('-', '−'), style: counts ? 'sub' : 'plain' });
	}
	if (charge) found.push({ text: charge.replace('-', '−'), style: 'sup' });
	return found;
}
