import { expect, test, vi } from 'vitest';
import type { ShelfView } from '../src/api/client';

const startRun = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	startRun,
	getCalibrations: vi.fn().mockResolvedValue({ kind: 'away', title: 'away' })
}));
const { StartForm } = await import('../src/runs/start.svelte');

const words = { inverted_burette: { tube: 'burette' } };
const shelf = {
	benches: [{ id: 7, name: 'Marl' }],
	balances: [{ id: 1 }],
	defaults: { balance: 1, volume: 2 },
	elevation: '520 m',
	instruments: [
		{ id: 2, kind: 'volume', name: 'Gas tube', capacity: '', direction: '', half_width: '0.05 mL' },
		{ id: 3, kind: 'volume', name: 'Burette', capacity: '50 mL', direction: 'inverted_burette' }
	],
	methods: [
		{ name: 'other', usual_first: false, options: {}, procedures: [], reads: [], planned: '' },
		{
			name: 'gas',
			usual_first: true,
			planned: 'sample',
			reads: ['balance', 'volume'],
			options: {
				properties: {
					mark: { title: 'Last mark', type: 'string', default: null, told_by: 'volume.capacity' },
					reading: {
						title: 'Counts',
						type: 'string',
						pattern: '^(direct|inverted_burette)$',
						default: 'direct',
						told_by: 'volume.direction',
						schools: words
					}
				}
			},
			procedures: [{ name: 'p', schools: [{ name: 'tube', default: 'cylinder', choices: {} }] }]
		}
	]
} as unknown as ShelfView;

function form(): InstanceType<typeof StartForm> {
	const made = new StartForm();
	made.offer(shelf);
	return made;
}

test('it begins with the method that is usual first, and what the day has', () => {
	const made = form();
	expect([made.methodName, made.benchId, made.balanceId]).toEqual(['gas', 7, 1]);
	expect(made.schools).toEqual({ tube: 'cylinder' });
	expect(made.kinds.map((row) => row.kind)).toEqual(['volume']);
});

test('an instrument tells what hangs on it, and takes nothing away that it does not know', () => {
	const made = form();
	made.useInstrument('volume', 3);
	expect(made.values).toEqual({ mark: '50 mL', reading: 'inverted_burette' });
	expect(made.schools['tube']).toBe('burette');
	made.useInstrument('volume', 2);
	expect(made.values).toEqual({ mark: '', reading: 'inverted_burette' });
});

test('faults stand at their fields, and what was typed stays', async () => {
	const made = form();
	made.title = 'Zinc';
	startRun.mockResolvedValueOnce({
		kind: 'problem',
		code: 'refused',
		title: 'refused',
		faults: [{ code: 'x', path: 'options.mark[0]', message: 'give it' }]
	});
	expect(await made.send()).toBeNull();
	expect(made.fault('options.mark')).toBe('give it');
	expect(made.faultUnderMore).toBe(true);
	expect(made.title).toBe('Zinc');
	expect(made.notice).toContain('see the fields above');
});

test('a start whose answer is lost is asked for again under the same number', async () => {
	const made = form();
	startRun.mockReset();
	startRun.mockResolvedValue({ kind: 'away', title: 'away' });
	await made.send();
	await made.send();
	const [first, second] = startRun.mock.calls.map(([body]) => (body as { uuid: string }).uuid);
	expect(first).toBe(second);
	startRun.mockResolvedValueOnce({ kind: 'done', value: { uuid: first } });
	expect(await made.send()).toBe(first);
	await made.send();
	expect((startRun.mock.calls.at(-1)?.[0] as { uuid: string }).uuid).not.toBe(first);
});
