/** What a plan hands to the form for a new run: the page that shows the form takes it once. */
export type Handover = {
	method: string;
	values: Record<string, string | boolean>;
	schools: Record<string, string>;
	instruments: Record<string, number>;
	about: string;
	low: string;
	high: string;
};

let waiting: Handover | null = null;

export function handOver(plan: Handover): void {
	waiting = plan;
}

export function takeOver(): Handover | null {
	const plan = waiting;
	waiting = null;
	return plan;
}
