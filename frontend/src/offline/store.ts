/**
 * What this device holds in its database: readings on their way, and the runs as they were seen last. Everything that
 * opens the database goes through here; a device that has none works all the same, until it is reloaded.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { RunView } from '../api/client';
import { PLACE } from '../api/place';
import { forget, kept, keptNames } from './keeping';
import { wholeOf, type Queued } from './queue';

interface Held extends DBSchema {
	queue: { key: string; value: Queued };
	runs: { key: string; value: { uuid: string; at: number; view: RunView }; indexes: { at: number } };
}

const MOST_RUNS = 24;
let opened: Promise<IDBPDatabase<Held> | null> | null = null;

function database(): Promise<IDBPDatabase<Held> | null> {
	opened ??= open().catch(() => null);
	return opened;
}

// a browser may refuse by throwing at once
const open = async (): Promise<IDBPDatabase<Held>> =>
	openDB<Held>(PLACE, 1, {
		upgrade(made) {
			made.createObjectStore('queue', { keyPath: 'uuid' });
			made.createObjectStore('runs', { keyPath: 'uuid' }).createIndex('at', 'at');
		}
	});

/** Do something with the database; `otherwise` where the device has none, or has no room. */
async function within<T>(otherwise: T, work: (held: IDBPDatabase<Held>) => Promise<T>): Promise<T> {
	const held = await database();
	if (!held) return otherwise;
	try {
		return await work(held);
	} catch {
		return otherwise;
	}
}

/** Everything that waits on this device; null where it could not be read. */
export const allQueued = (): Promise<Queued[] | null> =>
	within<Queued[] | null>(null, async (held) => {
		await takeOver(held);
		return held.getAll('queue');
	});

/** Put readings in, in place of another, in one go: it holds the old or the new, never neither. */
export const putQueued = (rows: Queued[], instead?: string): Promise<boolean> =>
	within(false, async (held) => {
		const change = held.transaction('queue', 'readwrite');
		await Promise.all([
			...rows.map((row) => change.store.put(row)),
			...(instead ? [change.store.delete(instead)] : []),
			change.done
		]);
		return true;
	});

export const dropQueued = (uuid: string): Promise<boolean> =>
	within(false, async (held) => {
		await held.delete('queue', uuid);
		return true;
	});

/** What an earlier version of the page kept elsewhere. */
async function takeOver(held: IDBPDatabase<Held>): Promise<void> {
	for (const rest of keptNames('queue:')) {
		const row = kept<Queued>(`queue:${rest}`);
		if (row) await held.put('queue', { ...row, run: rest.split(':')[0] ?? '' });
		forget(`queue:${rest}`);
	}
}

/* each trial by itself: who comes back to one without a server sees that one */
const nameOf = (uuid: string, trial: string): string => `${uuid} ${trial}`;

/**
 * Keep a run as it was seen, so that its bench opens without a server. An answer that leaves out the lines of trials
 * which did not change takes them from what was kept; what is older than that is not kept.
 */
export const keepRun = (answer: RunView): Promise<boolean> =>
	within(false, async (held) => {
		const name = nameOf(answer.uuid, answer.trial.label);
		const before = (await held.get('runs', name))?.view;
		if (before && before.version > answer.version) return true;
		if (answer.since !== null && !before) return false;
		const view = before ? wholeOf(answer, before) : answer;
		await held.put('runs', { uuid: name, at: Date.now(), view });
		const all = await held.getAllKeysFromIndex('runs', 'at');
		for (const old of all.slice(0, Math.max(0, all.length - MOST_RUNS))) await held.delete('runs', old);
		return true;
	});

/** A run as this device saw it last, at one of its trials; at that which was seen last where none is named. */
export const keptRun = (uuid: string, trial: string | null): Promise<RunView | null> =>
	within<RunView | null>(null, async (held) => {
		if (trial !== null) return (await held.get('runs', nameOf(uuid, trial)))?.view ?? null;
		const rows = await held.getAllFromIndex('runs', 'at');
		return rows.reverse().find((row) => row.view.uuid === uuid)?.view ?? null;
	});

/** Somebody else has this device now: what was seen is not theirs. What waits to be sent stays. */
export const forgetRuns = (): Promise<boolean> =>
	within(false, async (held) => {
		await held.clear('runs');
		return true;
	});
