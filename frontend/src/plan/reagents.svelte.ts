import {
	getPlanShelf,
	getSubstances,
	postReagents,
	type Fault,
	type ReagentPlanView,
	type SubstanceView
} from '../api/client';
import { keep, kept } from '../offline/keeping';
import type { Handover } from './handover';

const PAUSE_MS = 200;
const DRAFT = 'reagents';
const MOST = 12;

export const ROLES = ['reactant', 'catalyst', 'solvent'] as const;
/** What is typed of one substance; empty where nothing is said. */
export type Column = {
	formula: string;
	role: string;
	purity: string;
	density: string;
	concentration: string;
	planned: string;
};
/** What the server made of the table. */
export type Counted = ReagentPlanView;

export const TYPED: { key: keyof Column; title: string; hint: string }[] = [
	{ key: 'purity', title: 'Purity', hint: '98 %' },
	{ key: 'density', title: 'Density', hint: '1.08 g/mL' },
	{ key: 'concentration', title: 'Concentration', hint: '2 mol/L' },
	{ key: 'planned', title: 'Planned', hint: '2.0 g' }
];
export const COUNTED = [
	['actual', 'Take'],
	['molar_mass', 'g/mol'],
	['amount', 'Amount'],
	['equivalents', 'Equivalents'],
	['supply', 'Of the need, times']
] as const;

type Draft = { equation: string; product: string; columns: Column[] };

const fresh = (formula: string, role = 'reactant'): Column => ({
	formula,
	role,
	purity: '',
	density: '',
	concentration: '',
	planned: ''
});

/** A reagent table before the run: what is typed, and what the server made of the last that hung together. */
export class Reagents {
	equation = $state('');
	product = $state('');
	columns = $state<Column[]>([]);
	found = $state<ReagentPlanView | null>(null);
	faults = $state<Fault[]>([]);
	trouble = $state('');
	#register = $state<SubstanceView[]>([]);
	/** The equation whose reactants the columns stand for. */
	#laid = '';
	/** The method that plans by a reagent table. */
	#method = '';
	#asked = 0;
	#timer: ReturnType<typeof setTimeout> | undefined;

	readonly full = $derived(this.columns.length >= MOST);
	/** The columns that are sent: those without a substance are not. */
	readonly sent = $derived(this.columns.filter((row) => row.formula.trim()));

	/** Take up what was typed last on this device, and fetch what the register knows. */
	async begin(): Promise<void> {
		const draft = kept<Draft>(DRAFT);
		if (draft) Object.assign(this, draft);
		this.#laid = this.equation;
		const [register, shelf] = await Promise.all([getSubstances(), getPlanShelf()]);
		if (register.kind === 'done') this.#register = register.value.substances;
		if (shelf.kind === 'done') this.#method = shelf.value.methods.find((row) => row.tabled)?.name ?? '';
		if (this.equation) this.ask();
	}

	/** The register's entry of a substance, as far as it is there. */
	known(formula: string): SubstanceView | undefined {
		return this.#register.find((row) => row.formula === formula);
	}

	add(role: string): void {
		if (!this.full) this.columns = [...this.columns, fresh('', role)];
	}

	leaveOut(index: number): void {
		this.columns = this.columns.filter((_, place) => place !== index);
		this.ask();
	}

	/** The message for a field, empty while it is well. */
	fault(path: string): string {
		return this.faults.find((row) => row.path === path)?.message ?? '';
	}

	/** What was counted for a column, by its place among those sent. */
	answer(column: Column): Counted['table']['columns'][number] | undefined {
		return this.found?.table.columns[this.sent.indexOf(column)];
	}

	/** The message for a column's field; one about the column as a whole stands at its substance. */
	faultOf(column: Column, key: string): string {
		const place = `options.reagents[${this.sent.indexOf(column)}]`;
		const paths = key === 'formula' ? [place, `${place}.formula`] : [`${place}.${key}`];
		return paths.map((path) => this.fault(path)).find(Boolean) ?? '';
	}

	/** What is wrong and has no field here. */
	get general(): string {
		const has = (path: string) => /^options\.(equation|product|reagents\[\d+\](\.\w+)?)$/.test(path);
		return this.faults
			.filter((row) => !has(row.path))
			.map((row) => row.message)
			.join(' ');
	}

	/** Work out what is typed, once the typing pauses; an answer that comes late is dropped. */
	ask(): void {
		const { equation, product, columns } = this;
		keep(DRAFT, { equation, product, columns } satisfies Draft);
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.#send(), PAUSE_MS);
	}

	/** What a new run starts with. */
	get handover(): Handover | null {
		if (!this.found) return null;
		const { method, values } = this.found;
		return {
			method,
			values: { ...values, product: this.product },
			schools: {},
			instruments: {},
			about: '',
			low: '',
			high: ''
		};
	}

	async #send(): Promise<void> {
		const asked = ++this.#asked;
		/* what is asked about now: another may be typed before the answer is there */
		const equation = this.equation;
		if (!equation.trim() || !this.#method) {
			this.found = null;
			this.faults = [];
			return;
		}
		const outcome = await postReagents(this.#method, this.#options(this.columns));
		if (asked !== this.#asked) return;
		this.trouble = outcome.kind === 'away' ? outcome.title : '';
		this.faults = outcome.kind === 'problem' ? outcome.faults : [];
		if (outcome.kind === 'problem' && !outcome.faults.length) this.trouble = outcome.title;
		if (outcome.kind === 'done') {
			this.found = outcome.value;
			if (!this.columns.length) this.#lay(outcome.value);
			this.#laid = equation;
		} else if (this.#strange()) await this.#relay();
	}

	/** Whether reactants are refused as none of the equation's: another equation was typed. */
	#strange(): boolean {
		return (
			this.equation !== this.#laid &&
			this.faults.some((row) => ['no-such-reagent', 'two-for-one'].includes(row.code))
		);
	}

	/** Lay the columns of the equation as it is now; one whose substance is still there keeps what was typed. */
	async #relay(): Promise<void> {
		const asked = this.#asked;
		const equation = this.equation;
		const outcome = await postReagents(this.#method, this.#options([]));
		if (asked !== this.#asked || outcome.kind !== 'done') return;
		this.#laid = equation;
		const named = outcome.value.table.columns.map((row) => row.formula);
		const untouched = this.columns.every(
			(row) => row.role !== 'reactant' || named.includes(row.formula) || this.#isBare(row)
		);
		if (untouched) {
			this.#lay(outcome.value);
			await this.#send();
		}
	}

	#lay(found: ReagentPlanView): void {
		const reactants = found.table.columns.map(
			(row) => this.columns.find((old) => old.formula === row.formula) ?? fresh(row.formula)
		);
		const beside = this.columns.filter((row) => row.role !== 'reactant');
		this.columns = [...reactants, ...beside.filter((row) => !reactants.includes(row))];
	}

	#isBare(row: Column): boolean {
		return !row.purity && !row.density && !row.concentration && !row.planned;
	}

	#options(columns: Column[]): Record<string, unknown> {
		const rows = columns
			.filter((row) => row.formula.trim())
			.map((row) => Object.fromEntries(Object.entries(row).filter(([, text]) => text.trim())));
		return {
			equation: this.equation,
			...(this.product.trim() ? { product: this.product } : {}),
			...(rows.length ? { reagents: rows } : {})
		};
	}
}
