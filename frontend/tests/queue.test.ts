import { beforeEach, expect, test } from 'vitest';
import { asBody, before, behind, dequeue, enqueue, queued, type Queued } from '../src/offline/queue';

const reading = (uuid: string, order: number, more: Partial<Queued> = {}): Queued => ({
	uuid,
	slot: 'vessel',
	position: 1,
	text: '31.204',
	trial: '1',
	by: '',
	confirmed: false,
	typed_at: '2026-11-24T17:30:00.000Z',
	instrument: '',
	half_width: '',
	label: 'vessel',
	unit: 'g',
	order,
	...more
});

beforeEach(() => localStorage.clear());

test('what waits is found again in its order, each run its own', () => {
	enqueue('run-1', reading('b', 2));
	enqueue('run-1', reading('a', 1));
	enqueue('run-2', reading('c', 1));
	expect(queued('run-1').map((row) => row.uuid)).toEqual(['a', 'b']);
	dequeue('run-1', reading('a', 1));
	expect(queued('run-1').map((row) => row.uuid)).toEqual(['b']);
	expect(queued('run-2')).toHaveLength(1);
});

test('a reading goes behind all that waits, one that came back before it', () => {
	const waiting = [reading('a', 3), reading('b', 5)];
	expect(behind(waiting)).toBe(6);
	expect(before(waiting)).toBe(-1);
	expect(behind([])).toBe(1);
});

test('what is sent of one that an older page kept names no instrument', () => {
	const old = reading('a', 1);
	delete (old as Partial<Queued>).instrument;
	delete (old as Partial<Queued>).half_width;
	expect(asBody(old)).toMatchObject({ instrument: '', half_width: '', text: '31.204' });
	expect(asBody(old)).not.toHaveProperty('label');
});
