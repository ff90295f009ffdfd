import { clock } from '../ui/clock.svelte';
import { boardAfter, cardsAfter } from './board';
import { getChanges, type BoardView, type CardView, type Outcome } from './client';
import { watch } from './watch';

const LOOK_MS = 1000;
const LONGEST_MS = 8_000;
/** A class that is closed may be opened again. */
const PATIENT_MS = 4_000;

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
	#wasAway = false;

	/** What a page does at every answer but one that told nothing new; `lists` asks for any change of the section. */
	constructor(
		readonly number: number,
		private readonly news: (told: BoardView | null) => void = () => undefined,
		private readonly lists = false
	) {}

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
			// one that is on its way goes on by itself
			if (this.#asking) return;
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
		this.take(await getChanges(this.number, this.#since, this.lists));
		this.#asking = false;
	}

	/** Whatever an answer tells: the changes since `since`, which is this feed's own. */
	take(outcome: Outcome<BoardView>): void {
		this.away = outcome.kind === 'away';
		this.#wasAway ||= outcome.kind !== 'done';
		if (outcome.kind === 'away') {
			this.#pause = Math.min(LONGEST_MS, this.#pause * 2);
			this.news(null);
			return;
		}
		this.#pause = LOOK_MS;
		if (outcome.kind === 'problem') {
			this.refused = outcome.title;
			this.#pause = PATIENT_MS;
			this.news(null);
			return;
		}
		this.refused = '';
		const told = outcome.value;
		clock.set(told.now);
		const wasAway = this.#wasAway;
		this.#wasAway = false;
		if (told.since === this.#since && this.board) {
			// whoever was away looks whether anything came of what waited
			if (wasAway) this.news(this.board);
			return;
		}
		this.#since = told.since;
		this.board = boardAfter(this.board, told);
		this.cards = cardsAfter(this.cards, told);
		this.news(told);
	}

	get since(): string {
		return this.#since;
	}
}

const AGAIN_MS = 3000;

/**
 * Look at something whenever the class at work, or another by its number, (with `lists`: its section) tells of a change, and again while it could
 * not be had; gives back what ends it.
 */
export function follow(look: () => Promise<boolean>, lists = false, number = 0): () => void {
	let failed = false;
	const go = async (): Promise<void> => {
		failed = !(await look());
	};
	const ends = [
		new Feed(number, () => void go(), lists).begin(),
		watch(() => (failed ? go() : Promise.resolve()), AGAIN_MS)
	];
	return () => ends.forEach((end) => end());
}
