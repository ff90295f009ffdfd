"""A trial in a line: what it waits for, and what it came to so far."""

from __future__ import annotations

from typing import Literal
from weakref import WeakKeyDictionary

from claykettle.core.judgement.passing import ended_by_eye
from claykettle.core.judgement.standing import standing
from claykettle.core.run import Evaluation, PlannedStep
from claykettle.service.views.base import View
from claykettle.service.views.steps import timer_end
from claykettle.store.records import StoredRun, StoredTrial, iso

PLACE = "place"
"""The tag under which it is noted where something stands in the oven."""


class RestView(View):
    """Where something stands and waits, such as the oven: since when (ISO 8601, UTC), and its place there as noted."""

    waits_in: str
    since: str
    place: str


class TrialLineView(View):
    """One trial of a run in a line: what it waits for, and its key result so far."""

    label: str
    state: Literal["waiting", "finished", "new"]
    doing: str
    timer_ends_at: str | None
    level: Literal["good", "watch", "stop"] | None
    headline: str | None
    rest: RestView | None


_MADE: WeakKeyDictionary[StoredRun, list[TrialLineView]] = WeakKeyDictionary()
"""Of a run at hand, so that its bench and its summary do not both make them."""


def trial_lines(run: StoredRun) -> list[TrialLineView]:
    """Every trial of a run in a line."""
    if run not in _MADE:
        _MADE[run] = _lines(run)
    return _MADE[run]


def changed_lines(before: StoredRun, after: StoredRun) -> list[TrialLineView] | None:
    """The lines that are others after a change; None where a trial came or went."""
    then, now = trial_lines(before), trial_lines(after)
    if [row.label for row in then] != [row.label for row in now]:
        return None
    return [new for old, new in zip(then, now, strict=True) if old != new]


def _lines(run: StoredRun) -> list[TrialLineView]:
    return [_line(run, trial, run.step_now(trial.label), run.evaluation) for trial in run.own_trials]


def _line(run: StoredRun, stored: StoredTrial, step: PlannedStep | None, evaluation: Evaluation) -> TrialLineView:
    trial = evaluation.trial(stored.label)
    doubts = [row.doubt for row in stored.current if row.doubt]
    ends_at = timer_end(run.events(stored.label), step.key) if step else None
    key = trial.result(evaluation.key)
    head = evaluation.run.method.judging.headline(evaluation.run.options)
    return TrialLineView(
        label=stored.label,
        state="finished" if step is None else "waiting" if stored.readings else "new",
        doing=step.text(step.step.title) if step else "Finished",
        timer_ends_at=iso(ends_at) if ends_at else None,
        level=standing(trial.verdicts, key is not None, doubts).level if stored.readings else None,
        headline=head.template.format(key.text) if key else ended_by_eye({row.code for row in trial.verdicts}) or None,
        rest=rest_of(run, stored.label, step),
    )


def rest_of(run: StoredRun, label: str, step: PlannedStep | None) -> RestView | None:
    """Where a trial's solid stands and waits, None where its step now is no waiting."""
    if step is None or not step.step.waits_in:
        return None
    begun = [event.at for event in run.events(label) if event.step == step.key and event.kind == "started"]
    noted = [row for row in run.seen if row.tag == PLACE and row.trial in ("", label)]
    since = begun[0] if begun else run.changed_at
    return RestView(waits_in=step.step.waits_in, since=iso(since), place=noted[-1].text if noted else "")
