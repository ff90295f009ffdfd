/**
 * The one way out for readings: whatever page is open sends what waits on this device, run by run in order, each until
 * the server has it or asks something. What is asked waits for its bench.
 */
import { recordReading, type Outcome, type RunView } from '../api/client';
import { PLACE } from '../api/place';
import { asBody, inOrder, type Queued } from './queue';
import { allQueued, dropQueued, keepRun, putQueued } from './store';

const AGAIN_MS = 1000;
const LONGEST_MS = 8000;
/** What a server says to the wrong caller, or while the class is closed: it may be sent later. */
const LATER = ['not-yours', 'not-signed-in'];

/** Told of everything that becomes of a run's readings while its bench is open. */
type Taker = (reading: Queued, outcome: Outcome<RunView>) => void;

function asked(row: Queued, problem: Outcome<RunView> & { kind: 'problem' }): Queued {
	const { code, title, suggestion, faults } = problem;
	return { ...row, asked: { code, title, suggestion, fault: faults[0]?.message ?? title } };
}

class Outbox {
	rows = $state.raw<Queued[]>([]);
	#takers = new Map<string, Taker>();
	#sending = new Set<string>();
	#changing = 0;
	#changes = 0;
	#pause = AGAIN_MS;
	#notBefore = 0;

	/** What waits of a run, in order; the first may have come back with a question. */
	of(run: string): Queued[] {
		return this.rows.filter((row) => row.run === run);
	}

	isSending(run: string): boolean {
		return this.#sending.has(run);
	}

	/** Tell a run's bench what becomes of its readings; gives back what ends it. */
	attend(run: string, taker: Taker): () => void {
		this.#takers.set(run, taker);
		return () => {
			if (this.#takers.get(run) === taker) this.#takers.delete(run);
		};
	}

	/** Put readings of a run on their way, in place of one that came back. */
	async put(run: string, rows: Queued[], instead?: string): Promise<void> {
		this.rows = inOrder([...this.rows.filter((row) => row.uuid !== instead), ...rows]);
		// kept before it is sent: a page that dies now finds it again
		await this.#keeping(() => putQueued(rows, instead));
		await this.send(run);
	}

	/** Leave one out that came back. */
	async drop(uuid: string): Promise<void> {
		this.rows = this.rows.filter((row) => row.uuid !== uuid);
		await this.#keeping(() => dropQueued(uuid));
	}

	/** What waits on this device, also what another page of it put there. */
	async look(): Promise<void> {
		const before = this.#changes;
		const found = await allQueued();
		// what was put or sent while it was read is newer
		if (found && !this.#changing && before === this.#changes) this.rows = inOrder(found);
	}

	/** Look now and as long as the page is there, seen or not; gives back what ends it. */
	begin(): () => void {
		this.soon();
		let timer = 0;
		let ended = false;
		const go = async (): Promise<void> => {
			await this.look();
			if (Date.now() >= this.#notBefore) for (const run of this.#runs()) await this.send(run);
			if (!ended) timer = window.setTimeout(() => void go(), AGAIN_MS);
		};
		const now = (): void => this.soon();
		window.addEventListener('online', now);
		void go();
		return () => {
			ended = true;
			window.clearTimeout(timer);
			window.removeEventListener('online', now);
		};
	}

	/** Whoever heard from the server says so: what waits is tried at the next turn. */
	soon(): void {
		this.#notBefore = 0;
		this.#pause = AGAIN_MS;
	}

	/** Send what waits of a run, in order. Of several pages of one browser one sends. */
	async send(run: string): Promise<void> {
		if (this.#sending.has(run)) return;
		this.#sending.add(run);
		try {
			const locks = (navigator as Partial<Navigator>).locks;
			// over plain HTTP from another machine there are no locks: the server keeps each reading once anyway
			if (locks)
				await locks.request(`${PLACE}:${run}`, { ifAvailable: true }, (lock) => lock && this.#sendAll(run));
			else await this.#sendAll(run);
		} finally {
			this.#sending.delete(run);
		}
	}

	async #sendAll(run: string): Promise<void> {
		for (let row = this.of(run)[0]; row && !row.asked; row = this.of(run)[0]) {
			const outcome = await recordReading(run, asBody(row));
			const isLater = outcome.kind === 'problem' && LATER.includes(outcome.code);
			if (outcome.kind === 'away' || isLater) {
				this.#notBefore = Date.now() + this.#pause;
				this.#pause = Math.min(LONGEST_MS, this.#pause * 2);
				this.#takers.get(run)?.(row, { kind: 'away', title: outcome.title });
				return;
			}
			this.#pause = AGAIN_MS;
			const after = outcome.kind === 'problem' ? asked(row, outcome) : null;
			this.rows = this.rows.flatMap((one) => (one.uuid === row.uuid ? (after ?? []) : one));
			// in the same breath, so that the bench never shows a place as open that is neither waiting nor saved
			this.#takers.get(run)?.(row, outcome);
			// also where no bench is open: one that is opened without a server shows what was saved
			if (outcome.kind === 'done') void keepRun(outcome.value);
			await this.#keeping(() => (after ? putQueued([after]) : dropQueued(row.uuid)));
		}
	}

	/** While something is on its way into the database, what is read from it is older. */
	async #keeping(work: () => Promise<boolean>): Promise<void> {
		this.#changing += 1;
		this.#changes += 1;
		await work();
		this.#changing -= 1;
	}

	#runs(): string[] {
		return [...new Set(this.rows.map((row) => row.run))];
	}
}

export const outbox = new Outbox();
