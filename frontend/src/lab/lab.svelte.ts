import {
	answerCall,
	endClass,
	moveEnd,
	newUuid,
	openAnswers,
	sayToBenches,
	type BoardView,
	type CallView,
	type Outcome
} from '../api/client';
import { Feed } from '../api/feed.svelte';

export type Reveal = NonNullable<BoardView['head']>['reveal'];

/** A class while it runs, and what an instructor does about it. */
export class Lab {
	readonly feed: Feed;
	/* a tap whose answer was lost is sent again under its own number */
	#uuids: Record<string, string | undefined> = {};

	constructor(readonly number: number) {
		this.feed = new Feed(number);
	}

	/** Answer a call; what is wrong with that, or nothing. */
	async answer(call: CallView, kind: 'reached' | 'snoozed' | 'noted' | 'signed', text = ''): Promise<string> {
		const name = `${call.run} ${call.key} ${kind} ${text}`;
		const { run, code, key } = call;
		const body = { uuid: this.#uuid(name), run, code, key, kind, text, by: '', since: this.feed.since };
		return this.#done(name, await answerCall(this.number, body));
	}

	/** Say something to a bench, or (null) to all; what is wrong with that, or nothing. */
	async say(text: string, bench: number | null): Promise<string> {
		const name = `${bench ?? 'all'} ${text}`;
		const body = { uuid: this.#uuid(name), text, bench, by: '', since: this.feed.since };
		return this.#done(name, await sayToBenches(this.number, body));
	}

	/** Let the class end so many minutes later than it was planned. */
	async extend(minutes: number): Promise<string> {
		return this.#done('', await moveEnd(this.number, minutes, this.feed.since));
	}

	/** End the class, or open it again. */
	async end(ended: boolean): Promise<string> {
		return this.#done('', await endClass(this.number, ended, this.feed.since));
	}

	/** Say when the benches see the answers. */
	async reveal(reveal: Reveal): Promise<string> {
		return this.#done('', await openAnswers(this.number, reveal, this.feed.since));
	}

	#uuid(name: string): string {
		return (this.#uuids[name] ??= newUuid());
	}

	#done(name: string, outcome: Outcome<BoardView>): string {
		if (outcome.kind !== 'done')
			return (outcome.kind === 'problem' && outcome.faults[0]?.message) || outcome.title;
		this.#uuids[name] = undefined;
		this.feed.take(outcome);
		return '';
	}
}
