"""What a tap did last in a trial, while it can still be taken back without a word."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta

from claykettle.service.views.base import View
from claykettle.store.records import StoredObservation, StoredRun, StoredStepEvent, StoredTrial, iso

AT_ONCE = timedelta(minutes=1)
"""So long a tap is taken back without a word; later, or after somebody went on, it is a correction with its reason."""
Tap = StoredStepEvent | StoredObservation
_DID = {"finished": "done", "skipped": "skipped", "started": "timer started", "extended": "more time"}


class UndoView(View):
    """What can be taken back: the row to name, what it did, and until when (null: as long as nothing is in it)."""

    row: str
    text: str
    until: str | None


def undo_view(run: StoredRun, trial: str, now: datetime) -> UndoView | None:
    """The latest tap in a trial that is not a minute old and after which nobody went on; else the trial itself, where
    it has been added and nothing is in it.
    """
    taps: list[Tap] = [*run.events(trial), *(row for row in run.seen if row.trial == trial)]
    fresh = [
        row for row in taps if now - row.at <= AT_ONCE and not went_on(run, row) and not _began_by_itself(run, row)
    ]
    if fresh:
        last = max(fresh, key=lambda row: row.at)
        return UndoView(row=last.uuid, text=_said(run, trial, last), until=iso(last.at + AT_ONCE))
    place = run.trial_named(trial)
    if len(run.own_trials) > 1 and run.own_trials[-1] is place and not is_begun(run, place):
        return UndoView(row=f"trial {trial}", text=f"trial {trial} added", until=None)
    return None


def _said(run: StoredRun, trial: str, tap: Tap) -> str:
    if isinstance(tap, StoredObservation):
        return f"{tap.tag}: seen"
    step = next((row for row in run.steps(trial) if row.key == tap.step), None)
    name = step.text(step.step.short or step.step.title) if step is not None else tap.step
    return f"{name}: {_DID[tap.kind]}"


def _began_by_itself(run: StoredRun, tap: Tap) -> bool:
    return any(tap in begun_with(run, row) for row in run.events(tap.trial)) if tap.trial else False


def begun_with(run: StoredRun, tap: Tap) -> list[StoredStepEvent]:
    """The timers that began by themselves with a tap, such as that of cooling when the heating was done."""
    if not isinstance(tap, StoredStepEvent) or tap.kind == "started":
        return []
    return [
        row
        for row in run.events(tap.trial)
        if row.at == tap.at and row.kind == "started" and row.uuid != tap.uuid and row.step != tap.step
    ]


def went_on(run: StoredRun, tap: Tap) -> bool:
    """Whether something was recorded in the trial after a tap, other than what began with it."""
    own = {tap.uuid, *(row.uuid for row in begun_with(run, tap))}
    return any(at > tap.at and uuid not in own for uuid, at in _recorded(run, tap.trial))


def _recorded(run: StoredRun, trial: str) -> Iterator[tuple[str, datetime]]:
    place = run.trial(trial)
    yield from ((row.uuid, row.at) for row in (place.readings if place is not None else ()))
    yield from ((row.uuid, row.at) for row in run.events(trial))


def is_begun(run: StoredRun, trial: StoredTrial) -> bool:
    """Whether something was recorded in a trial, other than a timer that began by itself."""
    noted = any(row.trial == trial.label for row in run.seen)
    return bool(trial.readings) or noted or any(row.kind != "started" for row in run.events(trial.label))
