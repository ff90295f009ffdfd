/** One option of a method, as its JSON Schema describes it. */
export type OptionFieldSpec = {
	name: string;
	title: string;
	help: string;
	kind: 'text' | 'list' | 'choice' | 'number' | 'yes-no';
	choices: string[];
	/** What the form shows for a choice. */
	words: Record<string, string>;
	initial: string | boolean;
	/** Asked of every run; the others stand under “More”. */
	first: boolean;
	/** Place among those asked first; equal ones as the method declares them. */
	order: number;
	/** Takes two columns: an equation. */
	wide: boolean;
	/** A reagent table can be filled in first. */
	table: boolean;
	/** Asked only while other options have these values. */
	onlyWith: Record<string, string>;
	/** What of an instrument tells it: the kind, and `capacity` or `direction`. */
	toldBy: string;
	/** A substance is asked for: by its name or its formula. */
	substance: boolean;
	/** The desk where it can be looked up. */
	desk: 'formula' | 'equation' | null;
	/** By value the schools that go with it. */
	schools: Record<string, Record<string, string>>;
};

type Property = {
	title?: string;
	description?: string;
	type?: string;
	pattern?: string;
	anyOf?: { type?: string; $ref?: string; substance?: boolean; equation?: boolean }[];
	substance?: boolean;
	equation?: boolean;
	$ref?: string;
	default?: unknown;
	first?: boolean;
	order?: number;
	wide?: boolean;
	words?: Record<string, string>;
	table?: boolean;
	only_with?: Record<string, string>;
	told_by?: string;
	schools?: Record<string, Record<string, string>>;
};

type Schema = { properties?: Record<string, Property>; $defs?: Record<string, Schema> };

/** Put an option in its place; `claim.mass` is the mass of a claim. */
export function put(options: Record<string, unknown>, name: string, value: unknown): void {
	const [outer = name, inner] = name.split('.');
	if (inner === undefined) options[outer] = value;
	else options[outer] = { ...(options[outer] as Record<string, unknown> | undefined), [inner]: value };
}

/** Options as fields, read from their JSON Schema; those of a group stand as `group.field`. */
export function optionFields(options: Record<string, unknown>): OptionFieldSpec[] {
	const schema = options as Schema;
	const group = (property: Property): Schema | undefined => {
		const reference = property.$ref ?? property.anyOf?.find((row) => row.$ref)?.$ref;
		return reference ? schema.$defs?.[reference.replace('#/$defs/', '')] : undefined;
	};
	const rows = Object.entries(schema.properties ?? {}).flatMap(([name, property]): [string, Property][] => {
		const inner = Object.entries(group(property)?.properties ?? {});
		return inner.length
			? inner.map(([part, own]) => [
					`${name}.${part}`,
					{ ...own, first: own.first ?? property.first ?? false, order: own.order ?? property.order ?? 0 }
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
		const {
			title = name,
			description: help = '',
			first = false,
			order = 0,
			words = {},
			wide = false,
			table = false,
			only_with: onlyWith = {},
			told_by: toldBy = '',
			schools = {}
		} = property;
		const shown = { name, title, help, kind, choices, words, initial } as const;
		const substance = property.substance ?? property.anyOf?.some((row) => row.substance) ?? false;
		const isEquation = property.equation ?? property.anyOf?.some((row) => row.equation) ?? false;
		const desk = substance ? 'formula' : isEquation ? 'equation' : null;
		return { ...shown, first, order, wide, table, onlyWith, toldBy, schools, substance, desk };
	});
}

/** Whether a field is asked, as other options stand. */
export const isAsked = (field: OptionFieldSpec, values: Record<string, string | boolean>): boolean =>
	Object.entries(field.onlyWith).every(([name, value]) => values[name] === value);

/** An answer on which practitioners differ, and the options that hang on it: a burette is read from its last mark. */
export function settle(
	fields: OptionFieldSpec[],
	values: Record<string, string | boolean>,
	schools: Record<string, string>,
	school: string,
	answer: string
): void {
	schools[school] = answer;
	for (const field of fields) {
		const goesWith = Object.entries(field.schools).filter(([, row]) => school in row);
		if (!goesWith.length) continue;
		const fits = goesWith.find(([, row]) => row[school] === answer);
		if (fits) values[field.name] = fits[0];
		else if (goesWith.some(([value]) => value === values[field.name])) values[field.name] = field.initial;
	}
}

/** An option, and the answers that go with its value. */
export function setOption(
	fields: OptionFieldSpec[],
	values: Record<string, string | boolean>,
	schools: Record<string, string>,
	name: string,
	value: string | boolean
): void {
	values[name] = value;
	const goesWith = fields.find((field) => field.name === name)?.schools[String(value)] ?? {};
	for (const [school, answer] of Object.entries(goesWith)) if (school in schools) schools[school] = answer;
}

/** The options that a form holds, those left at their usual value left out. */
export function optionsOf(
	fields: OptionFieldSpec[],
	values: Record<string, string | boolean>
): Record<string, unknown> {
	const chosen: Record<string, unknown> = {};
	for (const field of fields) {
		const value = values[field.name];
		if (value === undefined || value === field.initial) continue;
		if (field.kind === 'number') put(chosen, field.name, Number(value));
		else if (field.kind === 'list')
			put(
				chosen,
				field.name,
				String(value)
					// a comma between digits is a decimal one
					.split(/;|,(?!\d)/)
					.map((text) => text.trim())
					.filter(Boolean)
			);
		else if (typeof value === 'boolean' || value.trim() !== '') put(chosen, field.name, value);
	}
	return chosen;
}

/** An option as it stands in a run, its group's part for `group.part`. */
function standing(options: Record<string, unknown>, name: string): unknown {
	const [outer = name, inner] = name.split('.');
	const value = options[outer];
	return inner === undefined ? value : (value as Record<string, unknown> | undefined)?.[inner];
}

/** What a field shows of the options of a run; null for a table, which no single field can hold. */
export function valueOf(field: OptionFieldSpec, options: Record<string, unknown>): string | boolean | null {
	const value = standing(options, field.name) ?? field.initial;
	if (typeof value === 'boolean' || typeof value === 'string') return value;
	if (typeof value === 'number') return String(value);
	if (Array.isArray(value)) return value.every((row) => typeof row === 'string') ? value.join('; ') : null;
	const { text } = value as { text?: unknown };
	return typeof text === 'string' ? text : null;
}

/** Options without one of them; a group that is empty then goes with its last part. */
function without(options: Record<string, unknown>, name: string): Record<string, unknown> {
	const [outer = name, inner] = name.split('.');
	const others = Object.fromEntries(Object.entries(options).filter(([key]) => key !== outer));
	if (inner === undefined) return others;
	const group = without((options[outer] as Record<string, unknown> | undefined) ?? {}, inner);
	return Object.keys(group).length ? { ...others, [outer]: group } : others;
}

/** The options of a run with what was changed in a form; what was not touched stays exactly as it is. */
export function changedOptions(
	fields: OptionFieldSpec[],
	options: Record<string, unknown>,
	values: Record<string, string | boolean>
): Record<string, unknown> {
	const touched = fields.filter(
		(field) => field.name in values && values[field.name] !== valueOf(field, options)
	);
	const after = touched.reduce((left, field) => without(left, field.name), { ...options });
	for (const field of touched) {
		const one = optionsOf([field], values);
		const [outer = field.name, inner] = field.name.split('.');
		if (outer in one) put(after, field.name, inner === undefined ? one[outer] : standing(one, field.name));
	}
	return after;
}
