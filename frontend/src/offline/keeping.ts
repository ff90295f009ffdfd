/** Small things kept on this device between reloads. A device that keeps nothing works all the same. */
import { PLACE } from '../api/place';

const PREFIX = `${PLACE}:`;

export function keep(name: string, value: unknown): void {
	try {
		localStorage.setItem(PREFIX + name, JSON.stringify(value));
	} catch {
		// full or forbidden storage: the page itself still holds it
	}
}

export function kept<T>(name: string): T | null {
	try {
		const text = localStorage.getItem(PREFIX + name);
		return text === null ? null : (JSON.parse(text) as T);
	} catch {
		return null;
	}
}

export function forget(name: string): void {
	try {
		localStorage.removeItem(PREFIX + name);
	} catch {
		// nothing was kept
	}
}

/** The rest of every name with this beginning. */
export function keptNames(beginning: string): string[] {
	try {
		const names = Array.from({ length: localStorage.length }, (_, index) => localStorage.key(index) ?? '');
		return names
			.filter((name) => name.startsWith(PREFIX + beginning))
			.map((name) => name.slice(PREFIX.length + beginning.length));
	} catch {
		return [];
	}
}

/** Everything kept under names with this beginning. */
export function keptAll<T>(beginning: string): T[] {
	const found: T[] = [];
	try {
		for (let index = 0; index < localStorage.length; index += 1) {
			const name = localStorage.key(index);
			if (!name?.startsWith(PREFIX + beginning)) continue;
			const value = kept<T>(name.slice(PREFIX.length));
			if (value !== null) found.push(value);
		}
	} catch {
		// a device that keeps nothing
	}
	return found;
}
