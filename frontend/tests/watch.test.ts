import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { watch } from '../src/api/watch';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
	vi.useRealTimers();
	vi.restoreAllMocks();
});

const hide = (hidden: boolean) => vi.spyOn(document, 'hidden', 'get').mockReturnValue(hidden);

test('it looks at once, then every so often, until it is ended', async () => {
	const look = vi.fn().mockResolvedValue(undefined);
	const end = watch(look, 1000);
	expect(look).toHaveBeenCalledTimes(1);
	await vi.advanceTimersByTimeAsync(2000);
	expect(look).toHaveBeenCalledTimes(3);
	end();
	await vi.advanceTimersByTimeAsync(5000);
	expect(look).toHaveBeenCalledTimes(3);
});

test('a server that hangs is not asked again before it has answered', async () => {
	let answer = (): void => {};
	const look = vi.fn(() => new Promise<void>((done) => (answer = done)));
	const end = watch(look, 1000);
	await vi.advanceTimersByTimeAsync(5000);
	expect(look).toHaveBeenCalledTimes(1);
	answer();
	await vi.advanceTimersByTimeAsync(1000);
	expect(look).toHaveBeenCalledTimes(2);
	end();
});

test('a page that nobody sees does not look, unless it must', async () => {
	hide(true);
	const [idle, must] = [vi.fn().mockResolvedValue(undefined), vi.fn().mockResolvedValue(undefined)];
	const ends = [watch(idle, 1000), watch(must, 1000, true)];
	await vi.advanceTimersByTimeAsync(3000);
	expect(idle).not.toHaveBeenCalled();
	expect(must).toHaveBeenCalledTimes(4);
	hide(false);
	await vi.advanceTimersByTimeAsync(1000);
	expect(idle).toHaveBeenCalledTimes(1);
	ends.forEach((end) => end());
});
