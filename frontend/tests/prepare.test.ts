import { beforeEach, expect, test, vi } from 'vitest';
import type { PlanShelfView, PreparedView, ShelfView, TimedView } from '../src/api/client';

const api = vi.hoisted(() => ({
	getShelf: vi.fn(),
	getPlanShelf: vi.fn(),
	getPracticals: vi.fn(),
	getRoster: vi.fn(),
	getPractical: vi.fn(),
	postPrepare: vi.fn(),
	timetable: vi.fn(),
	layOut: vi.fn()
}));
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	...api
}));
const { namesIn, Prepare } = await import('../src/prepare/prepare.svelte');
const { withSteps } = await import('../src/prepare/steps');

const text = (title: string) => ({ title, anyOf: [{ type: 'string' }], default: null, first: true });
const shelf = {
	day: '2026-03-05',
	benches: [
		{ id: 7, name: 'Ball' },
		{ id: 8, name: 'China' }
	],
	balances: [{ id: 1 }, { id: 2 }],
	defaults: {},
	instruments: [],
	methods: [
		{
			name: 'hydrate',
			usual_first: true,
			planned: 'sample',
			reads: ['balance'],
			options: { properties: { salt: text('Salt'), tolerance: text('Constant within') } },
			procedures: [{ name: 'p', schools: [{ name: 'vessel', default: 'dish', choices: {} }] }]
		},
		{
			name: 'synthesis',
			usual_first: false,
			planned: 'reagent_1',
			reads: [],
			options: {
				properties: {
					equation: text('Equation'),
					reagents: { title: 'Reagents', type: 'array', first: true }
				}
			},
			procedures: [{ name: 'q', schools: [] }]
		}
	]
} as unknown as ShelfView;
const planned = {
	methods: [{ name: 'hydrate', unit: 'g', asks: ['vessel_mass'], usual: { vessel_mass: '30 g' } }],
	setting: { properties: { vessel_mass: text('Empty vessel weighs'), wanted: text('Result within') } },
	room: {}
} as unknown as PlanShelfView;
const found = { sentence: [], faults: [], places: [], steps: [] } as unknown as PreparedView;
const done = <T>(value: T) => ({ kind: 'done' as const, value });

beforeEach(() => {
	vi.useFakeTimers();
	localStorage.clear();
	for (const one of Object.values(api)) one.mockReset();
	api.getShelf.mockResolvedValue(done(shelf));
	api.getPlanShelf.mockResolvedValue(done(planned));
	api.getPracticals.mockResolvedValue(done({ practicals: [] }));
	api.getRoster.mockResolvedValue(done({ students: [] }));
	api.postPrepare.mockResolvedValue(done(found));
	api.timetable.mockResolvedValue(done(null));
});

async function begun(): Promise<InstanceType<typeof Prepare>> {
	const made = new Prepare();
	await made.begin();
	await vi.advanceTimersByTimeAsync(300);
	return made;
}

test('it begins with the usual method, all benches, today and the balances that there are', async () => {
	const made = await begun();
	expect([made.draft.method, made.draft.benches, made.draft.date]).toEqual(['hydrate', [7, 8], '2026-03-05']);
	expect(made.draft.room).toEqual({ balance: 2 });
	expect(made.draft.setting).toEqual({ vessel_mass: '30 g', wanted: '' });
	expect(made.wish.practical).toMatchObject({ method: 'hydrate', schools: { vessel: 'dish' }, planned: {} });
});

test('an answer to something older is dropped', async () => {
	const made = await begun();
	let answer: (value: unknown) => void = () => undefined;
	api.postPrepare.mockReturnValueOnce(new Promise((resolve) => (answer = resolve)));
	made.set('salt', 'Zn');
	await vi.advanceTimersByTimeAsync(300);
	const late = { ...found, title: 'late' };
	api.postPrepare.mockResolvedValueOnce(done({ ...found, title: 'new' }));
	made.set('salt', 'ZnSO4');
	await vi.advanceTimersByTimeAsync(300);
	answer(done(late));
	await vi.advanceTimersByTimeAsync(0);
	expect(made.found?.title).toBe('new');
});

test('the next change ends a timetable that is still being reckoned', async () => {
	const made = await begun();
	const signals: AbortSignal[] = [];
	api.timetable.mockImplementation(
		(_wish, _session, signal: AbortSignal, take: (line: TimedView) => void) => {
			signals.push(signal);
			return new Promise((resolve) => {
				signal.addEventListener('abort', () => {
					// what still arrives of an ended one is not taken
					take({ done: 0.5, table: null } as unknown as TimedView);
					resolve({ kind: 'away', title: '' });
				});
			});
		}
	);
	made.set('salt', 'ZnSO4');
	await vi.advanceTimersByTimeAsync(300);
	expect(signals.map((one) => one.aborted)).toEqual([false]);
	made.set('salt', 'CuSO4');
	expect(signals.map((one) => one.aborted)).toEqual([true]);
	await vi.advanceTimersByTimeAsync(0);
	expect([made.timed, made.untimed]).toEqual([null, '']);
});

test('what a practical says in a table stays to the letter until it is said anew', async () => {
	const made = await begun();
	const reagents = [{ formula: 'Al', planned: '1.0 g' }];
	const document = {
		method: 'synthesis',
		name: 'Alum',
		options: { equation: 'a -> b', reagents },
		trials: 3
	};
	api.getPractical.mockResolvedValueOnce(done({ id: 4, number: 2, document }));
	await made.take(4);
	expect(made.draft.values).toEqual({ equation: 'a -> b' });
	expect(made.tables.map((row) => row.name)).toEqual(['reagents']);
	made.set('equation', 'a -> c');
	expect(made.practical['options']).toEqual({ equation: 'a -> c', reagents });
	expect([made.draft.trials, made.draft.source]).toEqual([3, { practical: 4, version: 2 }]);
	made.set('reagents', 'Al; KOH');
	expect(made.practical['options']).toEqual({ equation: 'a -> c', reagents: ['Al', 'KOH'] });
});

test('who comes back to a method finds it as it was left, the class as it is now', async () => {
	const made = await begun();
	made.set('salt', 'ZnSO4');
	made.settle('vessel', 'crucible');
	made.draft.report = [{ line: 'water_mass', number: 1, marks: 2 }];
	made.choose('synthesis');
	expect(made.draft.values).toEqual({ equation: '', reagents: '' });
	expect([made.draft.report, made.draft.schools]).toEqual([[], {}]);
	made.draft.benches = [8];
	made.choose('hydrate');
	expect([made.draft.values['salt'], made.draft.schools['vessel']]).toEqual(['ZnSO4', 'crucible']);
	expect(made.draft.report.length).toBe(1);
	expect(made.draft.benches).toEqual([8]);
});

test('what stood there before a practical was taken is one look back', async () => {
	const made = await begun();
	made.set('salt', 'ZnSO4');
	const document = { method: 'hydrate', name: 'Borax', options: { salt: 'Na2B4O7' }, trials: 1 };
	api.getPractical.mockResolvedValueOnce(done({ id: 4, number: 1, document }));
	await made.take(4);
	expect([made.draft.values['salt'], made.draft.trials]).toEqual(['Na2B4O7', 1]);
	made.lookBack();
	expect([made.draft.values['salt'], made.draft.trials, made.draft.source]).toEqual(['ZnSO4', 2, null]);
	expect(made.before).toBeNull();
});

test('a server that is away is asked again without a key being struck', async () => {
	const made = await begun();
	api.postPrepare.mockResolvedValueOnce({ kind: 'away', title: 'The server does not answer' });
	made.set('salt', 'ZnSO4');
	await vi.advanceTimersByTimeAsync(300);
	expect(made.trouble).toBe('The server does not answer');
	await vi.advanceTimersByTimeAsync(2100);
	expect(made.trouble).toBe('');
	expect(api.postPrepare).toHaveBeenCalledTimes(3);
});

test('the shelf is asked for again too, and nothing any more once nobody looks', async () => {
	api.getShelf.mockResolvedValueOnce({ kind: 'away', title: 'away' });
	const made = await begun();
	expect([made.shelf, made.trouble]).toEqual([null, 'away']);
	await vi.advanceTimersByTimeAsync(2100);
	expect(made.shelf).not.toBeNull();
	made.end();
	api.postPrepare.mockClear();
	await vi.advanceTimersByTimeAsync(5000);
	expect(api.postPrepare).not.toHaveBeenCalled();
});

test('a count that was taken away stays away', async () => {
	const made = await begun();
	api.postPrepare.mockResolvedValueOnce(done({ ...found, places: ['balance'] }));
	made.draft.room = {};
	made.ask();
	await vi.advanceTimersByTimeAsync(300);
	expect(made.draft.room).toEqual({});
});

test('of a step that goes, what hangs on it goes', () => {
	const step = (id: string) => ({ id, title: id, say: id });
	const rows = [step('boat'), { id: 'rounds', repeat: [step('heat')] }, step('weigh')];
	const moves = [{ when: { weighing: ['boat'] }, steps: ['boat', 'other'], before: 'weigh' }];
	const whole = { name: 'p', steps: rows, moves };
	expect(withSteps(whole, rows)['moves']).toEqual([{ ...moves[0], steps: ['boat'] }]);
	expect(withSteps(whole, rows.slice(1))['moves']).toEqual([]);
	expect(withSteps(whole, rows.slice(0, 2))['moves']).toEqual([]);
	const none = [rows[0], { id: 'rounds', repeat: [] }, rows[2]] as typeof rows;
	expect((withSteps(whole, none)['steps'] as { id: string }[]).map((row) => row.id)).toEqual([
		'boat',
		'weigh'
	]);
});

test('a window goes before an amount, and both are the practical’s', async () => {
	const made = await begun();
	made.draft.sample = '1.5';
	expect(made.practical['planned']).toEqual({ sample: { about: '1.5 g' } });
	made.draft.high = '2 g';
	expect(made.practical['planned']).toEqual({ sample: { high: '2 g' } });
});

test('nobody lays out by an answer to something older', async () => {
	const made = await begun();
	api.postPrepare.mockResolvedValueOnce(done({ ...found, faults: [{ path: 'date', part: 'date' }] }));
	made.draft.date = '2020-01-01';
	made.ask();
	expect(made.wrong).toEqual([]);
	await made.current();
	expect(made.wrong.length).toBe(1);
	await made.current();
	expect(api.postPrepare).toHaveBeenCalledTimes(2);
});

test('what a lay-out finds wrong stands at its part, and the same try is the same class', async () => {
	const made = await begun();
	made.draft.students = { '7': 'Ada, Bo; Cy' };
	const faults = [{ code: 'taken', path: 'title', message: 'taken' }];
	api.layOut.mockResolvedValueOnce({ kind: 'problem', code: 'refused', title: 'no', faults });
	expect(await made.layOut()).toBeNull();
	expect(made.wrongAt('date')).toBe(true);
	expect(made.trouble).toBe('');
	api.layOut.mockResolvedValueOnce(done({ id: 3 }));
	expect(await made.layOut()).toEqual({ id: 3 });
	const [first, second] = api.layOut.mock.calls.map(([body]) => body);
	expect(first.uuid).toBe(second.uuid);
	expect(first.students).toEqual({ '7': ['Ada', 'Bo', 'Cy'], '8': [] });
});

test('names on one line are told apart by comma, semicolon or line', () => {
	expect(namesIn(' Ada Quill, Bo;Cy\nDee ,')).toEqual(['Ada Quill', 'Bo', 'Cy', 'Dee']);
});
