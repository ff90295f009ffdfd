import { clock } from '../ui/clock.svelte';
import { boardAfter, cardsAfter } from './board';
import { getChanges, type BoardView, type CardView, type Outcome } from './client';

const LOOK_MS = 1000;
const LONGEST_MS = 15_000;

/** What has changed of a class, asked again and again: less often while nobody answers. */
export class Feed {
	/** All that is known of the class, each part as it was told last. */
	board = $state.raw<BoardView | null>(null);
	cards = $state.raw<CardView[]>([]);
	away = $state(false);
	/** Why nothing is shown: the class is closed, or somebody else's. */
	refused = $state('');
	#since = '';
	#pause = LOOK_MS;
	#asking = false;

	constructor(readonly number: number) {}

	/** Look now and as long as the page is there; gives back what ends it. A page that nobody sees does not ask. */
	begin(): () => void {
		let timer = 0;
		let ended = false;
		const ask = async (): Promise<void> => {
			if (!document.hidden) await this.look();
			if (!ended) timer = window.setTimeout(() => void ask(), this.#pause);
		};
		const now = (): void => {
			if (document.hidden) return;
			this.#pause = LOOK_MS;
			window.clearTimeout(timer);
			void ask();
		};
		document.addEventListener('visibilitychange', now);
		window.addEventListener('online', now);
		void ask();
		return () => {
			ended = true;
			window.clearTimeout(timer);
			document.removeEventListener('visibilitychange', now);
			window.removeEventListener('online', now);
		};
	}

	async look(): Promise<void> {
		if (this.#asking) return;
		this.#asking = true;
		this.take(await getChanges(this.number, this.#since));
		this.#asking = false;
	}

	/** Whatever an answer tells: the changes since `since`, which is this feed's own. */
	take(outcome: Outcome<BoardView>): void {
		this.away = outcome.kind === 'away';
		if (outcome.kind === 'away') {
			this.#pause = Math.min(LONGEST_MS, this.#pause * 2);
			return;
		}
		this.#pause = LOOK_MS;
		if (outcome.kind === 'problem') {
			this.refused = outcome.title;
			this.#pause = LONGEST_MS;
			return;
		}
		this.refused = '';
		const told = outcome.value;
		clock.set(told.now);
		if (told.since === this.#since && this.board) return;
		this.#since = told.since;
		this.board = boardAfter(this.board, told);
		this.cards = cardsAfter(this.cards, told);
	}

	get since(): string {
		return this.#since;
	}
}
