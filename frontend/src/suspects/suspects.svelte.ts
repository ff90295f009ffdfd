import { getReplay, getSuspects, observe, type Replay, type Suspect, type Suspicion } from '../api/client';

/** What could explain a run: the deviation, its suspects, and the dose that the slider tries. */
export class Suspects {
	found = $state<Suspicion | null>(null);
	expect = $state('');
	fault = $state('');
	code = $state('');
	dose = $state(0);
	/** The dose tried last, and what it makes of the expected result. */
	tried = $state<Replay | null>(null);
	noted = $state('');

	readonly chosen = $derived<Suspect | undefined>(this.found?.suspects.find((row) => row.code === this.code));

	readonly uuid: string;
	readonly trial: string | null;
	#asked = 0;

	constructor(uuid: string, trial: string | null) {
		this.uuid = uuid;
		this.trial = trial;
	}

	async look(): Promise<void> {
		const outcome = await getSuspects(this.uuid, this.trial, this.expect);
		if (outcome.kind !== 'done') {
			this.fault = outcome.title;
			return;
		}
		this.found = outcome.value.found;
		this.fault = '';
		await this.choose(this.code || (this.found.suspects[0]?.code ?? ''));
	}

	/** Take a cause to the slider, at the dose that explains the result or at its usual one. */
	async choose(code: string): Promise<void> {
		this.code = code;
		const row = this.chosen;
		if (row) await this.try(row.dose ?? row.usual);
	}

	/** Replay a dose; an answer that comes late is dropped. */
	async try(dose: number): Promise<void> {
		this.dose = dose;
		this.noted = '';
		const asked = ++this.#asked;
		const outcome = await getReplay(this.uuid, this.trial, this.expect, this.code, dose);
		if (asked !== this.#asked) return;
		if (outcome.kind === 'done') this.tried = outcome.value;
	}

	/** Put the suspicion into the run's log. */
	async note(words: string): Promise<void> {
		const outcome = await observe(this.uuid, this.trial ?? '', 'suspect', words);
		this.noted = outcome.kind === 'done' ? 'Noted in the log.' : outcome.title;
	}
}
