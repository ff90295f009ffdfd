import type { ReadingBody } from '../api/client';
import { forget, keep, keptAll, keptNames } from './keeping';

/** A reading on its way: kept on the device, each under its own name, until the server has it. */
export type Queued = ReadingBody & { label: string; unit: string; order: number };

const name = (run: string, uuid: string) => `queue:${run}:${uuid}`;

export function queued(run: string): Queued[] {
	return keptAll<Queued>(`queue:${run}:`).sort((a, b) => a.order - b.order);
}

/** How many readings wait on this device, by run. */
export function waiting(): Map<string, number> {
	const runs = new Map<string, number>();
	for (const rest of keptNames('queue:')) {
		const [run = ''] = rest.split(':');
		runs.set(run, (runs.get(run) ?? 0) + 1);
	}
	return runs;
}

export function enqueue(run: string, reading: Queued): void {
	keep(name(run, reading.uuid), reading);
}

export function dequeue(run: string, reading: Queued): void {
	forget(name(run, reading.uuid));
}

/** The place behind all that waits, or before it. */
export const behind = (queue: Queued[]): number => Math.max(0, ...queue.map((row) => row.order)) + 1;
export const before = (queue: Queued[]): number => Math.min(0, ...queue.map((row) => row.order)) - 1;

/** What is sent of it. */
export function asBody(reading: Queued): ReadingBody {
	const { uuid, slot, position, text, trial, by, confirmed, typed_at } = reading;
	// one that was kept by an older page names no instrument and no half-width
	const { instrument = '', half_width = '' } = reading as Partial<ReadingBody>;
	return { uuid, slot, position, text, trial, by, confirmed, typed_at, instrument, half_width };
}
