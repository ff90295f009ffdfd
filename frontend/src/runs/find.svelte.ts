import { search, type FoundRun, type SearchView } from '../api/client';

const PAUSE_MS = 250;
/** What is looked for, as the address of the page keeps it. */
export type Wanted = {
	words: string;
	method: string;
	since: string;
	until: string;
	state: string;
};
export const NOTHING_WANTED: Wanted = { words: '', method: '', since: '', until: '', state: '' };

/** What an address asks for. */
export function wantedOf(query: URLSearchParams): Wanted {
	const found = { ...NOTHING_WANTED };
	for (const name of Object.keys(found) as (keyof Wanted)[]) found[name] = query.get(name) ?? '';
	return found;
}

/** The address of what is wanted: only what is asked for stands in it. */
export function queryOf(wanted: Wanted): string {
	const rows = Object.entries(wanted).filter(([, value]) => value.trim() !== '');
	return new URLSearchParams(rows).toString();
}

/** Runs and classes that are looked for: asked a moment after the last key, the latest question wins. */
export class Find {
	wanted = $state<Wanted>({ ...NOTHING_WANTED });
	classes = $state.raw<SearchView['classes']>([]);
	runs = $state.raw<FoundRun[]>([]);
	more = $state(false);
	trouble = $state('');
	faults = $state<Record<string, string>>({});
	asked = $state(false);
	#timer = 0;
	#question = 0;

	/** Ask a moment from now: whoever types on is asked for once. */
	soon(): void {
		window.clearTimeout(this.#timer);
		this.#timer = window.setTimeout(() => void this.look(), PAUSE_MS);
	}

	async look(on = false): Promise<void> {
		window.clearTimeout(this.#timer);
		const mine = ++this.#question;
		const query = queryOf(this.wanted);
		const outcome = await search(on ? `${query}&skip=${this.runs.length}` : query);
		if (mine !== this.#question) return;
		this.asked = true;
		this.faults = {};
		this.trouble = '';
		if (outcome.kind !== 'done') {
			const rows = outcome.kind === 'problem' ? outcome.faults : [];
			this.faults = Object.fromEntries(rows.map((row) => [row.path.split('.').at(-1) ?? '', row.message]));
			if (!rows.length) this.trouble = outcome.title;
			return;
		}
		if (!on) this.classes = outcome.value.classes;
		this.runs = on ? [...this.runs, ...outcome.value.runs] : outcome.value.runs;
		this.more = outcome.value.more;
	}
}
