import { beforeEach, expect, test, vi } from 'vitest';
import type { Outcome, RunListView, RunSummary } from '../src/api/client';

const getRuns = vi.hoisted(() => vi.fn());
const getOlderRuns = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	getRuns,
	getOlderRuns,
	getShelf: vi.fn().mockResolvedValue({ kind: 'away', title: '' })
}));
const { Runs } = await import('../src/runs/runs.svelte');

const run = (uuid: string) => ({ uuid, title: uuid }) as unknown as RunSummary;
const page = (uuids: string, older = '', elsewhere = false): Outcome<RunListView> => ({
	kind: 'done',
	value: { now: '2026-11-24T17:30:00Z', today: '2026-11-24', runs: [...uuids].map(run), older, elsewhere }
});
const shown = (runs: InstanceType<typeof Runs>): string => runs.list.map((row) => row.uuid).join('');

beforeEach(() => {
	getRuns.mockReset();
	getOlderRuns.mockReset();
});

test('who has gone back loses nothing when new runs push others off the first page', async () => {
	const runs = new Runs();
	getRuns.mockResolvedValue(page('abc', 'c'));
	await runs.look();
	getOlderRuns.mockResolvedValue(page('def', ''));
	await runs.lookBack();
	expect(shown(runs)).toBe('abcdef');
	getRuns.mockResolvedValue(page('yxa', 'a'));
	await runs.look();
	expect(shown(runs)).toBe('yxabcdef');
	/* one of them is recorded in and comes to the top: it stands there once */
	getRuns.mockResolvedValue(page('eyx', 'x'));
	await runs.look();
	expect([...shown(runs)].sort().join('')).toBe('abcdefxy');
	expect(shown(runs).startsWith('eyx')).toBe(true);
	expect(runs.older).toBe('');
});

test('who has not gone back finds what was pushed off on the next page', async () => {
	const runs = new Runs();
	getRuns.mockResolvedValue(page('abc', 'c'));
	await runs.look();
	getRuns.mockResolvedValue(page('xab', 'b'));
	await runs.look();
	expect([shown(runs), runs.older]).toEqual(['xab', 'b']);
});

test('a page that comes when another day was chosen meanwhile is not put into it', async () => {
	const runs = new Runs();
	getRuns.mockResolvedValue(page('abc', 'c'));
	await runs.look();
	let answer: (outcome: Outcome<RunListView>) => void = () => undefined;
	getOlderRuns.mockReturnValueOnce(new Promise((resolve) => (answer = resolve)));
	const back = runs.lookBack();
	getOlderRuns.mockResolvedValue(page('m'));
	await runs.showDay('2026-11-17');
	answer(page('def'));
	await back;
	expect([shown(runs), runs.older]).toEqual(['m', '']);
	getRuns.mockResolvedValue(page('abc', 'c'));
	await runs.showDay('');
	expect([shown(runs), runs.older]).toEqual(['abc', 'c']);
});

test('everything is taken along by one word only where all that is listed is all there is', async () => {
	for (const [older, elsewhere, all] of [
		['', false, true],
		['c', false, false],
		['', true, false]
	] as const) {
		const runs = new Runs();
		getRuns.mockResolvedValue(page('abc', older, elsewhere));
		await runs.look();
		runs.chosen = ['a', 'b', 'c'];
		expect(runs.archive === '/api/runs/archive').toBe(all);
	}
});
