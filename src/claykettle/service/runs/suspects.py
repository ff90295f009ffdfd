"""What could explain a run's result, asked of one of its trials."""

from __future__ import annotations

from claykettle.core.judgement.suspects import result_at
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import refuse_before_time
from claykettle.service.views.answer import ReplayView, SuspicionView
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun


@may(BENCH, INSTRUCTOR)
def suspects(visit: Visit, uuid: str, trial: str | None, expect: str) -> SuspicionView:
    """Every cause held against the deviation from what was expected. Raises NotFound, Refusal (path `expect`)."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    return SuspicionView(found=run.evaluation.suspicion(_label(run, trial), expect))


@may(BENCH, INSTRUCTOR)
def replayed(visit: Visit, uuid: str, trial: str | None, expect: str, code: str, dose: float) -> ReplayView:
    """What a dose of one cause would have done. Raises NotFound, Refusal (path `expect`, `code`, `dose`)."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    at = run.evaluation.trial(_label(run, trial)).trial
    return ReplayView.model_validate(result_at(at, run.method, code, dose, expect))


def _label(run: StoredRun, label: str | None) -> str:
    """The trial with this label, that which has its turn without one."""
    return (run.current_trial if label is None else run.trial_named(label)).label
