import {
	getCalibrations,
	newUuid,
	startRun,
	type CalibrationView,
	type Fault,
	type ShelfView
} from '../api/client';
import type { Handover } from '../plan/handover';
import { forget, keep, kept } from '../offline/keeping';
import { isAsked, optionFields, optionsOf, setOption, settle } from '../ui/options';

const DRAFT = 'start';
type Draft = {
	title: string;
	methodName: string;
	about: string;
	low: string;
	high: string;
	values: Record<string, string | boolean>;
	schools: Record<string, string>;
};

/** The form for a new run; its fields come from the method's own options and procedure. */
export class StartForm {
	title = $state('');
	benchId = $state(0);
	balanceId = $state(0);
	methodName = $state('');
	about = $state('');
	low = $state('');
	high = $state('');
	values = $state<Record<string, string | boolean>>({});
	schools = $state<Record<string, string>>({});
	/** Instruments chosen, id by kind; the day's are taken for the others. */
	instruments = $state<Record<string, number>>({});
	/** Runs on known samples that could tell this one something, and the one taken. */
	calibrations = $state<CalibrationView[]>([]);
	calibration = $state('');
	faults = $state<Fault[]>([]);
	notice = $state('');
	busy = $state(false);
	#shelf = $state<ShelfView | null>(null);
	#uuid = newUuid();

	readonly method = $derived(this.#shelf?.methods.find((row) => row.name === this.methodName));
	readonly procedure = $derived(this.method?.procedures[0]);
	readonly fields = $derived(this.method ? optionFields(this.method.options) : []);
	readonly firstFields = $derived(
		this.fields
			.filter((field) => field.first && isAsked(field, this.values))
			.sort((a, b) => a.order - b.order)
	);
	/** The kinds of instruments, beside the balance, of which there is more than one to choose from. */
	readonly kinds = $derived(this.#kinds());
	readonly moreFields = $derived(this.fields.filter((field) => !field.first && isAsked(field, this.values)));

	/** Take what the laboratory offers, once. */
	offer(shelf: ShelfView): void {
		if (this.#shelf) return;
		this.#shelf = shelf;
		this.benchId = shelf.benches[0]?.id ?? 0;
		this.balanceId = shelf.defaults.balance ?? shelf.balances[0]?.id ?? 0;
		const first = shelf.methods.find((row) => row.usual_first) ?? shelf.methods[0];
		this.choose(first?.name ?? '');
		this.#takeUp(kept<Draft>(DRAFT));
	}

	/** What is typed so far, to be found again after a look elsewhere. */
	get draft(): Draft {
		const { title, methodName, about, low, high, values, schools } = this;
		return { title, methodName, about, low, high, values: { ...values }, schools: { ...schools } };
	}

	#takeUp(draft: Draft | null): void {
		if (!draft || !this.#shelf?.methods.some((row) => row.name === draft.methodName)) return;
		this.choose(draft.methodName);
		Object.assign(this, { title: draft.title, about: draft.about, low: draft.low, high: draft.high });
		for (const [name, value] of Object.entries(draft.values))
			if (name in this.values) this.values[name] = value;
		for (const [name, answer] of Object.entries(draft.schools))
			if (this.procedure?.schools.some((row) => row.name === name && answer in row.choices))
				this.schools[name] = answer;
	}

	/** Take another method: its options and schools come with their usual answers, what was typed for both stays. */
	choose(method: string): void {
		const typed = this.fields.filter(
			(field) => field.kind === 'text' && this.values[field.name] !== field.initial
		);
		const kept = Object.fromEntries(typed.map((field) => [field.name, this.values[field.name]]));
		this.methodName = method;
		this.faults = [];
		this.notice = '';
		this.values = Object.fromEntries(
			this.fields.map((field) => [
				field.name,
				(field.kind === 'text' ? kept[field.name] : undefined) ?? field.initial
			])
		);
		if ('elevation' in this.values) this.values.elevation = this.#shelf?.elevation ?? '';
		this.schools = Object.fromEntries((this.procedure?.schools ?? []).map((row) => [row.name, row.default]));
		this.instruments = {};
		this.calibrations = [];
		this.calibration = '';
		void this.#lookForCalibrations(method);
	}

	/** Take what a plan settled. */
	take(plan: Handover): void {
		this.choose(plan.method);
		Object.assign(this.values, plan.values);
		if (!this.values.elevation && this.#shelf?.elevation) this.values.elevation = this.#shelf.elevation;
		Object.assign(this.schools, plan.schools);
		const { balance, ...others } = plan.instruments;
		if (balance !== undefined) this.balanceId = balance;
		this.instruments = others;
		this.low = plan.low;
		this.high = plan.high;
		this.about = plan.about;
	}

	/** Read with another instrument; a gas tube brings its last mark and the way it counts. */
	useInstrument(kind: string, id: number): void {
		this.instruments[kind] = id;
		const row = this.#shelf?.instruments.find((one) => one.id === id);
		if (!row) return;
		const told = { [`${kind}.capacity`]: row.capacity, [`${kind}.direction`]: row.direction };
		for (const field of this.fields) {
			const value = told[field.toldBy];
			if (value === undefined || (value === '' && field.kind === 'choice')) continue;
			this.set(field.name, value);
		}
	}

	/** Take what a run on a known sample tells. */
	calibrate(uuid: string): void {
		this.calibration = uuid;
		Object.assign(this.values, this.calibrations.find((row) => row.uuid === uuid)?.options ?? {});
	}

	/** An answer on which practitioners differ; what hangs on it comes with it. */
	settle(school: string, answer: string): void {
		settle(this.fields, this.values, this.schools, school, answer);
	}

	/** An option as typed or chosen. What was said of it before is settled with that. */
	set(name: string, value: string | boolean): void {
		setOption(this.fields, this.values, this.schools, name, value);
		this.faults = this.faults.filter((row) => row.path !== `options.${name}`);
	}

	/** What could stand in a faulty field instead. */
	proposal(name: string): string {
		return this.faults.find((row) => row.path === `options.${name}`)?.suggestion ?? '';
	}

	/** The message for a field, empty while it is well. */
	fault(path: string): string {
		// a fault inside a list belongs to the list's field
		return this.faults.find((row) => row.path === path || row.path.startsWith(`${path}[`))?.message ?? '';
	}

	/** Whether a field under “More” has a fault. */
	get faultUnderMore(): boolean {
		const planned = (['low', 'high'] as const).map((end) => `planned.${this.method?.planned}.${end}`);
		const options = this.moreFields.map((field) => `options.${field.name}`);
		return [...planned, ...options].some((path) => this.fault(path) !== '');
	}

	/** Keep what is typed on this device; before the laboratory is known, what was kept has not been taken up yet. */
	remember(): void {
		if (this.#shelf) keep(DRAFT, this.draft);
	}

	/** Start the run; its UUID, or null with the faults at their fields. Nothing typed is lost. */
	async send(): Promise<string | null> {
		this.busy = true;
		this.faults = [];
		this.notice = '';
		const outcome = await startRun({
			uuid: this.#uuid,
			title: this.title,
			method: this.methodName,
			options: optionsOf(this.fields, this.values),
			bench_id: this.benchId,
			balance_id: this.balanceId,
			procedure: this.procedure?.name ?? null,
			schools: this.schools,
			planned: this.#planned(),
			instruments: this.instruments,
			note: this.#note()
		});
		this.busy = false;
		if (outcome.kind === 'done') {
			this.#uuid = newUuid();
			this.title = this.about = this.low = this.high = '';
			this.values = {};
			this.choose(this.methodName);
			forget(DRAFT);
			return outcome.value.uuid;
		}
		if (outcome.kind === 'problem') this.faults = outcome.faults;
		// a fault without a field stands here, one with a field at the field
		const general = this.faults.filter((row) => row.path === '').map((row) => row.message);
		if (this.faults.length > general.length)
			general.push('Not started yet: see the fields above. What you typed is still there.');
		this.notice = general.join(' ') || outcome.title;
		return null;
	}

	#kinds(): { kind: string; rows: ShelfView['instruments']; usual: number | undefined }[] {
		const reads = (this.method?.reads ?? []).filter((kind) => kind !== 'balance');
		return reads
			.map((kind) => ({
				kind,
				rows: this.#shelf?.instruments.filter((row) => row.kind === kind) ?? [],
				usual: this.#shelf?.defaults[kind]
			}))
			.filter((group) => group.rows.length > 1);
	}

	async #lookForCalibrations(method: string): Promise<void> {
		const outcome = await getCalibrations(method);
		if (outcome.kind === 'done' && method === this.methodName) this.calibrations = outcome.value.runs;
	}

	/** Where the figures come from that another run told. */
	#note(): string {
		const row = this.calibrations.find((one) => one.uuid === this.calibration);
		return row ? `From the run “${row.title}” (${row.bench}, ${row.date}): ${row.texts.join(' ')}` : '';
	}

	#planned(): Record<string, Record<string, string>> {
		const given = Object.entries({ about: this.about, low: this.low, high: this.high });
		const typed = given.filter(([, text]) => text.trim() !== '');
		return typed.length && this.method ? { [this.method.planned]: Object.fromEntries(typed) } : {};
	}
}
