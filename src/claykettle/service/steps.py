"""The steps of a trial under its procedure: what is done, what comes now, and the timers that run."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from datetime import datetime
from functools import lru_cache
from uuid import uuid4

from sqlalchemy.orm import Session

from claykettle.core.errors import refuse
from claykettle.core.methods.registry import method_named
from claykettle.core.run import PlannedStep, Progress, reading_labels, steps_of, usable_readings
from claykettle.service.runs import evaluation_of, find_run, options_of, procedure_of, trial_of
from claykettle.store.records import StoredObservation, StoredRun, StoredStepEvent, StoredTrial
from claykettle.store.runs import keep


def mark_step(
    session: Session, now: datetime, run_uuid: str, *, uuid: str, step: str, kind: str, trial: str = "1"
) -> StoredRun:
    """Start a step's timer in a trial, give it more time, or finish the step.

    Raises Refusal for a step that the trial does not have, or a kind other than started, extended, finished.
    """
    run = find_run(session, run_uuid, lock=True)
    if any(row.uuid == uuid for row in run.step_events):
        return run
    planned = next((row for row in planned_steps(run, trial_of(run, trial).label) if row.key == step), None)
    if planned is None:
        raise refuse(
            "unknown-step", "This step is not part of the run any more; the page shows the current ones.", "step"
        )
    minutes = planned.minutes or 0.0
    if kind == "extended" and planned.step.timer is not None:
        minutes = planned.step.timer.more or planned.step.timer.minutes
    if kind not in ("started", "extended", "finished"):
        raise refuse("unknown-kind", "A step is started, extended or finished.", "kind")
    seconds = 0 if kind == "finished" else round(minutes * 60)
    after = run.with_step_event(StoredStepEvent(uuid, trial, step, kind, seconds, now))
    return keep(session, run, with_due_timer(after, trial, now).touched(now))


def planned_steps(run: StoredRun, trial: str) -> tuple[PlannedStep, ...]:
    """The steps of a trial (by its label) under the run's procedure, from what has been weighed and marked."""
    return _laid_out(_Course(run.id, trial, run.trials, run.step_events, run.observations, run))


def current_trial(run: StoredRun) -> StoredTrial:
    """The first trial that has something left to weigh, else the last one."""
    for trial in run.own_trials:
        if any(row.step.reads and row.state in ("now", "ahead") for row in planned_steps(run, trial.label)):
            return trial
    return run.own_trials[-1]


def events_of(run: StoredRun, trial: str) -> list[StoredStepEvent]:
    """The step events of a trial, by its label."""
    return [event for event in run.step_events if event.trial == trial]


@dataclass(frozen=True)
class _Course:
    """What the steps depend on."""

    run_id: int
    trial: str
    trials: tuple[StoredTrial, ...]
    step_events: tuple[StoredStepEvent, ...]
    observations: tuple[StoredObservation, ...]
    run: StoredRun = field(compare=False)


@lru_cache(maxsize=1024)
def _laid_out(course: _Course) -> tuple[PlannedStep, ...]:
    run = course.run
    taken: dict[str, int] = {}
    own = trial_of(run, course.trial).current
    elsewhere = {row.slot for row in run.shared} - {row.slot for row in own}
    for row in (*run.shared, *own):
        taken[row.slot] = max(taken.get(row.slot, 0), row.position)
    verdicts = {(verdict.code, verdict.about) for verdict in evaluation_of(run).trial(course.trial).verdicts}
    finished = {event.step for event in events_of(run, course.trial) if event.kind == "finished"}
    needed = usable_readings(method_named(run.method), options_of(run))
    labels = reading_labels(method_named(run.method), options_of(run))
    noted = Counter(row.tag for row in run.observations if row.trial in ("", course.trial))
    progress = Progress(taken, verdicts, finished, elsewhere, needed, noted, labels)
    return tuple(steps_of(procedure_of(run), run.schools, progress))


def with_due_timer(run: StoredRun, trial: str, now: datetime) -> StoredRun:
    """The run with the timer started of a trial's step that begins by itself, such as cooling when the flame is off."""
    step = next((row for row in planned_steps(run, trial) if row.state == "now"), None)
    if step is None or step.step.timer is None or not step.step.timer.auto or step.minutes is None:
        return run
    if any(event.step == step.key for event in events_of(run, trial)):
        return run
    return run.with_step_event(StoredStepEvent(str(uuid4()), trial, step.key, "started", round(step.minutes * 60), now))
