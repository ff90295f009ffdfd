import { expect, test } from 'vitest';
import { pasted } from '../src/lab/pasted';

const BENCHES = ['Ball', 'China', 'Flint', 'Flint 2'];
const rows = (text: string, from = 0): [number, string][] => [...pasted(text, BENCHES, from)];

test('lines without names fill up from where the cursor stands', () => {
	expect(rows('31.204\n27.960')).toEqual([
		[0, '31.204'],
		[1, '27.960']
	]);
	expect(rows('31.204\r\n\r\n27.960\n', 2)).toEqual([
		[2, '31.204'],
		[3, '27.960']
	]);
});

test('a name before the figure says whose it is, in any order and with any usual sign between', () => {
	expect(rows('flint 28.417\nBall: 31.204\nFlint 2;30.1\nCHINA\t27.960')).toEqual([
		[2, '28.417'],
		[0, '31.204'],
		[3, '30.1'],
		[1, '27.960']
	]);
});

test('what is beyond the last bench is left out, and a name alone is no figure of another', () => {
	expect(rows('1\n2', 3)).toEqual([[3, '1']]);
	expect(rows('Balloon 3')).toEqual([[0, 'Balloon 3']]);
});
