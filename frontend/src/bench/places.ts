import type { ReadingView, RunView } from '../api/client';

export type Place = {
	slot: string;
	label: string;
	/** The figure that stands there, empty where none does. */ taken: string;
};

/** Where a reading can belong instead: what is still to come, and what stands and would change places with it. */
export function placesBeside(run: RunView, row: ReadingView): Place[] {
	const places = new Map<string, Place>();
	const add = (slot: string, label: string, taken: string) => {
		if (slot !== row.slot && !places.has(slot)) places.set(slot, { slot, label, taken });
	};
	for (const entry of run.upcoming) add(entry.slot, entry.label, '');
	for (const one of run.readings)
		if (one.current && one.state === 'taken' && one.trial === row.trial)
			add(one.slot, one.label, `${one.text} ${one.unit}`);
	return [...places.values()];
}
