import { getWho, type WhoView } from '../api/client';
import { forget, keep, kept } from '../offline/keeping';
import { forgetRuns } from '../offline/store';

const KEPT = 'who';
const words = (is: WhoView | null): string =>
	is ? JSON.stringify([is.kind, is.login, is.section, is.bench]) : '';

/** Who is signed in with this browser; null until it is known, and for nobody. */
class Who {
	is = $state.raw<WhoView | null>(null);

	/** A tablet at a bench sees its bench, and nothing to go elsewhere. */
	readonly atBench = $derived(this.is?.kind === 'bench');

	/** The rooms that this caller may enter; null for all. */
	readonly sees = $derived<string[] | null>(
		this.is?.kind === 'bench' ? ['/formula', '/equation'] : this.is?.kind === 'board' ? ['/lab'] : null
	);

	async look(): Promise<void> {
		const outcome = await getWho();
		// without a server it is who it was
		if (outcome.kind === 'away') this.is = kept<WhoView>(KEPT);
		else if (outcome.kind === 'done') await this.#found(outcome.value);
		else if (outcome.code === 'not-signed-in') await this.#found(null);
		// the class of this tablet is closed: it may be opened again
		else this.is = null;
	}

	/** Somebody else has this device now, or nobody: what was seen of runs is not theirs. */
	async #found(is: WhoView | null): Promise<void> {
		if (words(is) !== words(kept<WhoView>(KEPT))) await forgetRuns();
		if (is) keep(KEPT, is);
		else forget(KEPT);
		this.is = is;
	}
}

export const who = new Who();
