import { postEquation, type EquationSheet, type Fault } from '../api/client';

/** The equation desk: what is typed, the amounts given, and the sheet that the server made of them. */
export class EquationDesk {
	typed = $state('');
	given = $state<Record<string, string>>({});
	sheet = $state<EquationSheet | null>(null);
	trouble = $state('');
	faults = $state<Fault[]>([]);
	#asked = 0;

	/** The message for an amount, empty while it is well. */
	fault(formula: string): string {
		return this.faults.find((row) => row.path === `given.${formula}`)?.message ?? '';
	}

	/** Take another equation; amounts of substances that stand in it stay. */
	async ask(text: string): Promise<void> {
		this.typed = text;
		if (!text.trim()) {
			this.sheet = null;
			this.trouble = '';
			this.faults = [];
			this.#asked += 1;
			return;
		}
		await this.#send();
	}

	async give(formula: string, text: string): Promise<void> {
		this.given = { ...this.given, [formula]: text };
		await this.#send();
	}

	async #send(): Promise<void> {
		const asked = ++this.#asked;
		const known = this.sheet?.lines.map((line) => line.formula) ?? [];
		const given = Object.fromEntries(
			Object.entries(this.given).filter(([formula, text]) => text.trim() && known.includes(formula))
		);
		const outcome = await postEquation(this.typed, given);
		if (asked !== this.#asked) return;
		if (outcome.kind === 'done') {
			this.sheet = outcome.value.sheet;
			this.trouble = '';
			this.faults = [];
			return;
		}
		this.faults = outcome.kind === 'problem' ? outcome.faults : [];
		// an amount that names a substance of the equation before is simply dropped
		if (this.faults.some((row) => row.code === 'unknown-substance')) {
			this.given = {};
			this.sheet = null;
			await this.#send();
			return;
		}
		this.trouble = this.faults.some((row) => row.path.startsWith('given.')) ? '' : outcome.title;
	}
}
