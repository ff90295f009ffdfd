import { getOwnFigures, handIn, newUuid, type OwnFiguresView } from '../api/client';
import { forget, keep, kept } from '../offline/keeping';
import { NOTHING, saidOf, type Said } from '../ui/said';

/** A trial's own figures: what is asked, what is typed, what was handed in. */
export class Own {
	found = $state.raw<OwnFiguresView | null>(null);
	typed = $state<Record<string, string>>({});
	student = $state('');
	said = $state.raw<Said>(NOTHING);
	trouble = $state('');
	busy = $state(false);
	handed = $state(false);
	#uuid = newUuid();

	constructor(
		readonly run: string,
		readonly trial: string
	) {
		this.typed = kept<Record<string, string>>(this.#draft) ?? {};
		this.student = kept<string>(`writer:${run}`) ?? '';
	}

	async look(): Promise<void> {
		const outcome = await getOwnFigures(this.run);
		this.trouble = outcome.kind === 'done' ? '' : outcome.title;
		if (outcome.kind === 'done') this.found = outcome.value;
	}

	/** Keep what is typed, so that a reload loses nothing; another figure is another sheet. */
	type(line: string, text: string): void {
		this.typed = { ...this.typed, [line]: text };
		this.#uuid = newUuid();
		this.handed = false;
		keep(this.#draft, this.typed);
		const path = `claims.${line}`;
		this.said = { ...this.said, faults: this.said.faults.filter((row) => row.path !== path) };
	}

	/** Whether it was handed in. */
	async handIn(): Promise<boolean> {
		const lines = this.found?.lines ?? [];
		const claims = Object.fromEntries(lines.map((row) => [row.name, this.typed[row.name] ?? '']));
		this.busy = true;
		const body = { uuid: this.#uuid, trial: this.trial, claims, student: this.student, by: this.student };
		const outcome = await handIn(this.run, body);
		this.busy = false;
		this.said = saidOf(outcome);
		if (outcome.kind !== 'done') return false;
		this.found = outcome.value;
		this.handed = true;
		forget(this.#draft);
		return true;
	}

	get #draft(): string {
		return `own:${this.run}:${this.trial}`;
	}
}
