/** A practical's steps as its file says them, and what else of the procedure hangs on them. */
export type Span = { low: number; usual: number; high: number };
export type Step = {
	id: string;
	title: string;
	say: string;
	why?: string | undefined;
	caution?: string;
	timer?: { minutes: number };
	takes?: Span;
	at?: string;
	sign_off?: string | undefined;
	reads?: string;
};
export type Repeat = { id: string; repeat: Step[] };
export type Row = Step | Repeat;
type Move = { steps: string[]; before: string };

export const isRepeat = (row: Row): row is Repeat => 'repeat' in row;

/** The procedure with these steps: rounds without a step go, and a school moves only steps that are there. */
export function withSteps(procedure: Record<string, unknown>, rows: Row[]): Record<string, unknown> {
	const steps = rows.filter((row) => !isRepeat(row) || row.repeat.length > 0);
	const there = steps.map((row) => row.id);
	const moves = ((procedure['moves'] ?? []) as Move[])
		.map((move) => ({ ...move, steps: move.steps.filter((id) => there.includes(id)) }))
		.filter((move) => move.steps.length > 0 && there.includes(move.before));
	return { ...procedure, steps, moves };
}
