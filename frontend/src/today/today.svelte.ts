import {
	correctRoom,
	getToday,
	keepInstrument,
	readRoom,
	restoreInstrument,
	retireInstrument,
	setDefault,
	setElevation,
	type InstrumentBody,
	type InstrumentView,
	type Outcome,
	type RoomReadingView,
	type TodayView
} from '../api/client';
import { follow } from '../api/feed.svelte';
import { clock } from '../ui/clock.svelte';
import { saidOf, type Said } from '../ui/said';

/** The day: its room and its instruments. */
export class Today {
	view = $state<TodayView | null>(null);
	away = $state(false);
	#busy = false;

	begin(): () => void {
		return follow(() => this.look());
	}

	/** Whether the day is as it is now. */
	async look(): Promise<boolean> {
		if (this.#busy) return false;
		const outcome = await getToday();
		if (!this.#busy) this.#take(outcome);
		return outcome.kind === 'done';
	}

	/** The page makes the UUID once for what is typed: an answer that is lost and asked for again counts once. */
	read = (uuid: string, slot: string, text: string, confirmed: boolean): Promise<Said> =>
		this.#do(readRoom({ uuid, slot, text, by: '', confirmed }));

	correct = (
		row: RoomReadingView,
		uuid: string,
		text: string,
		reason: string,
		confirmed: boolean
	): Promise<Said> => this.#do(correctRoom({ uuid, supersedes: row.uuid, text, reason, by: '', confirmed }));

	elevation = (text: string): Promise<Said> => this.#do(setElevation(text));
	use = (row: InstrumentView): Promise<Said> => this.#do(setDefault(row.kind, row.id));
	keep = (body: InstrumentBody): Promise<Said> => this.#do(keepInstrument(body));
	retire = (row: InstrumentView): Promise<Said> => this.#do(retireInstrument(row.id));
	restore = (row: InstrumentView): Promise<Said> => this.#do(restoreInstrument(row.id));

	async #do(sent: Promise<Outcome<TodayView>>): Promise<Said> {
		this.#busy = true;
		const outcome = await sent;
		this.#busy = false;
		this.#take(outcome);
		return saidOf(outcome);
	}

	#take(outcome: Outcome<TodayView>): void {
		this.away = outcome.kind === 'away';
		if (outcome.kind !== 'done') return;
		this.view = outcome.value;
		clock.set(outcome.value.now);
	}
}
