import { beforeEach, expect, test, vi } from 'vitest';
import type { ClassView, Outcome } from '../src/api/client';

const getClass = vi.hoisted(() => vi.fn());
const getAddresses = vi.hoisted(() => vi.fn());
vi.mock('../src/api/client', async (original) => ({
	...(await original<typeof import('../src/api/client')>()),
	getClass,
	getAddresses
}));
const { Shelf } = await import('../src/doors/shelf.svelte');

type Answer = Outcome<ClassView>;
const view = (...names: string[]): Answer => ({
	kind: 'done',
	value: {
		number: 7,
		code: '',
		link: '',
		benches: names.map((name, id) => ({ id, name, retired: false }))
	} as unknown as ClassView
});

/** An answer that comes when it is told to. */
function later(): { promise: Promise<Answer>; come: (answer: Answer) => Promise<void> } {
	let tell: (answer: Answer) => void;
	const promise = new Promise<Answer>((resolve) => (tell = resolve));
	return {
		promise,
		come: async (answer) => {
			tell(answer);
			await vi.waitFor(() => Promise.resolve());
			await new Promise((resolve) => setTimeout(resolve));
		}
	};
}

const names = (shelf: InstanceType<typeof Shelf>): string[] =>
	(shelf.found?.benches ?? []).map((row) => row.name);

beforeEach(() => {
	getClass.mockReset();
	getAddresses.mockReset().mockResolvedValue({ kind: 'away', title: '' });
});

async function opened(): Promise<InstanceType<typeof Shelf>> {
	const shelf = new Shelf();
	await shelf.atClass(Promise.resolve(view('Ball')));
	return shelf;
}

test('a look that was under way before a bench was added does not take it away again', async () => {
	const shelf = await opened();
	const looked = later();
	getClass.mockReturnValueOnce(looked.promise).mockResolvedValueOnce(view('Ball', 'Window', 'Door'));
	void shelf.look(7);
	await shelf.atClass(Promise.resolve(view('Ball', 'Window')));
	expect(names(shelf)).toEqual(['Ball', 'Window']);
	await looked.come(view('Ball'));
	// it looked again, and found what somebody else did too
	expect(names(shelf)).toEqual(['Ball', 'Window', 'Door']);
});

test('nor does one that began while it was being added', async () => {
	const shelf = await opened();
	const added = later();
	const looked = later();
	getClass.mockReturnValueOnce(looked.promise).mockResolvedValueOnce(view('Ball', 'Window'));
	const adding = shelf.atClass(added.promise);
	void shelf.look(7);
	await added.come(view('Ball', 'Window'));
	await adding;
	await looked.come(view('Ball'));
	expect(names(shelf)).toEqual(['Ball', 'Window']);
});

test('a look by itself shows what it found, and keeps the link that was made here', async () => {
	const shelf = await opened();
	if (shelf.found) shelf.found = { ...shelf.found, link: '/board#abc' };
	getClass.mockResolvedValueOnce(view('Ball', 'China'));
	await shelf.look(7);
	expect(names(shelf)).toEqual(['Ball', 'China']);
	expect(shelf.found?.link).toBe('/board#abc');
	expect(getClass).toHaveBeenCalledTimes(1);
});

test('what another class is does not show here', async () => {
	const shelf = await opened();
	getClass.mockResolvedValueOnce(view('China'));
	await shelf.look(8);
	expect(names(shelf)).toEqual(['Ball']);
});
