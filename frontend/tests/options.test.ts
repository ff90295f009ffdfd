import { expect, test } from 'vitest';
import { optionFields, optionsOf } from '../src/ui/options';

const schema = {
	properties: {
		salt: { title: 'Salt', type: 'string', default: null, first: true },
		tolerance: { title: 'Constant within', type: 'string', default: '0.005 g' },
		halves: { title: 'Half hydrates too', type: 'boolean', default: true },
		max_ratio: { title: 'Most water', type: 'integer', default: 18 },
		candidates: { title: 'To tell apart', type: 'array', default: [] },
		level: { title: 'Level', type: 'string', pattern: '^(percent|formula)$', default: 'formula' },
		tube: { anyOf: [{ $ref: '#/$defs/Tube' }, { type: 'null' }], first: true, order: 1 }
	},
	$defs: { Tube: { properties: { mark: { title: 'Last mark', told_by: 'volume.capacity' } } } }
};
const fields = optionFields(schema);
const field = (name: string) => fields.find((row) => row.name === name);

test('every option is a field that shows what a person would type', () => {
	expect(fields.map((row) => row.kind)).toEqual([
		'text',
		'text',
		'yes-no',
		'number',
		'list',
		'choice',
		'text'
	]);
	expect(field('tolerance')?.initial).toBe('0.005 g');
	expect(field('salt')?.initial).toBe('');
	expect(field('level')?.choices).toEqual(['percent', 'formula']);
	expect(field('tube.mark')).toMatchObject({ first: true, order: 1, toldBy: 'volume.capacity' });
});

test('only what was changed is sent, each as what it is', () => {
	const usual = Object.fromEntries(fields.map((row) => [row.name, row.initial]));
	expect(optionsOf(fields, usual)).toEqual({});
	const typed = { ...usual, salt: 'ZnSO4', halves: false, max_ratio: '12', 'tube.mark': '50 mL' };
	expect(optionsOf(fields, typed)).toEqual({
		salt: 'ZnSO4',
		halves: false,
		max_ratio: 12,
		tube: { mark: '50 mL' }
	});
});

test('a list is separated by commas and semicolons, but not within a decimal', () => {
	const typed = optionsOf(fields, { candidates: 'ZnSO4.7H2O; MgSO4.7H2O, CuSO4.5H2O' });
	expect(typed['candidates']).toEqual(['ZnSO4.7H2O', 'MgSO4.7H2O', 'CuSO4.5H2O']);
	expect(optionsOf(fields, { candidates: 'Na2SO4 0,25 mol/L' })['candidates']).toEqual(['Na2SO4 0,25 mol/L']);
});
