/** What is known of a class, put together from what was told: an answer tells what has changed, and nothing else. */
import type { BoardView, CardView } from './client';

export function boardAfter(before: BoardView | null, told: BoardView): BoardView {
	return {
		...told,
		head: told.head ?? before?.head ?? null,
		calls: told.calls ?? before?.calls ?? null,
		// a scale may be gone again where what it showed was taken back
		scale: told.order ? told.scale : (before?.scale ?? null),
		room: told.room ?? before?.room ?? null,
		messages: told.messages ?? before?.messages ?? null
	};
}

/** The benches in the order told, each as it was told last. */
export function cardsAfter(before: CardView[], told: BoardView): CardView[] {
	if (!told.order) return before;
	const known = new Map([...before, ...(told.benches ?? [])].map((card) => [card.bench, card]));
	return told.order.flatMap((bench) => known.get(bench) ?? []);
}
