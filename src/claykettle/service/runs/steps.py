"""Marking steps: started, given more time, finished."""

from __future__ import annotations

from dataclasses import dataclass

from claykettle.core.errors import refuse
from claykettle.core.run import PlannedStep
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.steps import MarksView, marks_view
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, StoredStepEvent


@dataclass(frozen=True)
class MarkStep:
    """A step of a trial (by its label) `started`, `extended`, `finished` or `skipped`, the last with its reason."""

    uuid: str
    step: str
    kind: str
    trial: str = "1"
    by: str = ""
    reason: str = ""


@may(BENCH, INSTRUCTOR)
def marks(visit: Visit, uuid: str) -> MarksView:
    """Everything that was marked of a run's steps, in order. Raises NotFound."""
    return marks_view(visit.run(uuid))


@may(BENCH, INSTRUCTOR)
def mark_step(visit: Visit, run: StoredRun, mark: MarkStep) -> StoredRun:
    """Start a step's timer in a trial, give it more time, or finish the step; the same UUID twice does it once.

    Raises Refusal for a step that the trial does not have, a kind other than these, and (path `step`) where a tablet
    ends one that an instructor signs off.
    """
    if any(row.uuid == mark.uuid for row in run.step_events):
        return run
    trial = run.trial_named(mark.trial).label
    planned = next((row for row in run.steps(trial) if row.key == mark.step), None)
    if planned is None:
        raise refuse(
            "unknown-step", "This step is not part of the run any more; the page shows the current ones.", "step"
        )
    if planned.step.sign_off and visit.caller.bench is not None and mark.kind in ("finished", "skipped"):
        text = f"Your instructor signs this step off ({planned.text(planned.step.sign_off)}): ask for it."
        raise refuse("sign-off", text, "step")
    seconds = _seconds(planned, mark.kind)
    event = StoredStepEvent(mark.uuid, trial, mark.step, mark.kind, seconds, visit.now, by=mark.by, reason=mark.reason)
    after = run.with_step_event(event).touched(visit.now)
    return visit.keep(run, after.with_due_timer(trial, visit.now))


def _seconds(planned: PlannedStep, kind: str) -> int:
    """What a mark adds to the step's timer."""
    timer = planned.step.timer
    match kind:
        case "finished" | "skipped":
            return 0
        case "started":
            return round(60 * (planned.minutes or 0.0))
        case "extended":
            return round(60 * ((timer.more or timer.minutes) if timer is not None else planned.minutes or 0.0))
    raise refuse("unknown-kind", "A step is started, extended, finished or skipped.", "kind")
