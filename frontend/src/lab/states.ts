/** How a bench on the board is, in a sign and a word: the server's verdict, and what its timer says by now. */
import type { CardView } from '../api/client';
import { secondsLeft } from '../ui/clock.svelte';

export type Look = { look: 'stop' | 'time' | 'watch' | 'good' | 'none' | 'out'; sign: string; word: string };

export function lookOf(card: CardView): Look {
	if (card.doing === 'out') return { look: 'out', sign: '', word: 'dropped out' };
	if (card.level === 'stop') return { look: 'stop', sign: '■', word: card.word || 'look now' };
	if (isOver(card)) return { look: 'time', sign: '▲', word: 'time' };
	if (card.asks) return { look: 'stop', sign: '■', word: 'asks' };
	if (card.sign_off) return { look: 'watch', sign: '◐', word: 'sign-off' };
	if (card.level === 'watch' && card.word) return { look: 'watch', sign: '◐', word: card.word };
	if (card.level === 'good') return { look: 'good', sign: '✓', word: card.word || 'settled' };
	return { look: 'none', sign: '', word: card.doing === 'done' ? 'done' : '' };
}

/** Whether its timer has run out; what rests in the oven is not waited for by the minute. */
export const isOver = (card: CardView): boolean =>
	card.timer_ends_at !== null &&
	card.attended &&
	!card.rests &&
	card.doing !== 'done' &&
	secondsLeft(card.timer_ends_at) <= 0;
