import {
	getRunSubstances,
	getShelf,
	leaveReading,
	lookAtRun,
	markStep,
	newUuid,
	observe,
	predict,
	startTrial,
	takeBack,
	type BoardView,
	type EntryView,
	type InstrumentView,
	type MeasuredLength,
	type Outcome,
	type ReadingBody,
	type RunSubstancesView,
	type RunView,
	type StepView
} from '../api/client';
import { Feed } from '../api/feed.svelte';
import { watch } from '../api/watch';
import { who } from '../doors/who.svelte';
import { clock } from '../ui/clock.svelte';
import { isoTime } from '../ui/time';
import { backToField } from '../ui/focus';
import { keep, kept } from '../offline/keeping';
import { outbox } from '../offline/outbox.svelte';
import { before, behind, wholeOf, type Queued } from '../offline/queue';
import { keepRun, keptRun } from '../offline/store';

const LOOK_MS = 1000;
const ONE_STROKE_MS = 600;
/** The tag under which a bench asks that a step be signed off. */
const SIGN_OFF = 'asks for sign-off';

type Doubt = { reading: Queued; text: string; suggestion: string | null };

/** The place of a reading in its trial. */
const placeOf = (row: { slot: string; position: number }): string => `${row.slot} ${row.position}`;

/** One run at the bench: what the server says of it, what is typed, and what is on its way. */
export class Bench {
	run = $state<RunView | null>(null);
	/** Label of the trial that is shown; null until the server has said whose turn it is. */
	trial = $state<string | null>(null);
	/** What is told of the class; null until it is known which that is. */
	feed = $state.raw<Feed | null>(null);
	/** The other benches that are at work; what stands in the oven comes back when it is due. */
	readonly others = $derived(
		(this.feed?.cards ?? []).filter(
			(card) =>
				card.run !== this.uuid &&
				!['done', 'out'].includes(card.doing) &&
				(!card.rests || (card.timer_ends_at !== null && Date.parse(card.timer_ends_at) <= clock.now))
		)
	);
	/** Who stands at this bench, as the class was laid out. */
	readonly students = $derived(this.feed?.cards.find((card) => card.run === this.uuid)?.students ?? []);
	/** Which of them writes on this device; empty where nobody said. */
	writer = $state('');
	#endFeed: () => void = () => undefined;
	/** The version of the run that the class has told of last. */
	#told = -1;
	missing = $state(false);
	/** Why nothing more is taken here: the class was closed while its bench was open. */
	shut = $state('');
	/** Why the run is not shown: it is somebody else's, or its class is closed. */
	refused = $state('');
	away = $state(false);
	/** Why what is typed cannot be saved just now, as it was answered. */
	why = $state('The server does not answer just now.');
	typed = $state('');
	/** The place for which it was typed; empty while nothing is. */
	#typedFor = '';
	fault = $state('');
	notice = $state('');
	doubt = $state<Doubt | null>(null);
	/** What is on its way, in order; one that came back stands in the field instead. */
	readonly queue = $derived(outbox.rows.filter((row) => row.run === this.uuid && !row.asked));
	/** A reading that came back to the field: it is typed again for its own place before the next one. */
	returned = $state<Queued | null>(null);
	/** The trial that was shown has been taken back. */
	gone = $state(false);
	#recordedAt = 0;
	/** What stands here was put together of two versions: the next look fetches all of it. */
	#behind = false;
	savedAt = $state(0);
	/** The instruments on the shelf, and by kind the one that reads where it is another than the run's. */
	shelf = $state<InstrumentView[]>([]);
	instrument = $state<Record<string, string>>({});

	/** What the run works with, as the register knows it; null until it is there. */
	substances = $state<RunSubstancesView | null>(null);

	/** What the field asks for: a returned reading's place, or the first that is neither saved nor on its way. */
	readonly entry = $derived<EntryView | null>(this.#next());
	/** Readings that wait because the server or its database is away. */
	readonly waiting = $derived(this.away ? this.queue : []);

	readonly uuid: string;

	constructor(uuid: string, trial: string | null) {
		this.uuid = uuid;
		if (trial !== null) this.#show(trial);
		this.writer = kept<string>(`writer:${uuid}`) ?? '';
	}

	/** Look now and whenever the class tells of a change; gives back what ends it. */
	begin(): () => void {
		void this.#lookAtShelf();
		void this.#lookAtSubstances();
		// what waits is sent even where nobody looks
		const end = watch(() => this.#tick(), LOOK_MS, true);
		const leave = this.attend();
		return () => {
			end();
			leave();
			this.#endFeed();
		};
	}

	/** Be told what becomes of the readings of this bench; gives back what ends it. */
	attend(): () => void {
		return outbox.attend(this.uuid, (reading, outcome) => this.#sent(reading, outcome));
	}

	/** The feed of the run's class, once it is known which that is. */
	#follow(day: number): void {
		if (this.feed) return;
		this.feed = new Feed(day, (told) => this.#heard(told));
		this.#endFeed = this.feed.begin();
	}

	#heard(told: BoardView | null): void {
		if (told === null) {
			if (this.feed?.away) this.away = true;
			const refused = this.feed?.refused ?? '';
			if (this.run) this.shut = refused;
			else this.refused = refused;
			return;
		}
		this.shut = '';
		if (this.queue.length) outbox.soon();
		else this.away = false;
		if (told.head && this.run && told.head.held_back !== this.run.held_back && who.atBench) {
			// the answers were opened, or closed: the same version tells another thing now
			this.#behind = true;
			void this.look();
		}
		const version = told.runs?.[this.uuid];
		if (version === undefined) return;
		this.#told = version;
		// at once: two devices of one bench see each other; where that does not come through, the next tick looks
		if (this.run && version > this.run.version && !this.queue.length) void this.look();
	}

	/**
	 * Keep what is being typed, so that a reload loses nothing. A question is about one figure: typing another one
	 * answers it, and that one is recorded by its own Enter.
	 */
	type(text: string): void {
		if (text === '') this.#typedFor = '';
		else if (this.#typedFor === '' && this.entry) this.#typedFor = placeOf(this.entry);
		this.typed = text;
		this.fault = '';
		if (this.doubt && this.doubt.reading.text !== text) this.doubt = null;
		keep(this.#draft, { text, place: this.#typedFor });
	}

	/** From now on somebody else writes on this device. */
	write(name: string): void {
		this.writer = name;
		keep(`writer:${this.uuid}`, name);
	}

	/** Read the next of this kind with another instrument, until another is chosen. */
	readWith(kind: string, name: string): void {
		this.instrument[kind] = name;
	}

	/** Put what is typed on its way as the reading that the field asks for. */
	async record(entry: EntryView, byItself: ReadingBody['by_itself'] = ''): Promise<void> {
		const reading: Queued = {
			...this.#fresh(entry),
			by_itself: byItself,
			text: this.typed,
			trial: this.returned?.trial ?? this.trial ?? '1',
			order: this.returned ? before(this.queue) : behind(outbox.of(this.uuid))
		};
		const instead = this.returned?.uuid;
		this.returned = null;
		this.notice = '';
		this.type('');
		this.#recordedAt = Date.now();
		await outbox.put(this.uuid, [reading], instead);
		// a question that came while it was typed is asked now
		const [first] = outbox.of(this.uuid);
		if (first?.asked && !this.returned) this.#bringBack(first);
	}

	/** Put what was measured on a photograph on its way: from this place of the series on, one behind the other. */
	async recordMeasured(entry: EntryView, lengths: MeasuredLength[], note: string): Promise<void> {
		const rows = lengths.map((row, index): Queued => ({
			...this.#fresh(entry),
			position: entry.position + index,
			label: `${entry.label.replace(/ \d+$/, '')} ${entry.position + index}`,
			text: row.text,
			instrument: 'photograph',
			half_width: row.half_width,
			order: behind(this.queue) + index
		}));
		await outbox.put(this.uuid, rows);
		this.#take(await observe(this.uuid, this.trial ?? '', 'photograph', note, this.writer));
	}

	#fresh(entry: EntryView): Queued {
		return {
			uuid: newUuid(),
			slot: entry.slot,
			position: entry.position,
			text: '',
			trial: this.trial ?? '1',
			by: this.writer,
			confirmed: false,
			typed_at: isoTime(clock.now),
			instrument: this.instrument[entry.kind] ?? '',
			half_width: '',
			by_itself: '',
			run: this.uuid,
			bench: this.run?.bench ?? '',
			label: entry.label,
			unit: entry.unit,
			order: 0
		};
	}

	/** Keep a doubted reading all the same. */
	async confirm(): Promise<void> {
		if (!this.doubt) return;
		const old = this.doubt.reading;
		const reading = { ...old, uuid: newUuid(), confirmed: true, asked: null, order: before(this.queue) };
		this.#giveUp();
		this.type('');
		await outbox.put(this.uuid, [reading], old.uuid);
	}

	/** Take the figure that the question offers. */
	async suggest(text: string): Promise<void> {
		const entry = this.entry;
		this.doubt = null;
		this.type(text);
		if (entry) await this.record(entry);
	}

	/** Leave a returned reading out and go on with what waits behind it. */
	async leaveOut(): Promise<void> {
		const left = this.returned?.uuid;
		this.#giveUp();
		this.type('');
		if (left) await outbox.drop(left);
		await outbox.send(this.uuid);
	}

	/** Mark a step; what is wrong with that stands below the field. */
	async mark(
		step: string,
		kind: 'started' | 'extended' | 'finished' | 'skipped',
		reason = ''
	): Promise<void> {
		this.#take(await markStep(this.uuid, this.trial ?? '1', step, kind, reason, this.writer));
	}

	/** The step that is done with hands now, null where a reading is due or nothing is left. */
	get handwork(): StepView | null {
		const now = this.run?.steps.find((step) => step.state === 'now');
		return now && now.slot === null ? now : null;
	}

	/**
	 * Enter in an empty field: the step that hands do now is done, or one rinse more is counted. False where there is
	 * none, or right behind a figure: who struck the key twice marks nothing.
	 */
	async finishByKey(): Promise<boolean> {
		const step = this.handwork;
		if (!step || this.queue.length || this.returned || Date.now() - this.#recordedAt < ONE_STROKE_MS)
			return false;
		if (step.sign_off) return false;
		if (step.counts) await this.see(step.counts.tag);
		else await this.mark(step.key, 'finished');
		return true;
	}

	/** Declare a reading not taken; what is wrong with that, or nothing. */
	async leave(slot: string, position: number, reason: string): Promise<string> {
		const body = { uuid: newUuid(), slot, position, trial: this.trial ?? '1', reason, by: this.writer };
		const outcome = await leaveReading(this.uuid, body);
		this.#take(outcome, true);
		if (outcome.kind === 'problem') return outcome.faults[0]?.message ?? outcome.title;
		return outcome.kind === 'away' ? outcome.title : '';
	}

	/** A reading that was declared not taken is taken after all: the field asks for it now. */
	takeAfterAll(step: StepView): void {
		if (step.slot === null || this.queue.length || this.returned) return;
		const position = step.position ?? 1;
		const left = this.run?.readings.find(
			(row) => row.current && row.slot === step.slot && row.position === position
		);
		this.returned = {
			uuid: newUuid(),
			slot: step.slot,
			position,
			text: '',
			trial: this.trial ?? '1',
			by: this.writer,
			confirmed: false,
			typed_at: isoTime(clock.now),
			instrument: '',
			half_width: '',
			by_itself: '',
			run: this.uuid,
			bench: this.run?.bench ?? '',
			label: left?.label ?? step.short,
			unit: left?.unit ?? '',
			order: before(this.queue)
		};
		backToField()?.focus();
	}

	/** Take back what the last tap did. */
	async undo(): Promise<void> {
		if (!this.run?.undo) return;
		const row = this.run.undo.row;
		const outcome = await takeBack(this.uuid, row, '', this.writer);
		// a trial that is gone is not shown any more
		if (outcome.kind === 'done' && row.startsWith('trial ')) this.gone = true;
		this.#take(outcome);
	}

	/** Note something seen; whether it was kept. */
	async see(tag: string): Promise<boolean> {
		const outcome = await observe(this.uuid, this.trial ?? '', tag, '', this.writer);
		this.#take(outcome);
		return outcome.kind === 'done';
	}

	/** Ask an instructor to look at the step of now. */
	async askForSignOff(step: StepView): Promise<void> {
		this.#take(await observe(this.uuid, this.trial ?? '', SIGN_OFF, step.key, this.writer));
	}

	/** Note a prediction; what is wrong with it, or nothing. */
	async predict(text: string, by: string): Promise<string> {
		const outcome = await predict(this.uuid, text, by);
		if (outcome.kind === 'problem') return outcome.faults[0]?.message ?? outcome.title;
		if (outcome.kind === 'away') return outcome.title;
		await this.look();
		return '';
	}

	/** Begin one more trial; its label, or null where that could not be done. */
	async another(): Promise<string | null> {
		const label = this.run?.next_trial ?? '';
		const outcome = await startTrial(this.uuid, label);
		if (outcome.kind === 'done') return label;
		this.notice = outcome.title;
		return null;
	}

	async look(): Promise<void> {
		if (outbox.isSending(this.uuid) || document.hidden) return;
		const outcome = await lookAtRun(this.uuid, this.trial, this.#behind ? -1 : (this.run?.version ?? -1));
		if (outbox.isSending(this.uuid)) return;
		if (outcome.kind === 'away' && !this.run) await this.#asItWasSeen();
		const gone = outcome.kind === 'problem' && ['not-found', 'refused'].includes(outcome.code);
		const shut = outcome.kind === 'problem' && outcome.code === 'not-yours';
		this.refused = shut && !this.run ? outcome.title : '';
		if (gone && !this.run) this.missing = true;
		else this.#take(outcome, true);
	}

	async #lookAtShelf(): Promise<void> {
		const outcome = await getShelf();
		if (outcome.kind === 'done') this.shelf = outcome.value.instruments;
	}

	async #lookAtSubstances(): Promise<void> {
		const outcome = await getRunSubstances(this.uuid);
		if (outcome.kind === 'done') this.substances = outcome.value;
	}

	async #tick(): Promise<void> {
		// a page that was just opened shows the run first, also where what waits cannot be sent
		const opened = !this.run;
		if (opened) await this.look();
		const [first] = outbox.of(this.uuid);
		// it came back while another page was open, or before this one was
		if (first?.asked && !this.returned) this.#bringBack(first);
		// a tap that did not come through: whether the server is there again, the quiet feed does not tell
		else if (this.away && !this.feed?.away) await this.look();
		else if (!opened && (this.#behind || (this.run && this.#told > this.run.version))) await this.look();
	}

	/** What became of a reading that was on its way. */
	#sent(reading: Queued, outcome: Outcome<RunView>): void {
		if (outcome.kind === 'away') this.why = outcome.title;
		else if (outcome.kind === 'done') this.savedAt = clock.now;
		const [first] = outbox.of(this.uuid);
		if (first?.asked && first.uuid === reading.uuid) this.#bringBack(first);
		this.#take(outcome);
	}

	/** A reading that came back stands in the field, with what was asked; what is typed for another one comes first. */
	#bringBack(row: Queued): void {
		if (!row.asked) return;
		const { code, title, fault, suggestion } = row.asked;
		if (this.typed && this.#typedFor && this.#typedFor !== placeOf(row)) {
			this.fault = `${row.label} ${row.text} ${row.unit} came back: ${code === 'doubt' ? title : fault}`;
			return;
		}
		this.returned = row;
		if (this.typed && this.typed !== row.text) {
			// typed anew for this very place already
			this.fault = `${row.label} ${row.text} ${row.unit} came back: ${code === 'doubt' ? title : fault}`;
			return;
		}
		this.type(row.text);
		if (code === 'doubt') this.doubt = { reading: row, text: title, suggestion };
		else this.fault = fault;
	}

	/** Without a server: the run as this device saw it last. */
	async #asItWasSeen(): Promise<void> {
		const seen = await keptRun(this.uuid, this.trial);
		if (!seen || this.run) return;
		this.#behind = true;
		if (this.trial === null) this.#show(seen.trial.label);
		if (seen.trial.label === this.trial) this.run = seen;
	}

	get #draft(): string {
		return `typed:${this.uuid}:${this.trial}`;
	}

	#show(trial: string): void {
		this.trial = trial;
		// a reading that came back before the run was there keeps the field
		if (this.returned) return;
		const draft = kept<{ text: string; place: string }>(this.#draft);
		this.typed = draft?.text ?? '';
		this.#typedFor = draft?.place ?? '';
		this.#keepToItsField();
	}

	/**
	 * What was typed belongs to the field for which it was typed: where another device has recorded that reading
	 * meanwhile, it is no figure for the next one.
	 */
	#keepToItsField(): void {
		if (!this.typed || !this.run || !this.#typedFor || this.returned) return;
		if (this.entry && placeOf(this.entry) === this.#typedFor) return;
		const taken = this.run.readings.find((row) => row.current && placeOf(row) === this.#typedFor);
		const text = this.typed;
		this.type('');
		this.notice = taken
			? `${taken.label} is recorded already: ${taken.text} ${taken.unit}. “${text}” was typed for it and was not recorded.`
			: `“${text}” was typed for a reading that is not asked for any more. It was not recorded.`;
	}

	#giveUp(): void {
		this.doubt = this.returned = null;
		this.fault = '';
	}

	#next(): EntryView | null {
		const upcoming = this.run?.upcoming ?? [];
		const is = (a: { slot: string; position: number }) => (b: { slot: string; position: number }) =>
			a.slot === b.slot && a.position === b.position;
		if (this.returned) {
			const { slot, position, unit, trial } = this.returned;
			const elsewhere = trial !== this.trial;
			const label = elsewhere ? `trial ${trial}: ${this.returned.label}` : this.returned.label;
			const typedAgain = {
				slot,
				position,
				label,
				unit,
				stand: '',
				tread: label,
				kind: '',
				instrument: '',
				step: null,
				hint: '',
				expected: '',
				because: '',
				suggested: '',
				signed: true
			};
			return (elsewhere ? null : upcoming.find(is(this.returned))) ?? typedAgain;
		}
		// one that came back and is not asked about yet keeps its place: the field goes on to what is being typed
		const own = outbox.rows.filter((row) => row.run === this.uuid && row.trial === this.trial);
		return upcoming.find((entry) => !own.some(is(entry))) ?? null;
	}

	/** The run with the lines of those trials that a change left as they were; of another version, all at the next look. */
	#whole(answer: RunView): RunView {
		this.#behind = answer.since !== null && answer.since !== this.run?.version;
		if (answer.since === null || !this.run) return answer;
		return wholeOf(answer, this.run);
	}

	#take(outcome: Outcome<RunView | null>, quiet = false): void {
		// a look that succeeds does not mean that what waits can be saved
		this.away = outcome.kind === 'away' || (quiet && this.away && this.queue.length > 0);
		if (outcome.kind === 'problem' && !quiet && !this.fault && !this.doubt) this.notice = outcome.title;
		if (outcome.kind !== 'done' || !outcome.value) return;
		clock.set(outcome.value.now);
		this.#follow(outcome.value.day);
		if (this.trial === null) this.#show(outcome.value.trial.label);
		// an answer seen from another trial: the next look fetches this one's
		if (outcome.value.trial.label !== this.trial) return;
		if (outcome.value.version === this.run?.version && !this.#behind) return;
		const whole = this.#whole(outcome.value);
		this.run = whole;
		this.#keepToItsField();
		void keepRun(whole);
	}
}
