import type { RunView, Verdict } from '../api/client';

const ORDER = { stop: 0, watch: 1, good: 2 };

/** What is said of a trial and of its run, the most serious first; what is simply not weighed yet stands among the steps. */
export function verdictsOf(run: RunView): Verdict[] {
	const forgotten = run.steps.some((step) => step.state === 'missed');
	return [...run.trial.verdicts, ...run.verdicts]
		.filter((verdict) => forgotten || verdict.code !== 'missing-reading')
		.sort((a, b) => ORDER[a.level] - ORDER[b.level]);
}
