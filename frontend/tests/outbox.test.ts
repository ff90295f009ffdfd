import 'fake-indexeddb/auto';
import { beforeEach, expect, test, vi } from 'vitest';
import type { ReadingBody } from '../src/api/client';
import { allQueued, dropQueued, putQueued } from '../src/offline/store';
import { problem, reading } from './support';

const recordReading = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	recordReading
}));
const { outbox } = await import('../src/offline/outbox.svelte');

const AWAY = { kind: 'away', title: 'away' };
const DONE = { kind: 'done', value: {} };
const sent = (): string[] => recordReading.mock.calls.map(([, body]) => (body as ReadingBody).uuid);
const held = async (): Promise<string[]> => ((await allQueued()) ?? []).map((row) => row.uuid).sort();

beforeEach(async () => {
	recordReading.mockReset();
	for (const row of (await allQueued()) ?? []) await dropQueued(row.uuid);
	await outbox.look();
});

test('whatever page is open sends what waits on the device, each run in its order, each once', async () => {
	await putQueued([reading('b', 2), reading('a', 1), reading('c', 1, { run: 'run-2' })]);
	recordReading.mockResolvedValue(DONE);
	const end = outbox.begin();
	await vi.waitFor(async () => expect(await held()).toEqual([]));
	end();
	expect(sent().filter((uuid) => uuid !== 'c')).toEqual(['a', 'b']);
	expect(sent().sort()).toEqual(['a', 'b', 'c']);
	expect(outbox.rows).toEqual([]);
});

test('what is put is on the device before it is sent, and stays there until the server has it', async () => {
	let seen: string[] = [];
	recordReading.mockImplementation(async () => {
		seen = await held();
		return AWAY;
	});
	await outbox.put('run-1', [reading('a', 1)]);
	expect(seen).toEqual(['a']);
	expect(await held()).toEqual(['a']);
	recordReading.mockResolvedValue(DONE);
	await outbox.send('run-1');
	expect(await held()).toEqual([]);
});

test('one that comes back with a question holds what waits behind it, and says so after a reload too', async () => {
	recordReading.mockResolvedValue(problem('doubt', 'two decimals?'));
	await outbox.put('run-1', [reading('a', 1), reading('b', 2)]);
	expect(sent()).toEqual(['a']);
	await outbox.look();
	expect(outbox.of('run-1').map((row) => row.asked?.title)).toEqual(['two decimals?', undefined]);
	recordReading.mockResolvedValue(DONE);
	await outbox.send('run-1');
	expect(sent()).toEqual(['a']);
	await outbox.put('run-1', [reading('d', 0)], 'a');
	expect(sent()).toEqual(['a', 'd', 'b']);
	expect(await held()).toEqual([]);
});

test('what is put while the device is read does not vanish from the page', async () => {
	recordReading.mockResolvedValue(AWAY);
	const looking = outbox.look();
	const putting = outbox.put('run-1', [reading('a', 1)]);
	await Promise.all([looking, putting]);
	expect(outbox.of('run-1').map((row) => row.uuid)).toEqual(['a']);
});

test('a question at one bench keeps no other bench waiting', async () => {
	recordReading.mockResolvedValueOnce(problem('not-a-number', 'is not a number')).mockResolvedValue(DONE);
	await outbox.put('run-1', [reading('a', 1)]);
	await outbox.put('run-2', [reading('c', 1, { run: 'run-2' })]);
	expect(await held()).toEqual(['a']);
});

test('while the class is closed, or somebody else is signed in, it waits and is not a question', async () => {
	recordReading.mockResolvedValue(problem('not-yours', 'The class is closed'));
	const told = vi.fn();
	const end = outbox.attend('run-1', told);
	await outbox.put('run-1', [reading('a', 1)]);
	end();
	expect(told.mock.calls[0]?.[1]).toEqual({ kind: 'away', title: 'The class is closed' });
	expect(outbox.of('run-1')[0]?.asked).toBeUndefined();
	recordReading.mockResolvedValue(DONE);
	await outbox.send('run-1');
	expect(await held()).toEqual([]);
});

test('while nobody answers it is tried less and less often, and at once when the network is there again', async () => {
	recordReading.mockResolvedValue(AWAY);
	await putQueued([reading('a', 1)]);
	vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] });
	try {
		const end = outbox.begin();
		for (let second = 0; second < 60; second += 1) {
			await vi.advanceTimersByTimeAsync(1000);
			// what the database does takes turns of its own
			await new Promise((resolve) => setImmediate(resolve));
			await new Promise((resolve) => setImmediate(resolve));
		}
		const tries = recordReading.mock.calls.length;
		expect(tries).toBeGreaterThan(4);
		expect(tries).toBeLessThan(16);
		recordReading.mockResolvedValue(DONE);
		window.dispatchEvent(new Event('online'));
		for (let turn = 0; turn < 5; turn += 1) {
			await vi.advanceTimersByTimeAsync(500);
			await new Promise((resolve) => setImmediate(resolve));
			await new Promise((resolve) => setImmediate(resolve));
		}
		end();
		expect(recordReading.mock.calls.length).toBe(tries + 1);
	} finally {
		vi.useRealTimers();
	}
	expect(await held()).toEqual([]);
});

test('a device without a database sends all the same', async () => {
	const without = vi.spyOn(indexedDB, 'open').mockImplementation(() => {
		throw new Error('forbidden');
	});
	vi.resetModules();
	const { outbox: bare } = await import('../src/offline/outbox.svelte');
	recordReading.mockResolvedValueOnce(AWAY);
	await bare.put('run-1', [reading('a', 1)]);
	await bare.look();
	expect(bare.rows).toHaveLength(1);
	recordReading.mockResolvedValue(DONE);
	await bare.send('run-1');
	expect(bare.rows).toEqual([]);
	without.mockRestore();
});
