"""One trial of a run as its page lays it out: gathered once, so that no part of the page asks the record again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from claykettle.core.run import PlannedStep, TrialEvaluation
from claykettle.store.records import StoredReading, StoredRun, StoredStepEvent, StoredTrial


@dataclass(frozen=True, slots=True)
class Shown:
    """What a page needs of one trial: its current readings with those that all share, the trial before it, its steps
    and what was marked of them, and what it came to.
    """

    run: StoredRun
    label: str
    readings: Sequence[StoredReading]
    before: StoredTrial | None
    steps: Sequence[PlannedStep]
    events: Sequence[StoredStepEvent]
    found: TrialEvaluation


def trial_shown(run: StoredRun, label: str | None) -> Shown:
    """The trial with this label; without one, that which has its turn. Raises NotFound."""
    trial = run.current_trial if label is None else run.trial_named(label)
    return Shown(
        run,
        trial.label,
        (*run.shared, *trial.current),
        run.trial_before(trial.label),
        run.steps(trial.label),
        run.events(trial.label),
        run.evaluation.trial(trial.label),
    )
