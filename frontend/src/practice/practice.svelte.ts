import {
	answerPractice,
	doAtPractice,
	getPractice,
	newUuid,
	type Outcome,
	type PracticeView
} from '../api/client';
import { watch } from '../api/watch';
import { clock } from '../ui/clock.svelte';

const LOOK_MS = 1000;
export type Seen = NonNullable<PracticeView['seen']>;
export type Picture = Record<string, unknown> & { apparatus?: string };

/** A simulated bench as this page works at it: what is done goes to the server, and what stands there comes back. */
export class Practice {
	view = $state.raw<PracticeView | null>(null);
	trouble = $state('');
	away = $state(false);
	gone = $state(false);
	busy = $state(false);
	/** What it was, as it is being said. */
	said = $state({ cause: '', sign: '', size: '' });
	faults = $state<Record<string, string>>({});

	constructor(readonly uuid: string) {}

	/** Look every second; gives back what ends it. */
	begin(): () => void {
		return watch(() => this.look(), LOOK_MS);
	}

	async look(): Promise<void> {
		if (this.busy) return;
		const outcome = await getPractice(this.uuid);
		// what was done meanwhile is newer
		if (!this.busy) this.#take(outcome);
	}

	async do(act: string, value = ''): Promise<void> {
		if (this.busy || !this.view) return;
		this.busy = true;
		try {
			const body = { uuid: newUuid(), act, value, after: this.view.after };
			const outcome = await doAtPractice(this.uuid, body);
			this.#take(outcome);
			if (outcome.kind === 'problem') {
				this.trouble = outcome.faults[0]?.message ?? outcome.title;
				if (outcome.code === 'conflict') this.#take(await getPractice(this.uuid), true);
			}
		} finally {
			this.busy = false;
		}
	}

	async answer(): Promise<void> {
		if (this.busy) return;
		this.busy = true;
		this.faults = {};
		try {
			const outcome = await answerPractice(this.uuid, { ...this.said });
			this.#take(outcome);
			if (outcome.kind !== 'problem') return;
			this.faults = Object.fromEntries(outcome.faults.map((row) => [row.path, row.message]));
			if (!outcome.faults.length) this.trouble = outcome.title;
		} finally {
			this.busy = false;
		}
	}

	#take(outcome: Outcome<PracticeView>, stays = false): void {
		this.away = outcome.kind === 'away';
		if (outcome.kind === 'problem') {
			this.gone = outcome.code === 'not-found' || outcome.code === 'not-yours';
			return;
		}
		if (outcome.kind !== 'done') return;
		if (!stays) this.trouble = '';
		this.view = outcome.value;
		clock.go(outcome.value.pace);
		clock.set(outcome.value.now);
	}
}

/** A picture's own fact as a number, 0 where it has none. */
export const part = (picture: Picture, name: string): number => Number(picture[name] ?? 0);
