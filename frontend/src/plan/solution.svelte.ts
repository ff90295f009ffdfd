import { postSolution, type Fault, type Recipe } from '../api/client';
import { optionFields } from '../ui/options';

const PAUSE_MS = 250;

/** A solution for the class: what is typed, and the recipe of the last that could be made. */
export class Solution {
	values = $state<Record<string, string | boolean>>({});
	recipe = $state<Recipe | null>(null);
	faults = $state<Fault[]>([]);
	trouble = $state('');
	#schema = $state<Record<string, unknown>>({});
	#asked = 0;
	#timer: ReturnType<typeof setTimeout> | undefined;

	readonly fields = $derived(optionFields(this.#schema));
	/** What the source chosen needs; the others are not shown. */
	readonly shown = $derived(
		this.fields.filter(
			(row) =>
				(row.name !== 'stronger' || this.values.source === 'solution') &&
				(!['percent', 'density'].includes(row.name) || this.values.source === 'concentrate')
		)
	);

	offer(schema: Record<string, unknown>): void {
		this.#schema = schema;
		this.values = Object.fromEntries(this.fields.map((row) => [row.name, row.initial]));
	}

	fault(name: string): string {
		return this.faults.find((row) => row.path === name)?.message ?? '';
	}

	set(name: string, value: string | boolean): void {
		this.values[name] = value;
		this.ask();
	}

	/** Take what a plan needs of a solution. */
	take(wanted: Record<string, string>): void {
		Object.assign(this.values, wanted);
		this.ask();
	}

	ask(): void {
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.#send(), PAUSE_MS);
	}

	async #send(): Promise<void> {
		const asked = ++this.#asked;
		const filled = this.shown.filter((row) => String(this.values[row.name] ?? '').trim() !== '');
		const needed = ['formula', 'concentration', 'each'];
		if (needed.some((name) => !filled.some((row) => row.name === name))) {
			this.recipe = null;
			this.faults = [];
			return;
		}
		const wish = filled.map((row): [string, string | number] => [
			row.name,
			row.kind === 'number' ? Number(this.values[row.name]) : String(this.values[row.name])
		]);
		const outcome = await postSolution(Object.fromEntries(wish));
		if (asked !== this.#asked) return;
		this.faults = outcome.kind === 'problem' ? outcome.faults : [];
		this.trouble = outcome.kind === 'away' ? outcome.title : '';
		if (outcome.kind === 'done') this.recipe = outcome.value.recipe;
	}
}
