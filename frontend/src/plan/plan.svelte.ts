import { getPlanShelf, postPlan, type Fault, type PlanShelfView, type PlanView } from '../api/client';
import { keep, kept } from '../offline/keeping';
import { isAsked, optionFields, optionsOf, setOption, settle, type OptionFieldSpec } from '../ui/options';
import type { Handover } from './handover';

const PAUSE_MS = 250;
const DRAFT = 'plan';
/** Faults of a form that is not yet filled in. */
const OPEN = ['plan-open', 'missing-field'];
/** What the setting asks for in the room's own words. */
const OF_THE_ROOM = ['barometer', 'elevation'];

type Values = Record<string, string | boolean>;
type Draft = { method: string; values: Values; schools: Record<string, string>; setting: Values };

/** A sample's window: what is typed, and what the server made of the last that could be planned. */
export class Plan {
	shelf = $state<PlanShelfView | null>(null);
	methodName = $state('');
	values = $state<Values>({});
	schools = $state<Record<string, string>>({});
	setting = $state<Values>({});
	instruments = $state<Record<string, number>>({});
	sample = $state('');
	benches = $state(8);
	trials = $state(1);
	spare = $state('20 %');
	found = $state<PlanView | null>(null);
	faults = $state<Fault[]>([]);
	trouble = $state('');
	#asked = 0;
	#timer: ReturnType<typeof setTimeout> | undefined;

	readonly method = $derived(this.shelf?.methods.find((row) => row.name === this.methodName));
	readonly procedure = $derived(this.method?.procedures[0]);
	readonly fields = $derived(this.method ? optionFields(this.method.options) : []);
	readonly asked = $derived(this.fields.filter((row) => !OF_THE_ROOM.includes(row.name)));
	readonly firstFields = $derived(
		this.asked.filter((row) => row.first && isAsked(row, this.values)).sort((a, b) => a.order - b.order)
	);
	readonly moreFields = $derived(this.asked.filter((row) => !row.first && isAsked(row, this.values)));
	/** What must be told before anything can be planned: no mistake, and so not shown as one. */
	readonly open = $derived(this.faults.filter((row) => OPEN.includes(row.code)));
	readonly settingFields = $derived(this.#settingFields());
	/** The kinds of instruments of which there is more than one to choose from. */
	readonly kinds = $derived(this.#kinds());

	/** Fetch what there is to choose from, and take up what was planned last on this device. */
	async begin(): Promise<void> {
		const outcome = await getPlanShelf();
		if (outcome.kind !== 'done') {
			this.trouble = outcome.title;
			return;
		}
		this.shelf = outcome.value;
		const draft = kept<Draft>(DRAFT);
		const names = outcome.value.methods.map((row) => row.name);
		const first = outcome.value.methods.find((row) => row.usual_first)?.name ?? names[0] ?? '';
		this.choose(draft && names.includes(draft.method) ? draft.method : first);
		if (draft && draft.method === this.methodName) {
			Object.assign(this.values, this.#known(draft.values, this.fields));
			Object.assign(this.setting, this.#known(draft.setting, this.settingFields));
			const schools = this.procedure?.schools ?? [];
			for (const row of schools) {
				const answer = draft.schools[row.name];
				if (answer !== undefined && answer in row.choices) this.schools[row.name] = answer;
			}
			this.ask();
		}
	}

	/** Take another method: its options, schools and setting come with their usual answers. */
	choose(method: string): void {
		this.methodName = method;
		this.faults = [];
		this.found = null;
		this.sample = '';
		const room = this.shelf?.room ?? {};
		const usual: Record<string, string> = { ...this.method?.usual, ...room };
		this.values = Object.fromEntries(this.fields.map((row) => [row.name, row.initial]));
		this.schools = Object.fromEntries((this.procedure?.schools ?? []).map((row) => [row.name, row.default]));
		const asks = optionFields(this.shelf?.setting ?? {}).filter((row) => this.#asks.includes(row.name));
		this.setting = Object.fromEntries(asks.map((row) => [row.name, usual[row.name] ?? row.initial]));
		this.ask();
	}

	/** The message for a field, empty while it is well. */
	fault(path: string): string {
		const wrong = this.faults.filter((row) => !this.open.includes(row));
		return wrong.find((row) => row.path === path || row.path.startsWith(`${path}[`))?.message ?? '';
	}

	/** What is wrong and belongs to no field. */
	get general(): string {
		return this.faults
			.filter((row) => row.path === '')
			.map((row) => row.message)
			.join(' ');
	}

	/** Plan what is typed, once the typing pauses; an answer that comes late is dropped. */
	ask(): void {
		const { methodName: method, values, schools, setting } = this;
		keep(DRAFT, { method, values, schools, setting } satisfies Draft);
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.#send(), PAUSE_MS);
	}

	/** What a new run starts with. */
	get handover(): Handover {
		const sizing = this.found?.sizing;
		const window = [sizing?.low?.text, sizing?.high?.text].map((text) => text ?? '');
		const [low = '', high = ''] = sizing?.unit === 'g' ? window : [];
		const { methodName: method, values, schools, instruments } = this;
		return { method, values, schools, instruments, about: '', low, high };
	}

	async #send(): Promise<void> {
		const asked = ++this.#asked;
		const outcome = await postPlan({
			method: this.methodName,
			options: optionsOf(this.fields, this.values),
			schools: this.schools,
			setting: Object.fromEntries(Object.entries(this.setting).map(([name, value]) => [name, String(value)])),
			sample: this.sample,
			instruments: this.instruments,
			benches: this.benches || 1,
			trials: this.trials || 1,
			spare: this.spare
		});
		if (asked !== this.#asked) return;
		this.trouble = outcome.kind === 'away' ? outcome.title : '';
		this.faults = outcome.kind === 'problem' ? outcome.faults : [];
		if (outcome.kind === 'problem' && !outcome.faults.length) this.trouble = outcome.title;
		if (outcome.kind === 'done') this.found = outcome.value;
	}

	/** An answer on which practitioners differ; what hangs on it comes with it. */
	settle(school: string, answer: string): void {
		settle(this.fields, this.values, this.schools, school, answer);
	}

	/** An option as typed or chosen, and the answers that go with it. */
	set(name: string, value: string | boolean): void {
		setOption(this.fields, this.values, this.schools, name, value);
	}

	get #asks(): string[] {
		return ['wanted', ...(this.method?.asks ?? [])];
	}

	#settingFields(): OptionFieldSpec[] {
		const rows = this.shelf ? optionFields(this.shelf.setting) : [];
		return rows.filter((row) => this.#asks.includes(row.name) && isAsked(row, this.values));
	}

	#kinds(): { kind: string; rows: PlanShelfView['instruments']; usual: number | undefined }[] {
		const rows = this.shelf?.instruments ?? [];
		const kinds = rows.map((row) => row.kind);
		return kinds
			.filter((kind, index) => kinds.indexOf(kind) === index)
			.map((kind) => ({
				kind,
				rows: rows.filter((row) => row.kind === kind),
				usual: this.shelf?.defaults[kind]
			}))
			.filter((group) => group.rows.length > 1);
	}

	#known(given: Values, fields: OptionFieldSpec[]): Values {
		const names = fields.map((row) => row.name);
		return Object.fromEntries(Object.entries(given).filter(([name]) => names.includes(name)));
	}
}
