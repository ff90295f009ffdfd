import { newUuid, startRun, type Fault, type MethodView, type ShelfView } from '../api/client';

/** One option of a method, as its JSON Schema describes it. */
export type OptionFieldSpec = {
	name: string;
	title: string;
	help: string;
	kind: 'text' | 'list' | 'choice' | 'number' | 'yes-no';
	choices: string[];
	initial: string | boolean;
	/** Asked of every run; the others stand under “More”. */
	first: boolean;
	/** Place among those asked first; equal ones as the method declares them. */
	order: number;
};

type Property = {
	title?: string;
	description?: string;
	type?: string;
	pattern?: string;
	anyOf?: { type?: string; $ref?: string }[];
	$ref?: string;
	default?: unknown;
	first?: boolean;
	order?: number;
};

/** What most first practicals are. */
const FIRST_METHOD = 'hydrate';

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
	faults = $state<Fault[]>([]);
	notice = $state('');
	busy = $state(false);
	#shelf = $state<ShelfView | null>(null);
	#uuid = newUuid();

	readonly method = $derived(this.#shelf?.methods.find((row) => row.name === this.methodName));
	readonly procedure = $derived(this.method?.procedures[0]);
	readonly fields = $derived(this.method ? optionFields(this.method) : []);
	readonly firstFields = $derived(
		this.fields.filter((field) => field.first).sort((a, b) => a.order - b.order)
	);
	readonly moreFields = $derived(this.fields.filter((field) => !field.first));

	/** Take what the laboratory offers, once. */
	offer(shelf: ShelfView): void {
		if (this.#shelf) return;
		this.#shelf = shelf;
		this.benchId = shelf.benches[0]?.id ?? 0;
		this.balanceId = shelf.balances[0]?.id ?? 0;
		this.choose(shelf.methods.find((row) => row.name === FIRST_METHOD)?.name ?? shelf.methods[0]?.name ?? '');
	}

	/** Take another method: its options and schools come with their usual answers. */
	choose(method: string): void {
		this.methodName = method;
		this.faults = [];
		this.values = Object.fromEntries(this.fields.map((field) => [field.name, field.initial]));
		this.schools = Object.fromEntries((this.procedure?.schools ?? []).map((row) => [row.name, row.default]));
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

	/** Start the run; its UUID, or null with the faults at their fields. Nothing typed is lost. */
	async send(): Promise<string | null> {
		this.busy = true;
		this.faults = [];
		this.notice = '';
		const outcome = await startRun({
			uuid: this.#uuid,
			title: this.title,
			method: this.methodName,
			options: this.#options(),
			bench_id: this.benchId,
			balance_id: this.balanceId,
			procedure: this.procedure?.name ?? null,
			schools: this.schools,
			planned: this.#planned()
		});
		this.busy = false;
		if (outcome.kind === 'done') {
			this.#uuid = newUuid();
			this.title = this.about = this.low = this.high = '';
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

	#planned(): Record<string, Record<string, string>> {
		const given = Object.entries({ about: this.about, low: this.low, high: this.high });
		const typed = given.filter(([, text]) => text.trim() !== '');
		return typed.length && this.method ? { [this.method.planned]: Object.fromEntries(typed) } : {};
	}

	#options(): Record<string, unknown> {
		const chosen: Record<string, unknown> = {};
		for (const field of this.fields) {
			const value = this.values[field.name];
			if (value === undefined || value === field.initial) continue;
			if (field.kind === 'number') put(chosen, field.name, Number(value));
			else if (field.kind === 'list')
				put(
					chosen,
					field.name,
					String(value)
						.split(/[,;]+/)
						.map((text) => text.trim())
						.filter(Boolean)
				);
			else if (typeof value === 'boolean' || value.trim() !== '') put(chosen, field.name, value);
		}
		return chosen;
	}
}

type Schema = { properties?: Record<string, Property>; $defs?: Record<string, Schema> };

/** Put an option in its place; `claim.mass` is the mass of a claim. */
function put(options: Record<string, unknown>, name: string, value: unknown): void {
	const [outer = name, inner] = name.split('.');
	if (inner === undefined) options[outer] = value;
	else options[outer] = { ...(options[outer] as Record<string, unknown> | undefined), [inner]: value };
}

/** The options of a method as fields, read from its JSON Schema; those of a group stand as `group.field`. */
export function optionFields(method: MethodView): OptionFieldSpec[] {
	const schema = method.options as Schema;
	const group = (property: Property): Schema | undefined => {
		const reference = property.$ref ?? property.anyOf?.find((row) => row.$ref)?.$ref;
		return reference ? schema.$defs?.[reference.replace('#/$defs/', '')] : undefined;
	};
	const rows = Object.entries(schema.properties ?? {}).flatMap(([name, property]): [string, Property][] => {
		const inner = Object.entries(group(property)?.properties ?? {});
		return inner.length
			? inner.map(([part, own]) => [
					`${name}.${part}`,
					{ ...own, first: own.first ?? property.first ?? false }
				])
			: [[name, property]];
	});
	return rows.map(([name, property]) => {
		const choices = /^\^\((.+)\)\$$/.exec(property.pattern ?? '')?.[1]?.split('|') ?? [];
		const kind =
			property.type === 'boolean'
				? 'yes-no'
				: property.type === 'integer'
					? 'number'
					: property.type === 'array'
						? 'list'
						: choices.length
							? 'choice'
							: 'text';
		const usual = property.default;
		const initial =
			typeof usual === 'boolean'
				? usual
				: usual === null || usual === undefined || Array.isArray(usual)
					? ''
					: String(usual);
		const { title = name, description: help = '', first = false, order = 0 } = property;
		return { name, title, help, kind, choices, initial, first, order };
	});
}
