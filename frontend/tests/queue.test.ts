import 'fake-indexeddb/auto';
import { beforeEach, expect, test } from 'vitest';
import { asBody, before, behind, inOrder, saidOfWaiting, type Queued } from '../src/offline/queue';
import { allQueued, dropQueued, putQueued } from '../src/offline/store';
import { reading } from './support';

beforeEach(async () => {
	localStorage.clear();
	for (const row of (await allQueued()) ?? []) await dropQueued(row.uuid);
});

const waiting = async (): Promise<string[]> => inOrder((await allQueued()) ?? []).map((row) => row.uuid);

test('what waits is found again in its order', async () => {
	await putQueued([reading('b', 2), reading('a', 1)]);
	expect(await waiting()).toEqual(['a', 'b']);
	await dropQueued('a');
	expect(await waiting()).toEqual(['b']);
});

test('one that takes the place of another is there and the other gone, in one go', async () => {
	await putQueued([reading('a', 1)]);
	await putQueued([reading('b', 1)], 'a');
	expect(await waiting()).toEqual(['b']);
});

test('what an earlier version of the page kept is taken over once', async () => {
	const old: Partial<Queued> = reading('a', 1);
	delete old.run;
	localStorage.setItem('kettle:queue:run-7:a', JSON.stringify(old));
	expect((await allQueued())?.map((row) => [row.run, row.text])).toEqual([['run-7', '31.204']]);
	expect(localStorage.length).toBe(0);
	await dropQueued('a');
	expect(await waiting()).toEqual([]);
});

test('a reading goes behind all that waits, one that came back before it', () => {
	const rows = [reading('a', 3), reading('b', 5)];
	expect(behind(rows)).toBe(6);
	expect(before(rows)).toBe(-1);
	expect(behind([])).toBe(1);
});

test('what is sent of one that an older page kept names no instrument', () => {
	const old = reading('a', 1);
	delete (old as Partial<Queued>).instrument;
	delete (old as Partial<Queued>).half_width;
	expect(asBody(old)).toMatchObject({ instrument: '', half_width: '', text: '31.204' });
	expect(asBody(old)).not.toHaveProperty('label');
	expect(asBody(old)).not.toHaveProperty('run');
});

test('what waits is said in one line, a question first', () => {
	const asked = { code: 'doubt', title: 'two decimals?', fault: '', suggestion: null };
	expect(saidOfWaiting([])).toBe('');
	expect(saidOfWaiting([reading('a', 1)])).toBe('1 reading waits to be sent');
	expect(saidOfWaiting([reading('a', 1), reading('b', 2)])).toBe('2 readings wait to be sent');
	expect(saidOfWaiting([reading('a', 1, { asked }), reading('b', 2)])).toBe(
		'1 reading comes back with a question'
	);
});
