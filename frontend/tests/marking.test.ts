import { beforeEach, expect, test, vi } from 'vitest';
import type { ClassMarkingView, MarkedSheet, Outcome } from '../src/api/client';

const getMarking = vi.hoisted(() => vi.fn());
const changeMark = vi.hoisted(() => vi.fn());
const giveBack = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	getMarking,
	changeMark,
	giveBack
}));
const { Marking } = await import('../src/marking/marking.svelte');

const sheet = (uuid: string, given_back = '', last_mark = ''): MarkedSheet =>
	({
		uuid,
		student: uuid,
		trial: '1',
		first_wrong: 'ratio',
		given_back,
		last_mark,
		lines: [
			{ name: 'mass', marks: 1, of: 1, note: '' },
			{ name: 'ratio', marks: 0, of: 2, note: '' }
		]
	}) as unknown as MarkedSheet;
const marked = (...sheets: MarkedSheet[]): Outcome<ClassMarkingView> => ({
	kind: 'done',
	value: {
		id: 3,
		benches: [{ name: 'Ball', students: [], sheets, answers: [] }]
	} as unknown as ClassMarkingView
});
async function looking(...sheets: MarkedSheet[]): Promise<InstanceType<typeof Marking>> {
	const marking = new Marking(0);
	getMarking.mockResolvedValueOnce(marked(...sheets));
	await marking.look();
	return marking;
}

beforeEach(() => [getMarking, changeMark, giveBack].forEach((mock) => mock.mockReset()));

test('a mark is begun at the first wrong line and left by going to another sheet', async () => {
	const marking = await looking(sheet('a'), sheet('b'));
	marking.change();
	expect(marking.draft).toEqual({ line: 'ratio', marks: '0', note: '', after: '' });
	marking.move(1);
	expect([marking.draft, marking.chosen?.sheet.uuid]).toEqual([null, 'b']);
	marking.move(1);
	expect(marking.chosen?.sheet.uuid).toBe('b');
});

test('half a mark and none are told without asking the server', async () => {
	const marking = await looking(sheet('a'));
	for (const typed of ['1.5', '', 'two']) {
		marking.change('ratio');
		if (marking.draft) marking.draft.marks = typed;
		expect(await marking.keep()).toBe(false);
		expect(marking.said.faults[0]?.path).toBe('marks');
	}
	expect(changeMark).not.toHaveBeenCalled();
});

test('a colleague was first: what they did is shown, what was typed stays', async () => {
	const marking = await looking(sheet('a'));
	marking.change('ratio');
	if (marking.draft) Object.assign(marking.draft, { marks: '1', note: 'half of it' });
	changeMark.mockResolvedValueOnce({
		kind: 'problem',
		code: 'conflict',
		title: 'K. changed a mark of this sheet meanwhile',
		faults: [],
		doubt: null,
		suggestion: null
	});
	getMarking.mockResolvedValueOnce(marked(sheet('a', '', 'theirs')));
	expect(await marking.keep()).toBe(false);
	expect(marking.said.trouble).toContain('meanwhile');
	expect(marking.draft).toMatchObject({ line: 'ratio', marks: '1', note: 'half of it' });
	changeMark.mockResolvedValueOnce(marked(sheet('a')));
	expect(await marking.keep()).toBe(true);
	expect(changeMark.mock.lastCall?.[1]).toMatchObject({ after: 'theirs', marks: 1 });
	expect(marking.draft).toBeNull();
});

test('what a colleague changes while one types is no reason to write over it unseen', async () => {
	const marking = await looking(sheet('a'));
	marking.change('ratio');
	getMarking.mockResolvedValueOnce(marked(sheet('a', '', 'theirs')));
	await marking.look();
	changeMark.mockResolvedValueOnce(marked(sheet('a')));
	await marking.keep();
	expect(changeMark.mock.lastCall?.[1]).toMatchObject({ after: '' });
});

test('a sheet handed in anew while one types takes the place of the other, and that is told', async () => {
	const [theirs, others] = [sheet('a'), sheet('b')];
	const marking = await looking(theirs, others);
	marking.change('ratio');
	if (marking.draft) marking.draft.note = 'half of it';
	getMarking.mockResolvedValueOnce(marked(others, { ...theirs, uuid: 'anew' }));
	await marking.look();
	expect(marking.chosen?.sheet.uuid).toBe('anew');
	expect(marking.draft?.note).toBe('half of it');
	expect(marking.said.trouble).toContain('in its place');
	getMarking.mockResolvedValueOnce(marked(others));
	await marking.look();
	expect([marking.draft, marking.chosen?.sheet.uuid]).toEqual([null, 'b']);
});

test('all that wait are given back at once, and those that were are left out', async () => {
	const marking = await looking(sheet('a', '2026-11-24T18:00:00Z'), sheet('b'), sheet('c'));
	giveBack.mockResolvedValueOnce(marked(sheet('a'), sheet('b'), sheet('c')));
	await marking.giveBack(true);
	expect(giveBack.mock.lastCall).toEqual([3, ['b', 'c']]);
});
