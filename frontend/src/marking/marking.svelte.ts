import {
	changeMark,
	chooseSheet,
	getMarking,
	giveBack,
	newUuid,
	type ClassMarkingView,
	type GivenAnswer,
	type MarkedLine,
	type MarkedSheet,
	type Outcome
} from '../api/client';
import { NOTHING, saidOf as outcomeSaid, type Said } from '../ui/said';

export type Chosen = { bench: string; students: string[]; sheet: MarkedSheet; answers: GivenAnswer[] };
/** A mark that is being changed: of which line, to what, why, and which mark of the sheet was the latest then. */
export type Draft = { line: string; marks: string; note: string; after: string };

/** A class's sheets, and which of them is looked at. */
export class Marking {
	found = $state.raw<ClassMarkingView | null>(null);
	trouble = $state('');
	/** The mark that is being changed; null while none is. */
	draft = $state<Draft | null>(null);
	said = $state.raw<Said>(NOTHING);
	busy = $state(false);
	#at = $state(0);

	/** Every sheet, in the order of the room, with the answers of whoever handed it in. */
	readonly sheets = $derived(
		(this.found?.benches ?? []).flatMap((row) =>
			row.sheets.map((sheet): Chosen => ({
				bench: row.name,
				students: row.students,
				sheet,
				answers: row.answers.filter(
					(one) => (one.student === sheet.student || !one.student) && ['', sheet.trial].includes(one.trial)
				)
			}))
		)
	);
	readonly chosen = $derived<Chosen | null>(this.sheets[this.#at] ?? null);
	readonly next = $derived<Chosen | null>(this.sheets[this.#at + 1] ?? null);
	/** Those that were marked and not given back yet. */
	readonly waiting = $derived(this.sheets.filter((row) => !row.sheet.given_back));

	constructor(readonly number: number) {}

	async look(): Promise<boolean> {
		return this.#take(await getMarking(this.number));
	}

	#take(outcome: Outcome<ClassMarkingView>): boolean {
		this.trouble = outcome.kind === 'done' ? '' : outcome.title;
		if (outcome.kind !== 'done') return false;
		const before = this.chosen;
		this.found = outcome.value;
		if (before) this.#stay(before);
		return true;
	}

	/* on the sheet that was looked at, wherever it stands now; or on that which was handed in in its place */
	#stay(before: Chosen): void {
		const same = this.sheets.findIndex((row) => row.sheet.uuid === before.sheet.uuid);
		const anew = this.sheets.findIndex(
			(row) =>
				row.bench === before.bench &&
				row.sheet.student === before.sheet.student &&
				row.sheet.trial === before.sheet.trial
		);
		if (same >= 0) this.#at = same;
		else if (anew < 0) {
			this.#at = Math.max(0, Math.min(this.#at, this.sheets.length - 1));
			this.leave();
		} else {
			this.#at = anew;
			if (this.draft) {
				this.draft.after = this.sheets[anew]?.sheet.last_mark ?? '';
				this.said = {
					...NOTHING,
					trouble: 'Another sheet was handed in in its place meanwhile: look at it first.'
				};
			}
		}
	}

	choose(uuid: string): void {
		const place = this.sheets.findIndex((row) => row.sheet.uuid === uuid);
		if (place >= 0) this.#to(place);
	}

	/** So many sheets on, or back. */
	move(by: number): void {
		this.#to(Math.min(Math.max(0, this.sheets.length - 1), Math.max(0, this.#at + by)));
	}

	#to(place: number): void {
		if (place === this.#at) return;
		this.#at = place;
		this.leave();
	}

	/** Change the marks of a line; of the first wrong one where none is named. */
	change(line = this.chosen?.sheet.first_wrong || this.chosen?.sheet.lines[0]?.name || ''): void {
		const row = this.chosen?.sheet.lines.find((one) => one.name === line);
		const after = this.chosen?.sheet.last_mark ?? '';
		if (row) this.draft = { line, marks: String(row.marks), note: row.note, after };
		this.said = NOTHING;
	}

	leave(): void {
		this.draft = null;
		this.said = NOTHING;
	}

	/** Whether it was kept; with `reckoned` the marks that the program gives come back. */
	async keep(reckoned = false): Promise<boolean> {
		const [sheet, draft] = [this.chosen?.sheet, this.draft];
		if (!sheet || !draft) return false;
		const marks = reckoned ? null : Number(draft.marks);
		if (marks !== null && (draft.marks.trim() === '' || !Number.isInteger(marks))) {
			this.said = {
				...NOTHING,
				faults: [{ code: 'marks', path: 'marks', message: 'A whole number of marks.', suggestion: '' }]
			};
			return false;
		}
		this.busy = true;
		const outcome = await changeMark(this.found?.id ?? this.number, {
			uuid: newUuid(),
			sheet: sheet.uuid,
			line: draft.line,
			marks,
			note: reckoned && !draft.note.trim() ? 'as reckoned, after all' : draft.note,
			after: draft.after,
			by: ''
		});
		this.busy = false;
		if (outcome.kind !== 'done') {
			this.said = outcomeSaid(outcome);
			// somebody else was there first: what they did is shown, what was typed stays
			if (outcome.kind === 'problem' && outcome.code === 'conflict' && (await this.look()))
				draft.after = this.chosen?.sheet.last_mark ?? '';
			return false;
		}
		this.#take(outcome);
		this.leave();
		return true;
	}

	/** That a version of the sheet counts, or against which readings it is marked. */
	async decide(sheet: string, choice: 'counts' | 'then' | 'now'): Promise<boolean> {
		this.leave();
		this.busy = true;
		const outcome = await chooseSheet(this.found?.id ?? this.number, { uuid: newUuid(), sheet, choice });
		this.busy = false;
		return this.#take(outcome);
	}

	/** Give sheets back: this one, or all that wait. */
	async giveBack(all = false): Promise<void> {
		const sheets = all ? this.waiting : this.chosen ? [this.chosen] : [];
		if (!sheets.length || this.busy) return;
		this.busy = true;
		this.#take(
			await giveBack(
				this.found?.id ?? this.number,
				sheets.map((row) => row.sheet.uuid)
			)
		);
		this.busy = false;
	}
}

/** What stands beside a line: a sign, its word for who cannot see it, and what is said. */
export function saidOf(line: MarkedLine): [string, string, string] {
	switch (line.status) {
		case 'right':
			return ['✓', 'right', line.text];
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

/** The same of an answer. */
export function saidOfAnswer(row: GivenAnswer): [string, string] {
	switch (row.verdict) {
		case 'right':
			return ['✓', 'right'];
		case 'wrong':
			return ['✗', 'not right'];
		default:
			return ['', ''];
	}
}
