"""What could explain a run's result, asked of one of its trials."""

from __future__ import annotations

from claykettle.core.judgement.suspects import result_at, suspicion
from claykettle.core.method import Trial
from claykettle.service.views.answer import ReplayView, SuspicionView
from claykettle.service.visit import Visit


def suspects(visit: Visit, uuid: str, trial: str | None, expect: str) -> SuspicionView:
    """Every cause held against the deviation from what was expected. Raises NotFound, Refusal (path `expect`)."""
    run = visit.run(uuid)
    return SuspicionView(found=suspicion(_trial(visit, uuid, trial), run.method, expect, run.schools))


def replayed(visit: Visit, uuid: str, trial: str | None, expect: str, code: str, dose: float) -> ReplayView:
    """What a dose of one cause would have done. Raises NotFound, Refusal (path `expect`, `code`, `dose`)."""
    run = visit.run(uuid)
    return ReplayView.model_validate(result_at(_trial(visit, uuid, trial), run.method, code, dose, expect))


def _trial(visit: Visit, uuid: str, label: str | None) -> Trial:
    """The trial with this label, that which has its turn without one."""
    run = visit.run(uuid)
    shown = run.current_trial if label is None else run.trial_named(label)
    return run.evaluation.trial(shown.label).trial
