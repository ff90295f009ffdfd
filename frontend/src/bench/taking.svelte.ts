import { getDevices, lookAtDevice, type DeviceLook, type EntryView } from '../api/client';
import type { Bench } from './bench.svelte';

const AGAIN_MS = 400;
const AWAY = 'The server does not answer just now.';

/** A figure taken from an instrument that reads for itself: waited for until it stands, and it is shown that one waits. */
export class Taking {
	names = $state.raw<string[]>([]);
	/** The instrument that is waited for, and what it shows. */
	from = $state('');
	shows = $state.raw<DeviceLook | null>(null);
	#turn = 0;

	constructor(readonly bench: Bench) {}

	async look(): Promise<void> {
		const outcome = await getDevices();
		if (outcome.kind === 'done') this.names = outcome.value.names;
	}

	/** Wait for a steady figure of the instrument, then record it. */
	async begin(name: string, entry: EntryView): Promise<void> {
		const mine = ++this.#turn;
		this.from = name;
		this.shows = null;
		while (mine === this.#turn) {
			const outcome = await lookAtDevice(name);
			if (mine !== this.#turn) return;
			this.shows =
				outcome.kind === 'done'
					? outcome.value
					: { figure: '', unit: '', state: 'away', said: outcome.kind === 'away' ? AWAY : outcome.title };
			if (this.shows.state === 'steady') return this.#record(this.shows, entry, 'steady');
			await new Promise((go) => setTimeout(go, AGAIN_MS));
		}
	}

	/** What it shows although it moves: the server asks once more. */
	async asItIs(entry: EntryView): Promise<void> {
		if (this.shows?.figure) await this.#record(this.shows, entry, 'moving');
	}

	end(): void {
		this.#turn += 1;
		this.from = '';
		this.shows = null;
	}

	async #record(shown: DeviceLook, entry: EntryView, state: 'steady' | 'moving'): Promise<void> {
		this.end();
		this.bench.type(shown.unit === entry.unit ? shown.figure : `${shown.figure} ${shown.unit}`);
		await this.bench.record(entry, state);
	}
}
