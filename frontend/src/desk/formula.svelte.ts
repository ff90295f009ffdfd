import { getFormula, type FormulaDeskView } from '../api/client';

/** The formula desk: what is typed, formula or shares, and what the server made of it. */
export class FormulaDesk {
	typed = $state('');
	sheet = $state<FormulaDeskView | null>(null);
	trouble = $state('');
	#asked = 0;

	/** Take a formula apart; an answer that comes late is dropped. */
	async ask(text: string): Promise<void> {
		this.typed = text;
		const asked = ++this.#asked;
		if (!text.trim()) {
			this.sheet = null;
			this.trouble = '';
			return;
		}
		const outcome = await getFormula(text);
		if (asked !== this.#asked) return;
		if (outcome.kind === 'done') {
			this.sheet = outcome.value;
			this.trouble = '';
		} else this.trouble = outcome.title;
	}
}
