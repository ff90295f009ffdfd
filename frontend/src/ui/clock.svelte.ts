import { keep, kept } from '../offline/keeping';

const CLOCK_ERRS_MS = 1000;

/** The server's clock, ticking on the page: timers survive a reload and agree between tablets. */
class Clock {
	now = $state(Date.now());
	/* of a page that opens without a server: what the last one knew */
	#offset = kept<number>('clock') ?? 0;
	#kept = this.#offset;
	/* how many times as fast it goes: where one rehearses it goes faster, or stands */
	#pace = 1;
	#since = Date.now();

	constructor() {
		this.now += this.#offset;
		setInterval(() => this.#tick(), 250);
	}

	#tick(): void {
		const gone = Date.now() - this.#since;
		this.now = this.#since + this.#offset + gone * this.#pace;
	}

	/** From now on it goes so many times as fast. */
	go(pace: number): void {
		if (pace === this.#pace) return;
		this.#tick();
		this.#offset = this.now - Date.now();
		this.#since = Date.now();
		this.#pace = pace;
	}

	/** Set by what the server says its time is. */
	set(serverTime: string): void {
		this.#since = Date.now();
		this.#offset = Date.parse(serverTime) - this.#since;
		this.now = this.#since + this.#offset;
		if (Math.abs(this.#offset - this.#kept) < CLOCK_ERRS_MS) return;
		this.#kept = this.#offset;
		keep('clock', this.#offset);
	}
}

export const clock = new Clock();

/** Seconds left until a moment, negative when it is past. */
export function secondsLeft(endsAt: string): number {
	return Math.ceil((Date.parse(endsAt) - clock.now) / 1000);
}

/** 2:48, or 1:04:09 for hours. */
export function minutesAndSeconds(seconds: number): string {
	const total = Math.abs(seconds);
	const two = (n: number) => String(n).padStart(2, '0');
	const hours = Math.floor(total / 3600);
	const minutes = Math.floor(total / 60) % 60;
	return hours ? `${hours}:${two(minutes)}:${two(total % 60)}` : `${minutes}:${two(total % 60)}`;
}

const FORMAT = new Intl.DateTimeFormat([], { hour: '2-digit', minute: '2-digit', hour12: false });

/** The time of day of a moment, in the reader's own zone. */
export function timeOfDay(moment: string | number): string {
	return FORMAT.format(typeof moment === 'string' ? Date.parse(moment) : moment);
}

/** `18:52` of minutes since midnight. */
export function hourAndMinute(minutes: number): string {
	const whole = Math.round(minutes);
	const two = (n: number) => String(n).padStart(2, '0');
	return `${two(Math.floor(whole / 60) % 24)}:${two(whole % 60)}`;
}

const DAY = new Intl.DateTimeFormat([], { weekday: 'short', day: 'numeric', month: 'short' });

/** `17:10` for today, `Tue 24 Nov 17:10` for another day, in the reader's own zone. */
export function dayAndTime(moment: string, now: number): string {
	const at = Date.parse(moment);
	const [day, time] = [DAY.format(at), FORMAT.format(at)];
	return day === DAY.format(now) ? time : `${day} ${time}`;
}

/** `Thu 5 Mar` of a day written as 2026-03-05. */
export const day = (written: string): string => DAY.format(Date.parse(`${written}T12:00:00`));
