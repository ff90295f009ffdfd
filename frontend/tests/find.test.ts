import { beforeEach, expect, test, vi } from 'vitest';
import type { FoundRun, Outcome, SearchView } from '../src/api/client';

const search = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	search
}));
const { Find, NOTHING_WANTED, queryOf, wantedOf } = await import('../src/runs/find.svelte');

const found = (titles: string, more = false): Outcome<SearchView> => ({
	kind: 'done',
	value: {
		classes: [],
		runs: [...titles].map((title) => ({ run: { uuid: title, title } }) as unknown as FoundRun),
		more
	}
});
const shown = (find: InstanceType<typeof Find>): string => find.runs.map((row) => row.run.title).join('');

beforeEach(() => search.mockReset());

test('what is asked for stands in the address, and comes back out of it', () => {
	const wanted = { ...NOTHING_WANTED, words: 'zinc & quill', state: 'good' };
	expect(queryOf(wanted)).toBe('words=zinc+%26+quill&state=good');
	expect(wantedOf(new URLSearchParams(queryOf(wanted)))).toEqual(wanted);
	expect(queryOf(NOTHING_WANTED)).toBe('');
});

test('the latest question wins, whichever answer comes last', async () => {
	const find = new Find();
	let slow: (outcome: Outcome<SearchView>) => void = () => undefined;
	search.mockReturnValueOnce(new Promise((resolve) => (slow = resolve)));
	const first = find.look();
	search.mockResolvedValueOnce(found('b'));
	find.wanted.words = 'borax';
	await find.look();
	slow(found('a'));
	await first;
	expect(shown(find)).toBe('b');
});

test('older ones come behind those that are there, a fault stands at its field', async () => {
	const find = new Find();
	search.mockResolvedValueOnce(found('ab', true));
	await find.look();
	search.mockResolvedValueOnce(found('cd'));
	await find.look(true);
	expect(search.mock.lastCall?.[0]).toContain('skip=2');
	expect([shown(find), find.more]).toEqual(['abcd', false]);
	search.mockResolvedValueOnce({
		kind: 'problem',
		code: 'invalid',
		title: 'no',
		faults: [{ code: 'date', path: 'query.since', message: 'A day.', suggestion: '' }],
		doubt: null,
		suggestion: null
	});
	await find.look();
	expect(find.faults).toEqual({ since: 'A day.' });
	expect(shown(find)).toBe('abcd');
});
