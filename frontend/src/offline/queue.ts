import type { ReadingBody, RunView } from '../api/client';

/** What the server asked about a reading that waits, or refused: it waits for whoever stands at its bench. */
export type Asked = { code: string; title: string; fault: string; suggestion: string | null };

/** A reading on its way: kept on the device until the server has it. */
export type Queued = ReadingBody & {
	run: string;
	/** Where it was typed, as a person says it. */
	bench: string;
	label: string;
	unit: string;
	order: number;
	asked?: Asked | null;
};

/** The place behind all that waits, or before it. */
export const behind = (queue: Queued[]): number => Math.max(0, ...queue.map((row) => row.order)) + 1;
export const before = (queue: Queued[]): number => Math.min(0, ...queue.map((row) => row.order)) - 1;

export const inOrder = (rows: Queued[]): Queued[] => [...rows].sort((a, b) => a.order - b.order);

/** What is sent of it. */
export function asBody(reading: Queued): ReadingBody {
	const { uuid, slot, position, text, trial, by, confirmed, typed_at } = reading;
	// one that was kept by an older page names no instrument and no half-width
	const { instrument = '', half_width = '', by_itself = '' } = reading as Partial<ReadingBody>;
	return { uuid, slot, position, text, trial, by, confirmed, typed_at, instrument, half_width, by_itself };
}

/** What waits, said in one line; empty where nothing does. */
export function saidOfWaiting(rows: Queued[]): string {
	const asked = rows.filter((row) => row.asked).length;
	if (asked) return `${asked} ${asked === 1 ? 'reading comes' : 'readings come'} back with a question`;
	return rows.length
		? `${rows.length} ${rows.length === 1 ? 'reading waits' : 'readings wait'} to be sent`
		: '';
}

/** An answer with the lines of those trials that it left out, as they were before. */
export function wholeOf(answer: RunView, before: RunView): RunView {
	if (answer.since === null) return answer;
	const changed = (label: string) => answer.trials.find((line) => line.label === label);
	return { ...answer, trials: before.trials.map((line) => changed(line.label) ?? line) };
}
