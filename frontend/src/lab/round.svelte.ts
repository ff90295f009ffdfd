import { getRound, newUuid, recordReading, type RoundRow } from '../api/client';
import { outbox } from '../offline/outbox.svelte';
import { asBody, behind, type Queued } from '../offline/queue';
import { forget, keep, kept } from '../offline/keeping';
import { clock } from '../ui/clock.svelte';
import { isoTime } from '../ui/time';

/** A bench's row: what is typed, and what became of it. */
export class Row {
	typed = $state('');
	state = $state<'open' | 'saving' | 'saved' | 'waits'>('open');
	saved = $state('');
	fault = $state('');
	doubt = $state('');
	uuid = newUuid();

	constructor(readonly asks: RoundRow) {
		this.typed = kept<string>(this.#draft) ?? '';
	}

	type(text: string): void {
		this.typed = text;
		this.fault = '';
		// a question is about one figure: another one is another
		if (this.doubt) this.uuid = newUuid();
		this.doubt = '';
		if (text) keep(this.#draft, text);
		else forget(this.#draft);
	}

	/** Record what is typed; `confirmed` keeps a figure that was asked about. */
	async record(confirmed = false): Promise<boolean> {
		const text = this.typed.trim();
		if (!text || this.state !== 'open') return false;
		this.state = 'saving';
		const { run, trial, slot, position, label, unit } = this.asks;
		const reading: Queued = {
			uuid: this.uuid,
			slot,
			position,
			text,
			trial,
			by: '',
			confirmed,
			typed_at: isoTime(clock.now),
			instrument: '',
			half_width: '',
			by_itself: '',
			run,
			bench: this.asks.name,
			label,
			unit,
			order: behind(outbox.of(run))
		};
		// behind what waits already: nothing overtakes
		const waits = outbox.of(run).length > 0;
		const outcome = waits ? null : await recordReading(run, asBody(reading));
		if (outcome?.kind === 'done') return this.#done('saved', text);
		if (!outcome || outcome.kind === 'away') {
			void outbox.put(run, [reading]);
			return this.#done('waits', text);
		}
		this.state = 'open';
		if (outcome.code === 'doubt') {
			this.doubt = outcome.title;
			this.uuid = newUuid();
		} else this.fault = outcome.faults[0]?.message ?? outcome.title;
		return false;
	}

	#done(state: 'saved' | 'waits', text: string): boolean {
		this.type('');
		this.saved = `${text} ${this.asks.unit}`;
		this.state = state;
		return true;
	}

	get #draft(): string {
		const { run, trial, slot, position } = this.asks;
		return `round:${run}:${trial}:${slot}:${position}`;
	}
}

/** One reading of every bench, typed from one place. */
export class Round {
	rows = $state.raw<Row[]>([]);
	title = $state('');
	trouble = $state('');
	loaded = $state(false);

	constructor(readonly number: number) {}

	async look(): Promise<void> {
		const outcome = await getRound(this.number);
		if (outcome.kind !== 'done') {
			this.trouble = outcome.title;
			return;
		}
		this.trouble = '';
		this.title = outcome.value.title;
		this.rows = outcome.value.rows.map((row) => new Row(row));
		this.loaded = true;
	}

	/** Everything that is typed, one after another. */
	async recordAll(): Promise<void> {
		for (const row of this.rows) await row.record();
	}
}
