import { endEvening, getEvening, setEvening, type EveningView, type Outcome } from '../api/client';
import { watch } from '../api/watch';
import { clock } from '../ui/clock.svelte';

const LOOK_MS = 1000;

/** A simulated class: each look plays what has happened by its clock, and the board beside it shows it. */
export class Evening {
	view = $state.raw<EveningView | null>(null);
	trouble = $state('');
	away = $state(false);
	gone = $state(false);
	busy = $state(false);

	constructor(readonly uuid: string) {}

	begin(): () => void {
		return watch(() => this.look(), LOOK_MS);
	}

	async look(): Promise<void> {
		if (this.busy || this.view?.ended) return;
		const outcome = await getEvening(this.uuid);
		if (!this.busy) this.#take(outcome);
	}

	pace = (pace: 'fast' | 'still'): Promise<void> =>
		this.#ask(() => setEvening(this.uuid, { pace, minutes: 0 }));
	on = (minutes: number): Promise<void> => this.#ask(() => setEvening(this.uuid, { pace: '', minutes }));
	end = (): Promise<void> => this.#ask(() => endEvening(this.uuid));

	async #ask(asking: () => Promise<Outcome<EveningView>>): Promise<void> {
		if (this.busy) return;
		this.busy = true;
		try {
			this.#take(await asking());
		} finally {
			this.busy = false;
		}
	}

	#take(outcome: Outcome<EveningView>): void {
		this.away = outcome.kind === 'away';
		this.trouble = '';
		if (outcome.kind === 'problem') {
			this.gone = outcome.code === 'not-found';
			this.trouble = outcome.faults[0]?.message ?? outcome.title;
			return;
		}
		if (outcome.kind !== 'done') return;
		this.view = outcome.value;
		clock.go(outcome.value.pace);
		clock.set(outcome.value.now);
	}
}
