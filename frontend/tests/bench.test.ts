import 'fake-indexeddb/auto';
import { beforeEach, expect, test, vi } from 'vitest';
import type { EntryView, Outcome, ReadingBody, RunView } from '../src/api/client';
import { allQueued, dropQueued, keepRun, keptRun } from '../src/offline/store';
import { problem, reading } from './support';

const recordReading = vi.hoisted(() => vi.fn());
const lookAtRun = vi.hoisted(() => vi.fn());
const getChanges = vi.hoisted(() => vi.fn());
const markStep = vi.hoisted(() => vi.fn());
const nothing = vi.hoisted(() => vi.fn().mockResolvedValue({ kind: 'away', title: '' }));
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	recordReading,
	lookAtRun,
	getChanges,
	markStep,
	getShelf: nothing,
	getRunSubstances: nothing
}));
const { Bench } = await import('../src/bench/bench.svelte');
const { outbox } = await import('../src/offline/outbox.svelte');

const queued = async (): Promise<string[]> => ((await allQueued()) ?? []).map((row) => row.text);

const entry = (slot: string, position = 1): EntryView => ({
	slot,
	position,
	label: slot,
	stand: '',
	tread: slot,
	unit: 'g',
	instrument: 'balance',
	kind: 'balance',
	step: slot,
	hint: '',
	expected: '',
	because: '',
	suggested: '',
	signed: false
});

let version = 0;
const run = (...upcoming: EntryView[]): RunView =>
	({
		now: '2026-11-24T17:30:00Z',
		version: ++version,
		since: null,
		trial: { label: '1' },
		trials: [],
		upcoming
	}) as unknown as RunView;
const done = (...upcoming: EntryView[]): Outcome<RunView> => ({ kind: 'done', value: run(...upcoming) });
const sent = (): ReadingBody[] => recordReading.mock.calls.map(([, body]) => body as ReadingBody);

function bench(): InstanceType<typeof Bench> {
	const made = new Bench('run-1', '1');
	made.attend();
	made.run = run(entry('vessel'), entry('vessel_sample'));
	return made;
}

const waitingReading = (text: string) => reading(`row-${text}`, 1, { text });

async function type(made: InstanceType<typeof Bench>, text: string): Promise<void> {
	made.type(text);
	if (made.entry) await made.record(made.entry);
}

beforeEach(async () => {
	localStorage.clear();
	for (const row of (await allQueued()) ?? []) await dropQueued(row.uuid);
	await outbox.look();
	recordReading.mockReset();
	getChanges.mockReset().mockResolvedValue({ kind: 'away', title: '' });
});

test('what is typed is sent for the place that the field asks for, and the field goes on', async () => {
	recordReading.mockResolvedValue(done(entry('vessel_sample')));
	const made = bench();
	await type(made, '31.204');
	expect(sent()[0]).toMatchObject({ slot: 'vessel', text: '31.204', confirmed: false });
	expect(made.typed).toBe('');
	expect(made.entry?.slot).toBe('vessel_sample');
	expect(await queued()).toEqual([]);
});

test('without a server readings wait in order, and what is half typed survives', async () => {
	recordReading.mockResolvedValue({ kind: 'away', title: 'away' });
	const made = bench();
	await type(made, '31.204');
	await type(made, '32.861');
	made.type('32.1');
	expect(made.waiting.map((row) => row.text)).toEqual(['31.204', '32.861']);
	outbox.rows = [];
	await outbox.look();
	const reloaded = new Bench('run-1', '1');
	expect(reloaded.queue.map((row) => row.text)).toEqual(['31.204', '32.861']);
	expect(reloaded.typed).toBe('32.1');
});

test('a question is about one figure: another one typed is sent by itself, the first is never kept', async () => {
	recordReading.mockResolvedValueOnce(problem('doubt', 'two decimals?'));
	const made = bench();
	await type(made, '40.60');
	expect(made.doubt?.text).toBe('two decimals?');
	made.type('48.60');
	expect(made.doubt).toBeNull();
	recordReading.mockResolvedValueOnce(problem('doubt', 'two decimals?'));
	if (made.entry) await made.record(made.entry);
	recordReading.mockResolvedValueOnce(done(entry('vessel_sample')));
	await made.confirm();
	expect(sent().map((row) => [row.text, row.confirmed])).toEqual([
		['40.60', false],
		['48.60', false],
		['48.60', true]
	]);
	expect(new Set(sent().map((row) => row.uuid)).size).toBe(3);
});

test('confirming keeps the very figure that was asked about', async () => {
	recordReading.mockResolvedValueOnce(problem('doubt', 'two decimals?'));
	const made = bench();
	await type(made, '40.60');
	recordReading.mockResolvedValueOnce(done(entry('vessel_sample')));
	await made.confirm();
	expect(sent()[1]).toMatchObject({ text: '40.60', confirmed: true, slot: 'vessel' });
	expect(made.doubt).toBeNull();
});

test('a refused reading comes back to the field for its own place, before what waits behind it', async () => {
	recordReading.mockResolvedValueOnce({ kind: 'away', title: 'away' });
	const made = bench();
	await type(made, '31,2o4');
	recordReading.mockResolvedValueOnce(problem('not-a-number', 'is not a number'));
	await type(made, '32.861');
	expect(made.fault).toBe('is not a number');
	expect(made.typed).toBe('31,2o4');
	expect(made.entry?.slot).toBe('vessel');
	recordReading.mockResolvedValue(done());
	await type(made, '31.204');
	expect(sent().map((row) => row.text)).toEqual(['31,2o4', '31,2o4', '31.204', '32.861']);
});

test('a reading can be left out, and what waits behind it goes on', async () => {
	recordReading.mockResolvedValueOnce(problem('not-a-number', 'is not a number'));
	const made = bench();
	await type(made, 'x');
	await made.leaveOut();
	expect(made.returned).toBeNull();
	expect(made.typed).toBe('');
	expect(await queued()).toEqual([]);
});

test('a page that was just opened shows its run first, although what waits cannot be sent', async () => {
	recordReading.mockResolvedValue({ kind: 'away', title: 'away' });
	await type(bench(), '31.204');
	recordReading.mockClear();
	lookAtRun.mockResolvedValue(done(entry('vessel_sample')));
	const reloaded = new Bench('run-1', '1');
	const ends = [outbox.begin(), reloaded.begin()];
	await vi.waitFor(() => expect(recordReading).toHaveBeenCalled());
	ends.forEach((end) => end());
	expect(reloaded.run).not.toBeNull();
	expect(reloaded.waiting.map((row) => row.text)).toEqual(['31.204']);
});

test('a question that came while another page was open stands in the field when the bench is opened', async () => {
	recordReading.mockResolvedValueOnce(problem('doubt', 'two decimals?', '40.06'));
	await outbox.put('run-1', [waitingReading('40.60')]);
	lookAtRun.mockResolvedValue(done(entry('vessel'), entry('vessel_sample')));
	const made = new Bench('run-1', '1');
	const end = made.begin();
	await vi.waitFor(() => expect(made.doubt?.text).toBe('two decimals?'));
	end();
	expect(made.typed).toBe('40.60');
	expect(made.entry?.slot).toBe('vessel');
	recordReading.mockResolvedValue(done(entry('vessel_sample')));
	await made.suggest('40.06');
	expect(sent().map((row) => row.text)).toEqual(['40.60', '40.06']);
	expect(await queued()).toEqual([]);
});

test('what was half typed since stays in the field when a reading comes back', async () => {
	recordReading.mockResolvedValueOnce(problem('not-a-number', 'is not a number'));
	await outbox.put('run-1', [waitingReading('31,2o4')]);
	lookAtRun.mockResolvedValue(done(entry('vessel'), entry('vessel_sample')));
	const made = new Bench('run-1', '1');
	made.type('31.2');
	const end = made.begin();
	await vi.waitFor(() => expect(made.returned?.text).toBe('31,2o4'));
	end();
	expect(made.typed).toBe('31.2');
	expect(made.fault).toContain('31,2o4 g came back: is not a number');
});

test('without a server a reload shows the run as this device saw it, and what is typed waits', async () => {
	const seen = { ...run(entry('vessel'), entry('vessel_sample')), uuid: 'run-1', bench: 'Ball' };
	lookAtRun.mockResolvedValue({ kind: 'done', value: seen });
	const first = new Bench('run-1', '1');
	await first.look();
	await vi.waitFor(async () => expect(await keptRun('run-1', '1')).not.toBeNull());
	lookAtRun.mockResolvedValue({ kind: 'away', title: 'away' });
	recordReading.mockResolvedValue({ kind: 'away', title: 'away' });
	const reloaded = new Bench('run-1', '1');
	await reloaded.look();
	expect(reloaded.away).toBe(true);
	expect(reloaded.entry?.slot).toBe('vessel');
	await type(reloaded, '31.204');
	expect(reloaded.waiting.map((row) => [row.bench, row.text])).toEqual([['Ball', '31.204']]);
	// all of it is fetched when the server is there again: others went on meanwhile
	lookAtRun.mockResolvedValue(done(entry('residue')));
	await reloaded.look();
	expect(lookAtRun).toHaveBeenLastCalledWith('run-1', '1', -1);
	expect(reloaded.entry?.slot).toBe('residue');
});

const line = (label: string, headline: string) =>
	({ label, headline }) as unknown as RunView['trials'][number];

test('an answer to a change tells the lines that it made others, and leaves the rest as they stood', async () => {
	const made = bench();
	const before = { ...run(entry('vessel')), trials: [line('1', 'not yet'), line('2', 'x = 7.01')] };
	made.run = before;
	const told = { ...run(), since: before.version, trials: [line('1', 'x = 6.98')] };
	recordReading.mockResolvedValue({ kind: 'done', value: told });
	await type(made, '31.204');
	expect(made.run?.trials.map((row) => row.headline)).toEqual(['x = 6.98', 'x = 7.01']);
	lookAtRun.mockResolvedValue({ kind: 'done', value: null });
	await made.look();
	expect(lookAtRun).toHaveBeenLastCalledWith('run-1', '1', told.version);
});

test('an answer on another version than the one shown is fetched whole at the next look', async () => {
	const made = bench();
	const before = { ...run(entry('vessel')), trials: [line('1', 'not yet'), line('2', 'not yet')] };
	made.run = before;
	const told = { ...run(), since: before.version + 5, trials: [line('1', 'x = 6.98')] };
	recordReading.mockResolvedValue({ kind: 'done', value: told });
	await type(made, '31.204');
	expect(made.run?.version).toBe(told.version);
	const whole = { ...told, since: null, trials: [line('1', 'x = 6.98'), line('2', 'x = 7.01')] };
	lookAtRun.mockResolvedValue({ kind: 'done', value: whole });
	await made.look();
	expect(lookAtRun).toHaveBeenLastCalledWith('run-1', '1', -1);
	expect(made.run?.trials.map((row) => row.headline)).toEqual(['x = 6.98', 'x = 7.01']);
	await made.look();
	expect(lookAtRun).toHaveBeenLastCalledWith('run-1', '1', told.version);
});

test('a tap that did not come through is over as soon as the server answers again, though nothing is new', async () => {
	vi.useFakeTimers();
	try {
		const quiet = { now: '2026-11-24T17:30:00Z', since: 'seen', benches: [], runs: {} };
		getChanges.mockResolvedValue({ kind: 'done', value: quiet });
		const made = bench();
		const end = made.begin();
		lookAtRun.mockResolvedValue(done(entry('vessel')));
		await vi.advanceTimersByTimeAsync(2500);
		expect(made.away).toBe(false);
		markStep.mockResolvedValue({ kind: 'away', title: 'away' });
		await made.mark('heat#1', 'finished');
		expect(made.away).toBe(true);
		lookAtRun.mockResolvedValue({ kind: 'done', value: null });
		await vi.advanceTimersByTimeAsync(2500);
		expect(made.away).toBe(false);
		end();
	} finally {
		vi.useRealTimers();
	}
});

test('no place is ever shown as open that is neither waiting nor saved', async () => {
	const seen: (string | undefined)[] = [];
	const made = bench();
	recordReading.mockImplementation(async () => done(entry('vessel_sample')));
	made.type('31.204');
	const saving = made.entry ? made.record(made.entry) : Promise.resolve();
	let over = false;
	void saving.then(() => (over = true));
	while (!over) {
		seen.push(made.entry?.slot);
		await new Promise((resolve) => setImmediate(resolve));
	}
	expect(new Set(seen)).toEqual(new Set(['vessel_sample']));
});

test('what is typed for the next place is finished there before a reading that came back is asked about', async () => {
	let answer: (outcome: Outcome<RunView>) => void = () => undefined;
	recordReading.mockReturnValueOnce(new Promise((resolve) => (answer = resolve)));
	const made = bench();
	void type(made, '31.24');
	await vi.waitFor(() => expect(recordReading).toHaveBeenCalled());
	made.type('32.8');
	answer(problem('doubt', 'Read it again'));
	await vi.waitFor(() => expect(made.fault).toContain('vessel 31.24 g came back'));
	// the digits that follow go where the first ones were typed
	expect(made.entry?.slot).toBe('vessel_sample');
	made.type('32.861');
	if (made.entry) await made.record(made.entry);
	expect([made.entry?.slot, made.typed, made.doubt?.text]).toEqual(['vessel', '31.24', 'Read it again']);
	expect(outbox.of('run-1').map((row) => row.text)).toEqual(['31.24', '32.861']);
});

test('a figure stays with the field it was typed for, and is said when another device has recorded that', async () => {
	const made = bench();
	const end = made.begin();
	made.type('0.80');
	const taken = { slot: 'vessel', position: 1, current: true, label: 'vessel', text: '31.204', unit: 'g' };
	lookAtRun.mockResolvedValue({
		kind: 'done',
		value: { ...run(entry('vessel_sample')), readings: [taken] } as unknown as RunView
	});
	await made.look();
	end();
	expect([made.entry?.slot, made.typed]).toEqual(['vessel_sample', '']);
	expect(made.notice).toContain('vessel is recorded already: 31.204 g. “0.80” was typed for it');
	// what is typed from then on is for the field that is there
	made.type('32.861');
	await made.look();
	expect(made.typed).toBe('32.861');
});

test('a reading that came back before its run was fetched keeps the field when the run comes', async () => {
	const asked = { code: 'doubt', title: 'Read it again', fault: '', suggestion: null };
	await outbox.put('run-1', [reading('row-13.286', 1, { text: '13.286', asked })]);
	lookAtRun.mockResolvedValue({ kind: 'away', title: '' });
	const made = new Bench('run-1', null);
	const end = made.begin();
	await vi.waitFor(() => expect(made.typed).toBe('13.286'));
	lookAtRun.mockResolvedValue(done(entry('vessel'), entry('vessel_sample')));
	await made.look();
	end();
	expect([made.trial, made.typed, made.doubt?.text]).toEqual(['1', '13.286', 'Read it again']);
});

test('without a server each trial is shown as it was seen last, and what another page sent as saved', async () => {
	const row = { slot: 'vessel', position: 1, text: '31.204', unit: 'g', current: true, label: 'vessel' };
	const seen = (label: string, version: number) => ({
		...run(entry('vessel'), entry('residue')),
		uuid: 'run-2',
		bench: 'Ball',
		version,
		trial: { label },
		trials: [{ label: '1' }, { label: '2' }]
	});
	for (const [label, version] of [
		['1', 3],
		['2', 4]
	] as const) {
		lookAtRun.mockResolvedValue({ kind: 'done', value: seen(label, version) });
		await new Bench('run-2', label).look();
	}
	await vi.waitFor(async () => expect((await keptRun('run-2', null))?.trial.label).toBe('2'));
	// an older answer that comes late takes nothing back
	await keepRun(seen('1', 2) as unknown as RunView);
	expect((await keptRun('run-2', '1'))?.version).toBe(3);
	// what waits goes out while no bench is open: its answer leaves out the lines of trials that did not change
	const bench = new Bench('run-2', '1');
	bench.run = seen('1', 3) as unknown as RunView;
	recordReading.mockResolvedValue({ kind: 'away', title: 'away' });
	await type(bench, '31.204');
	const saved = {
		...seen('1', 5),
		...run(entry('residue')),
		version: 5,
		since: 4,
		trials: [{ label: '1', doing: 'Heat' }],
		readings: [row]
	};
	recordReading.mockResolvedValue({ kind: 'done', value: saved });
	await vi.waitFor(async () => {
		await outbox.send('run-2');
		expect((await keptRun('run-2', '1'))?.version).toBe(5);
	});
	lookAtRun.mockResolvedValue({ kind: 'away', title: 'away' });
	const again = new Bench('run-2', '1');
	await again.look();
	expect(again.run?.readings.map((one) => one.text)).toEqual(['31.204']);
	expect(again.run?.trials.map((line) => line.label)).toEqual(['1', '2']);
	expect(again.entry?.slot).toBe('residue');
});

test('a figure that is confirmed goes out before what was typed behind it', async () => {
	recordReading.mockResolvedValueOnce({ kind: 'away', title: 'away' });
	const made = bench();
	await type(made, '40.60');
	recordReading.mockResolvedValue({ kind: 'away', title: 'away' });
	await type(made, '41.32');
	// the server is there again, and asks about the first
	recordReading.mockReset().mockResolvedValueOnce(problem('doubt', 'two decimals?'));
	await outbox.send('run-1');
	expect(made.doubt?.reading.text).toBe('40.60');
	recordReading.mockResolvedValue(done(entry('residue')));
	await made.confirm();
	expect(sent().map((row) => [row.text, row.confirmed])).toEqual([
		['40.60', false],
		['40.60', true],
		['41.32', false]
	]);
});
