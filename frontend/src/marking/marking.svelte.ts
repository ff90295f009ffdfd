import { getMarking, type ClassMarkingView, type MarkedLine, type MarkedSheet } from '../api/client';

export type Chosen = { bench: string; students: string[]; sheet: MarkedSheet };

/** A class's sheets, and which of them is looked at. */
export class Marking {
	found = $state.raw<ClassMarkingView | null>(null);
	trouble = $state('');
	#at = $state(0);

	/** Every sheet, in the order of the room. */
	readonly sheets = $derived(
		(this.found?.benches ?? []).flatMap((row) =>
			row.sheets.map((sheet): Chosen => ({
				bench: row.name,
				students: row.students,
				sheet
			}))
		)
	);
	readonly chosen = $derived<Chosen | null>(this.sheets[this.#at] ?? null);
	readonly next = $derived<Chosen | null>(this.sheets[this.#at + 1] ?? null);

	constructor(readonly number: number) {}

	async look(): Promise<boolean> {
		const outcome = await getMarking(this.number);
		this.trouble = outcome.kind === 'done' ? '' : outcome.title;
		if (outcome.kind !== 'done') return false;
		const before = this.chosen?.sheet.uuid;
		this.found = outcome.value;
		const place = this.sheets.findIndex((row) => row.sheet.uuid === before);
		if (place >= 0) this.#at = place;
		return true;
	}

	choose(uuid: string): void {
		const place = this.sheets.findIndex((row) => row.sheet.uuid === uuid);
		if (place >= 0) this.#at = place;
	}

	/** So many sheets on, or back. */
	move(by: number): void {
		this.#at = Math.min(Math.max(0, this.sheets.length - 1), Math.max(0, this.#at + by));
	}
}

/** What stands beside a line: a sign, its word for who cannot see it, and what is said. */
export function saidOf(line: MarkedLine): [string, string, string] {
	switch (line.status) {
		case 'right':
			return ['✓', 'right', line.text.includes('though') ? line.text : ''];
		case 'follows':
			return ['→', 'follows', line.text];
		case 'missing':
			return ['–', 'missing', 'not handed in'];
		case 'unit':
			return ['✗', 'unit', line.text];
		default:
			return ['✗', 'wrong', line.text];
	}
}
