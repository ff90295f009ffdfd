import type { Outcome, RunView } from '../src/api/client';
import type { Queued } from '../src/offline/queue';

export const reading = (uuid: string, order: number, more: Partial<Queued> = {}): Queued => ({
	uuid,
	run: 'run-1',
	bench: 'Ball',
	slot: 'vessel',
	position: 1,
	text: '31.204',
	trial: '1',
	by: '',
	confirmed: false,
	typed_at: '2026-11-24T17:30:00.000Z',
	instrument: '',
	half_width: '',
	by_itself: '',
	label: 'vessel',
	unit: 'g',
	order,
	...more
});

export const problem = (
	code: string,
	title: string,
	suggestion: string | null = null
): Outcome<RunView> & { kind: 'problem' } => ({
	kind: 'problem',
	code,
	title,
	faults: code === 'doubt' ? [] : [{ code, path: 'text', message: title, suggestion: '' }],
	doubt: code === 'doubt' ? 'digits' : null,
	suggestion
});
