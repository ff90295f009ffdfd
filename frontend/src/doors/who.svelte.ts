import { getWho, type WhoView } from '../api/client';

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
		this.is = outcome.kind === 'done' ? outcome.value : null;
	}
}

export const who = new Who();
