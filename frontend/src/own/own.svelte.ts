import {
	getOwnFigures,
	giveAnswer,
	handIn,
	newUuid,
	type AskedQuestion,
	type GivenAnswer,
	type OwnFiguresView
} from '../api/client';
import { forget, keep, kept } from '../offline/keeping';
import { NOTHING, saidOf, type Said } from '../ui/said';

/** What tells a question from the others. */
export const keyOf = (question: AskedQuestion): string => `${question.place} ${question.number}`;

/** A trial's own figures: what is asked, what is typed, what was handed in. */
export class Own {
	found = $state.raw<OwnFiguresView | null>(null);
	typed = $state<Record<string, string>>({});
	student = $state('');
	said = $state.raw<Said>(NOTHING);
	trouble = $state('');
	busy = $state(false);
	handed = $state(false);
	/** What is typed as answers, and what is wrong with each, by its place and number. */
	answers = $state<Record<string, string>>({});
	amiss = $state<Record<string, string>>({});
	#uuid = newUuid();

	constructor(
		readonly run: string,
		readonly trial: string
	) {
		this.typed = kept<Record<string, string>>(this.#draft) ?? {};
		this.student = kept<string>(`writer:${run}`) ?? '';
		this.answers = kept<Record<string, string>>(`answers:${run}:${trial}`) ?? {};
	}

	/** The answer that stands to a question: of whoever is chosen here, in this trial. */
	answerTo(question: AskedQuestion): GivenAnswer | undefined {
		return this.found?.answers.find(
			(row) =>
				row.place === question.place &&
				row.number === question.number &&
				row.student === this.student &&
				row.ask === question.ask &&
				['', this.trial].includes(row.trial)
		);
	}

	/** What is typed as an answer: what was begun, else what was given. */
	answered(question: AskedQuestion): string {
		return this.answers[keyOf(question)] ?? this.answerTo(question)?.text ?? '';
	}

	/** Keep what is typed as an answer, so that a reload loses nothing. */
	reply(question: AskedQuestion, text: string): void {
		this.answers = { ...this.answers, [keyOf(question)]: text };
		keep(`answers:${this.run}:${this.trial}`, this.answers);
		this.amiss = { ...this.amiss, [keyOf(question)]: '' };
	}

	/** Give an answer that is not given yet; what is wrong with it stands beside it. */
	async give(question: AskedQuestion): Promise<void> {
		const text = this.answered(question).trim();
		if (!text || text === this.answerTo(question)?.text) return;
		const outcome = await giveAnswer(this.run, {
			uuid: newUuid(),
			place: question.place,
			number: question.number,
			ask: question.ask,
			text,
			trial: this.trial,
			student: this.student,
			by: this.student
		});
		if (outcome.kind === 'done') {
			this.found = outcome.value;
			this.answers = Object.fromEntries(
				Object.entries(this.answers).filter(([key]) => key !== keyOf(question))
			);
			keep(`answers:${this.run}:${this.trial}`, this.answers);
			return;
		}
		const said = saidOf(outcome);
		this.amiss = { ...this.amiss, [keyOf(question)]: said.faults[0]?.message ?? said.trouble };
		// asked otherwise by now: the new words are fetched, what was typed stays
		if (outcome.kind === 'problem' && outcome.code === 'conflict') await this.look();
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
