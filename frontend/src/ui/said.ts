import type { Fault, Outcome } from '../api/client';

/** What became of one thing that was sent: nothing wrong, faults at fields, a question, or what belongs to no field. */
export type Said = { faults: Fault[]; doubt: string; trouble: string };

export const NOTHING: Said = { faults: [], doubt: '', trouble: '' };

/** What an outcome says; NOTHING itself where it was done. */
export function saidOf(outcome: Outcome<unknown>): Said {
	if (outcome.kind === 'done') return NOTHING;
	if (outcome.kind === 'away')
		return { ...NOTHING, trouble: `${outcome.title} What you typed is still here.` };
	if (outcome.code === 'doubt') return { ...NOTHING, doubt: outcome.title };
	const general = outcome.faults.filter((row) => row.path === '').map((row) => row.message);
	return {
		...NOTHING,
		faults: outcome.faults,
		trouble: outcome.faults.length ? general.join(' ') : outcome.title
	};
}

/** The message for a field, empty while it is well. */
export const faultAt = (said: Said, path: string): string =>
	said.faults.find((row) => row.path === path)?.message ?? '';
