import {
	getPlanShelf,
	getPractical,
	getPracticalOfRun,
	getPracticals,
	getRoster,
	getShelf,
	keepPractical,
	layOut,
	newUuid,
	postCourse,
	postPrepare,
	timetable,
	type LaidOutView,
	type PlanShelfView,
	type PracticalsView,
	type PreparedView,
	type ShelfView,
	type TimedView,
	type TimetableView,
	type WishBody
} from '../api/client';
import { forget, keep, kept } from '../offline/keeping';
import type { Handover } from '../plan/handover';
import {
	isAsked,
	changedOptions,
	optionFields,
	setOption,
	settle,
	valueOf,
	type OptionFieldSpec
} from '../ui/options';

const PAUSE_MS = 250;
/** A server that is away is asked again after so long. */
const AGAIN_MS = 2000;
const DRAFT = 'prepare';
/** What the setting asks for in the room's own words. */
const OF_THE_ROOM = ['barometer', 'elevation'];
export const OF_TOLERANCE = ['tolerance', 'constant_value', 'class_tolerance'];

type Values = Record<string, string | boolean>;
export type Question = {
	ask: string;
	kind: 'text' | 'number' | 'choice';
	choices: string[];
	answer: string;
	about: string;
};
export type Line = { line: string; number: number; marks: number };
export type Reveal = 'always' | 'after_own_figures' | 'when_closed';

/** What is kept on this device while nothing is laid out. */
type Draft = {
	method: string;
	/** The options of the practical that was taken, to the letter; what was typed over them stands in `values`. */
	options: Record<string, unknown>;
	values: Values;
	schools: Record<string, string>;
	setting: Values;
	instruments: Record<string, string>;
	sample: string;
	/** A window for the sample, in place of an amount. */
	low: string;
	high: string;
	spare: string;
	trials: number;
	name: string;
	reveal: Reveal;
	before: Question[];
	after: Question[];
	report: Line[];
	procedure: Record<string, unknown> | null;
	title: string;
	date: string;
	starts: string;
	length: string;
	benches: number[];
	students: Record<string, string>;
	room: Record<string, number>;
	stagger: string;
	overlap: boolean;
	learnt: boolean;
	source: { practical: number; version: number } | null;
};

/** What a class of the day after tomorrow begins with, before anything was said. */
function blank(): Draft {
	return {
		method: '',
		options: {},
		values: {},
		schools: {},
		setting: {},
		instruments: {},
		sample: '',
		low: '',
		high: '',
		spare: '20 %',
		trials: 2,
		name: '',
		reveal: 'always',
		before: [],
		after: [],
		report: [],
		procedure: null,
		title: '',
		date: '',
		starts: '18:30',
		length: '150 min',
		benches: [],
		students: {},
		room: {},
		stagger: '0 min',
		overlap: false,
		learnt: true,
		source: null
	};
}

/** What belongs to the class, whatever its benches do. */
function ofTheClass(draft: Draft): Partial<Draft> {
	const { date, starts, length, benches, students, room, stagger, overlap, trials, spare } = draft;
	return { date, starts, length, benches, students, room, stagger, overlap, trials, spare };
}

/** A class that is being prepared: its sentence as typed, what the server makes of it, and how its evening runs. */
export class Prepare {
	shelf = $state.raw<ShelfView | null>(null);
	planned = $state.raw<PlanShelfView | null>(null);
	practicals = $state.raw<PracticalsView['practicals']>([]);
	roster = $state.raw<string[]>([]);
	draft = $state<Draft>(blank());
	found = $state.raw<PreparedView | null>(null);
	table = $state.raw<TimetableView | null>(null);
	timed = $state.raw<TimedView | null>(null);
	/** Which meeting of the class is drawn. */
	session = $state(1);
	/** Why there is no timetable. */
	untimed = $state('');
	trouble = $state('');
	busy = $state(false);
	/** The part of the sentence that is open. */
	open = $state('');
	/** What stood here before a practical or an earlier class was taken: one look back. */
	before = $state.raw<Draft | null>(null);
	/** What was said of other methods on this page, so that who comes back to one finds it. */
	#aside: Record<string, Draft> = {};
	/** Kept for a lay-out that is tried again: it is one class. */
	#uuid = newUuid();
	#asked = 0;
	#dirty = false;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#running: AbortController | null = null;

	readonly method = $derived(this.shelf?.methods.find((row) => row.name === this.draft.method));
	readonly sizable = $derived(this.planned?.methods.find((row) => row.name === this.draft.method));
	readonly fields = $derived(this.method ? optionFields(this.method.options) : []);
	readonly asked = $derived(
		this.fields.filter(
			(row) =>
				!OF_THE_ROOM.includes(row.name) && !OF_TOLERANCE.includes(row.name) && isAsked(row, this.draft.values)
		)
	);
	/** What the practical says in a table, as no single field can. */
	readonly tables = $derived(this.asked.filter((row) => !(row.name in this.draft.values)));
	readonly firstFields = $derived(
		this.asked.filter((row) => row.first && row.name in this.draft.values).sort((a, b) => a.order - b.order)
	);
	readonly moreFields = $derived(this.asked.filter((row) => !row.first && row.name in this.draft.values));
	readonly toleranceFields = $derived(this.fields.filter((row) => OF_TOLERANCE.includes(row.name)));
	readonly settingFields = $derived(this.#settingFields());
	readonly kinds = $derived(this.#kinds());
	readonly wrong = $derived(this.found?.faults ?? []);

	/** Fetch what there is to choose from, and take up what was prepared last on this device. */
	async begin(): Promise<void> {
		const [shelf, planned, practicals, roster] = await Promise.all([
			getShelf(),
			getPlanShelf(),
			getPracticals(),
			getRoster()
		]);
		if (shelf.kind !== 'done' || planned.kind !== 'done') {
			const missing = shelf.kind !== 'done' ? shelf : planned;
			this.trouble = missing.kind !== 'done' ? missing.title : '';
			if (missing.kind === 'away') this.#timer = setTimeout(() => void this.begin(), AGAIN_MS);
			return;
		}
		this.trouble = '';
		this.shelf = shelf.value;
		this.planned = planned.value;
		if (practicals.kind === 'done') this.practicals = practicals.value.practicals;
		if (roster.kind === 'done') this.roster = roster.value.students.map((row) => row.name);
		const draft = kept<Partial<Draft>>(DRAFT);
		const known = shelf.value.methods.map((row) => row.name);
		if (draft?.method && known.includes(draft.method)) this.draft = { ...blank(), ...draft };
		else this.choose(shelf.value.methods.find((row) => row.usual_first)?.name ?? known[0] ?? '');
		const there = shelf.value.benches.map((row) => row.id);
		this.draft.benches = this.draft.benches.filter((id) => there.includes(id));
		if (!this.draft.benches.length) this.draft.benches = there;
		if (!this.draft.date) this.draft.date = shelf.value.day;
		if (!Object.keys(this.draft.room).length) this.draft.room = this.#roomOf(shelf.value);
		this.ask();
	}

	/** Nobody looks any more: nothing is asked, and what is being reckoned ends. */
	end(): void {
		clearTimeout(this.#timer);
		this.#running?.abort();
	}

	/** Take another method: as it was left here, else its options, schools and setting with their usual answers. */
	choose(method: string): void {
		if (method === this.draft.method) return;
		const all = ofTheClass(this.draft);
		this.#aside[this.draft.method] = $state.snapshot(this.draft) as Draft;
		const left = this.#aside[method];
		if (left) this.draft = { ...left, ...all };
		else this.#begin(method);
		this.session = 1;
		this.ask();
	}

	/** What was taken is put back for what stood here before. */
	lookBack(): void {
		if (!this.before) return;
		this.draft = this.before;
		this.before = null;
		this.session = 1;
		this.ask();
	}

	/** A method from its beginning, in the class that is being prepared. */
	#begin(method: string): void {
		const all = ofTheClass(this.draft);
		this.draft = { ...blank(), ...all, method };
		this.draft.values = Object.fromEntries(this.fields.map((row) => [row.name, row.initial]));
		const schools = this.method?.procedures[0]?.schools ?? [];
		this.draft.schools = Object.fromEntries(schools.map((row) => [row.name, row.default]));
		this.draft.setting = this.#usualSetting();
	}

	/** Take up what another page planned, such as a reagent table. */
	takePlan(plan: Handover): void {
		this.#anew(plan.method);
		Object.assign(this.draft.values, plan.values);
		Object.assign(this.draft.schools, plan.schools);
		this.ask();
	}

	/** Take up a practical that is kept: the whole class follows it from here. */
	async take(number: number, version?: number): Promise<void> {
		const outcome = await getPractical(number, version);
		if (outcome.kind !== 'done') {
			this.trouble = outcome.title;
			return;
		}
		this.#read(outcome.value.document, { practical: number, version: outcome.value.number });
	}

	/** Take up what an earlier class was laid out by; its day is to be chosen anew. */
	copy(from: LaidOutView): void {
		const plan = from.plan as unknown as WishBody;
		const source =
			from.practical !== null && from.version !== null
				? { practical: from.practical, version: from.version }
				: null;
		this.#read(plan.practical, source);
		const there = this.shelf?.benches.map((row) => row.id) ?? [];
		const { starts, length, room, stagger, overlap, learnt, sample, spare } = plan;
		const all = { starts, length, room, stagger, overlap, learnt, sample, spare };
		Object.assign(this.draft, { ...all, title: from.title });
		this.draft.setting = { ...this.draft.setting, ...plan.setting };
		this.draft.benches = (plan.benches ?? []).filter((id) => there.includes(id));
		this.draft.students = Object.fromEntries(
			from.places.map((place) => [String(place.bench_id), place.students.join(', ')])
		);
		this.ask();
	}

	/** The procedure whole, so that its steps can be changed; what keeps it from being one, or nothing. */
	async unfold(): Promise<string> {
		if (this.draft.procedure) return '';
		const outcome = await postCourse(this.practical);
		if (outcome.kind === 'done') {
			this.draft.procedure = outcome.value.document['procedure'] as Record<string, unknown>;
			return '';
		}
		return (outcome.kind === 'problem' && outcome.faults[0]?.message) || outcome.title;
	}

	/** Take up the practical that a run followed. */
	async takeRun(uuid: string): Promise<void> {
		const outcome = await getPracticalOfRun(uuid);
		if (outcome.kind === 'done') this.#read(outcome.value.document, null);
		else this.trouble = (outcome.kind === 'problem' && outcome.faults[0]?.message) || outcome.title;
	}

	/** Keep the practical as the next version of the one it came from, or as a new one. */
	async keepPractical(name: string, note: string, asNew: boolean): Promise<string> {
		this.draft.name = name;
		const source = asNew ? null : this.draft.source;
		const outcome = await keepPractical({
			document: { ...this.practical, name },
			practical: source?.practical ?? null,
			base: source?.version ?? 0,
			note,
			by: ''
		});
		if (outcome.kind !== 'done')
			return outcome.kind === 'problem' ? (outcome.faults[0]?.message ?? outcome.title) : outcome.title;
		this.draft.source = { practical: outcome.value.id, version: outcome.value.number };
		await this.lookAtPracticals();
		this.ask();
		return '';
	}

	async lookAtPracticals(): Promise<void> {
		const outcome = await getPracticals();
		if (outcome.kind === 'done') this.practicals = outcome.value.practicals;
	}

	/** The message for a field, empty while it is well. */
	fault(path: string): string {
		return this.wrong.find((row) => row.path === path || row.path.startsWith(`${path}[`))?.message ?? '';
	}

	/** Whether something is wrong at a part of the sentence. */
	wrongAt(key: string): boolean {
		return this.wrong.some((row) => row.part === key);
	}

	/** An answer on which practitioners differ; what hangs on it comes with it. */
	settle(school: string, answer: string): void {
		settle(this.fields, this.draft.values, this.draft.schools, school, answer);
		this.ask();
	}

	/** An option as typed or chosen, and the answers that go with it. */
	set(name: string, value: string | boolean): void {
		setOption(this.fields, this.draft.values, this.draft.schools, name, value);
		this.ask();
	}

	/** Prepare what is typed, once the typing pauses; an answer that comes late is dropped. */
	ask(): void {
		keep(DRAFT, this.draft);
		this.#dirty = true;
		clearTimeout(this.#timer);
		this.#running?.abort();
		this.#timer = setTimeout(() => void this.#send(), PAUSE_MS);
	}

	/** Another meeting of the class. */
	meet(session: number): void {
		this.session = session;
		void this.#time();
	}

	/** What was typed last, answered: nobody decides by an answer to something older. */
	async current(): Promise<void> {
		if (!this.#dirty) return;
		clearTimeout(this.#timer);
		await this.#look();
	}

	/** Lay out the benches: the class, or what keeps it from being laid out. */
	async layOut(): Promise<LaidOutView | null> {
		this.busy = true;
		const students = Object.fromEntries(
			this.draft.benches.map((id) => [String(id), namesIn(this.draft.students[String(id)] ?? '')])
		);
		const source = this.draft.source;
		const outcome = await layOut({
			uuid: this.#uuid,
			wish: this.wish,
			students,
			practical: source?.practical ?? null,
			version: source?.version ?? null
		});
		this.busy = false;
		if (outcome.kind === 'done') {
			forget(DRAFT);
			return outcome.value;
		}
		this.trouble = outcome.title;
		if (outcome.kind === 'problem' && this.found) {
			const known = this.found.faults;
			const more = outcome.faults.filter((row) => !known.some((one) => one.path === row.path));
			const part = (path: string) => (path.startsWith('students') ? 'benches' : 'date');
			this.found = {
				...this.found,
				faults: [...known, ...more.map((row) => ({ ...row, part: part(row.path) }))]
			};
			this.trouble = '';
		}
		return null;
	}

	/** The practical as its file says it. */
	get practical(): Record<string, unknown> {
		const { draft } = this;
		const full = <T extends object>(row: T) =>
			Object.fromEntries(
				Object.entries(row).filter(([, value]) => value !== '' && !(Array.isArray(value) && !value.length))
			);
		return {
			name: draft.name,
			method: draft.method,
			options: changedOptions(this.fields, draft.options, draft.values),
			trials: draft.trials || 1,
			schools: { ...draft.schools },
			planned: this.#window(),
			instruments: { ...draft.instruments },
			reveal: draft.reveal,
			before: draft.before.map(full),
			after: draft.after.map(full),
			report: draft.report.map((row) => ({ ...row })),
			...(draft.procedure ? { procedure: draft.procedure } : {})
		};
	}

	/** The class as it is wished. */
	get wish(): WishBody {
		const { draft } = this;
		return {
			practical: this.practical,
			setting: Object.fromEntries(
				Object.entries(draft.setting).map(([name, value]) => [name, String(value)])
			),
			sample: draft.sample,
			spare: draft.spare,
			title: draft.title,
			date: draft.date,
			starts: draft.starts,
			length: draft.length,
			benches: [...draft.benches],
			room: { ...draft.room },
			stagger: draft.stagger,
			overlap: draft.overlap,
			learnt: draft.learnt
		};
	}

	async #send(): Promise<void> {
		if (await this.#look()) await this.#time();
	}

	/** Whether the latest was answered. */
	async #look(): Promise<boolean> {
		const asked = ++this.#asked;
		const outcome = await postPrepare(this.wish);
		if (asked !== this.#asked) return false;
		this.trouble = outcome.kind === 'done' ? '' : outcome.title;
		// what was typed is asked about again as soon as somebody answers
		if (outcome.kind === 'away') this.#timer = setTimeout(() => void this.#send(), AGAIN_MS);
		if (outcome.kind !== 'done') return false;
		this.#dirty = false;
		this.found = outcome.value;
		return true;
	}

	async #time(): Promise<void> {
		this.#running?.abort();
		const running = (this.#running = new AbortController());
		this.untimed = '';
		const outcome = await timetable(this.wish, this.session, running.signal, (line) => {
			if (running.signal.aborted) return;
			this.timed = line;
			if (line.table) this.table = line.table;
		});
		if (running.signal.aborted || outcome.kind === 'done') return;
		this.timed = null;
		this.table = null;
		if (outcome.kind === 'problem' && outcome.code === 'refused' && this.session > 1) this.meet(1);
		else
			this.untimed =
				outcome.kind === 'problem' ? (outcome.faults[0]?.message ?? outcome.title) : outcome.title;
	}

	#read(document: Record<string, unknown>, source: Draft['source']): void {
		const read = document as unknown as Partial<Draft> & {
			options?: Record<string, unknown>;
			method: string;
		};
		this.#anew(read.method);
		const options = read.options ?? {};
		const shown = this.fields.map((field) => [field.name, valueOf(field, options)] as const);
		// a table is no text of one field: it stays as it is until it is said anew
		this.draft.values = Object.fromEntries(
			shown.filter((row): row is [string, string | boolean] => row[1] !== null)
		);
		this.draft.options = options;
		Object.assign(this.draft.schools, read.schools ?? {});
		const question = (row: Partial<Question>): Question => ({
			ask: '',
			kind: 'text',
			choices: [],
			answer: '',
			about: '',
			...row
		});
		const windows = (document['planned'] ?? {}) as Record<string, Record<string, string>>;
		const window = windows[this.method?.planned ?? ''] ?? {};
		const line = (row: Partial<Line>): Line => ({ line: '', number: 0, marks: 1, ...row });
		Object.assign(this.draft, {
			name: read.name ?? '',
			trials: read.trials ?? 1,
			sample: window['about'] ?? '',
			low: window['low'] ?? '',
			high: window['high'] ?? '',
			instruments: { ...read.instruments },
			reveal: read.reveal ?? 'always',
			before: (read.before ?? []).map(question),
			after: (read.after ?? []).map(question),
			report: (read.report ?? []).map(line),
			procedure: read.procedure ?? null,
			source
		});
		this.ask();
	}

	/** A method from its beginning, what stands here kept for a look back. */
	#anew(method: string): void {
		this.before = $state.snapshot(this.draft) as Draft;
		this.#begin(method);
		this.session = 1;
	}

	/** Where the sample should lie, as the practical says it: a window, or about so much. */
	#window(): Record<string, Record<string, string>> {
		const { low, high, sample } = this.draft;
		const name = this.method?.planned;
		if (!name) return {};
		const ends = { ...(low.trim() ? { low } : {}), ...(high.trim() ? { high } : {}) };
		if (Object.keys(ends).length) return { [name]: ends };
		// what is no amount is said at its field, by the sizing
		return sample.trim() && !this.fault('sample') && this.sizable?.unit === 'g'
			? { [name]: { about: /[a-z]/i.test(sample) ? sample : `${sample} g` } }
			: {};
	}

	#usualSetting(): Values {
		const room = this.planned?.room ?? {};
		const usual: Record<string, string> = { ...this.sizable?.usual, ...room };
		return Object.fromEntries(this.#settingRows().map((row) => [row.name, usual[row.name] ?? row.initial]));
	}

	#settingRows(): OptionFieldSpec[] {
		const rows = this.planned ? optionFields(this.planned.setting) : [];
		return this.sizable
			? rows.filter((row) => ['wanted', ...(this.sizable?.asks ?? [])].includes(row.name))
			: [];
	}

	#settingFields(): OptionFieldSpec[] {
		return this.#settingRows().filter((row) => isAsked(row, this.draft.values));
	}

	#kinds(): { kind: string; rows: ShelfView['instruments']; usual: number | undefined }[] {
		const rows = this.shelf?.instruments ?? [];
		const reads = this.method?.reads ?? [];
		return reads
			.map((kind) => ({
				kind,
				rows: rows.filter((row) => row.kind === kind),
				usual: this.shelf?.defaults[kind]
			}))
			.filter((group) => group.rows.length > 1);
	}

	#roomOf(shelf: ShelfView): Record<string, number> {
		return { balance: Math.max(1, shelf.balances.length) };
	}
}

/** Names of students as typed on one line. */
export const namesIn = (text: string): string[] =>
	text
		.split(/[,;\n]/)
		.map((name) => name.trim())
		.filter(Boolean);
