import {
	getRun,
	getRuns,
	markStep,
	newUuid,
	observe,
	recordReading,
	type EntryView,
	type Outcome,
	type ReadingBody,
	type RunSummary,
	type RunView
} from '../api/client';
import { clock } from '../ui/clock.svelte';
import { forget, keep, kept } from './keeping';

const LOOK_MS = 2000;
const RETRY_MS = 2000;

type Doubt = { body: ReadingBody; text: string };

/** One run at the bench: what the server says of it, what is typed, and what still waits to be saved. */
export class Bench {
	run = $state<RunView | null>(null);
	others = $state<RunSummary[]>([]);
	missing = $state(false);
	away = $state(false);
	typed = $state('');
	fault = $state('');
	notice = $state('');
	doubt = $state<Doubt | null>(null);
	waiting = $state<ReadingBody | null>(null);
	busy = $state(false);
	savedAt = $state(0);

	readonly uuid: string;
	#timers: ReturnType<typeof setInterval>[] = [];

	constructor(uuid: string) {
		this.uuid = uuid;
		this.typed = kept<string>(`typed:${uuid}`) ?? '';
		this.waiting = kept<ReadingBody>(`waiting:${uuid}`);
	}

	/** Look now and every two seconds; gives back what ends it. */
	begin(): () => void {
		void this.look();
		void this.lookAtOthers();
		this.#timers = [
			setInterval(() => void this.look(), LOOK_MS),
			setInterval(() => void this.lookAtOthers(), 2 * LOOK_MS),
			setInterval(() => void this.retry(), RETRY_MS)
		];
		return () => this.#timers.forEach(clearInterval);
	}

	/** Keep what is being typed, so that a reload loses nothing. */
	type(text: string): void {
		this.typed = text;
		this.fault = '';
		keep(`typed:${this.uuid}`, text);
	}

	/** Record what is typed as the next reading. */
	async record(entry: EntryView): Promise<void> {
		if (this.busy || this.waiting) return;
		const body = {
			uuid: newUuid(),
			slot: entry.slot,
			position: entry.position,
			text: this.typed,
			trial: '1'
		};
		await this.#send({ ...body, by: '', confirmed: false });
	}

	/** Record a doubted reading all the same. */
	async confirm(): Promise<void> {
		const doubt = this.doubt;
		if (doubt) await this.#send({ ...doubt.body, confirmed: true });
	}

	/** Send again what could not be saved. */
	async retry(): Promise<void> {
		if (this.waiting && !this.busy) await this.#send(this.waiting);
	}

	async mark(step: string, kind: 'started' | 'extended' | 'finished'): Promise<void> {
		this.#take(await markStep(this.uuid, step, kind));
	}

	async see(tag: string): Promise<void> {
		this.#take(await observe(this.uuid, tag));
	}

	async look(): Promise<void> {
		if (this.busy || document.hidden) return;
		const outcome = await getRun(this.uuid);
		if (this.busy) return;
		if (outcome.kind === 'problem' && outcome.code === 'not-found') this.missing = true;
		else if (outcome.kind === 'problem' && outcome.code === 'refused') this.missing = true;
		else this.#take(outcome, true);
	}

	async lookAtOthers(): Promise<void> {
		if (document.hidden) return;
		const outcome = await getRuns();
		if (outcome.kind === 'done') {
			this.others = outcome.value.runs.filter((run) => run.uuid !== this.uuid && run.state !== 'finished');
		}
	}

	async #send(body: ReadingBody): Promise<void> {
		this.busy = true;
		this.fault = this.notice = '';
		// kept before it is sent: a page that dies now finds it again
		this.#wait(body);
		const outcome = await recordReading(this.uuid, body);
		this.busy = false;
		if (outcome.kind === 'away') {
			this.away = true;
			return;
		}
		this.#wait(null);
		this.doubt = null;
		if (outcome.kind === 'done') {
			this.type('');
			this.savedAt = clock.now;
		} else if (outcome.code === 'doubt') {
			this.doubt = { body, text: outcome.title };
		} else {
			this.fault = outcome.faults[0]?.message ?? outcome.title;
		}
		this.#take(outcome);
	}

	#wait(body: ReadingBody | null): void {
		this.waiting = body;
		if (body) keep(`waiting:${this.uuid}`, body);
		else forget(`waiting:${this.uuid}`);
	}

	#take(outcome: Outcome<RunView>, quiet = false): void {
		this.away = outcome.kind === 'away';
		if (outcome.kind === 'problem' && !quiet && !this.fault && !this.doubt) this.notice = outcome.title;
		if (outcome.kind !== 'done') return;
		clock.set(outcome.value.now);
		if (outcome.value.version !== this.run?.version) this.run = outcome.value;
	}
}
