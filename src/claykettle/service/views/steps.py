"""The steps of a trial as the bench lays them out, their timers and counts."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Literal

from claykettle.core.run import PlannedStep
from claykettle.service.views.base import View
from claykettle.service.views.shown import Shown
from claykettle.store.records import StoredRun, StoredStepEvent, iso

SIGN_OFF = "asks for sign-off"
"""The tag under which a bench asks that a step be signed off; its text is the step's key."""


class TimerView(View):
    """A step's timer. Times are ISO 8601 in UTC; `ends_at` is null until it is started."""

    minutes: float
    more_minutes: float | None
    started_at: str | None
    ends_at: str | None


class CountView(View):
    """Something that a step does several times: the tag noted at each, how often it is wanted and was done."""

    tag: str
    times: int
    counted: int


class StepView(View):
    """One step of the procedure as laid out for the run; what to do and its caution come with the step to do now.

    `card` names a drawing of its technique, `waits_in` the place in which it waits, `bears` says what comes of passing
    it over, `sign_off` what an instructor looks at before it counts as done; all empty where there is none. `is_asked`:
    the bench has asked for that.
    """

    key: str
    title: str
    short: str
    say: str
    why: str
    caution: str
    done_label: str
    observe: list[str]
    state: Literal["done", "now", "ahead", "missed", "passed", "left"]
    slot: str | None
    position: int | None
    value: str | None
    timer: TimerView | None
    counts: CountView | None
    card: str
    waits_in: str
    bears: str
    sign_off: str
    is_asked: bool


class MarkView(View):
    """Something done about a step: which, what it is called, what was done, when and by whom; `taken_back` is the
    reason where it counts no more.
    """

    uuid: str
    trial: str
    title: str
    kind: Literal["done", "skipped", "started", "extended"]
    at: str
    by: str
    reason: str
    taken_back: str


class MarksView(View):
    """Everything that was marked of a run's steps, in order."""

    marks: list[MarkView]


def marks_view(run: StoredRun) -> MarksView:
    """What was marked, with the steps' own titles where they still belong to the run."""
    titles = step_titles(run)
    return MarksView(
        marks=[
            MarkView(
                uuid=event.uuid,
                trial=event.trial,
                title=titles.get((event.trial, event.step), event.step),
                kind=event.mark.kind,
                at=iso(event.at),
                by=event.by,
                reason=event.reason,
                taken_back=run.withdrawn[event.uuid].reason if event.uuid in run.withdrawn else "",
            )
            for event in run.step_events
        ]
    )


def step_titles(run: StoredRun) -> dict[tuple[str, str], str]:
    """By trial and key what a step is called in short."""
    return {
        (trial.label, row.key): row.text(row.step.short or row.step.title)
        for trial in run.own_trials
        for row in run.steps(trial.label)
    }


def step_views(shown: Shown) -> list[StepView]:
    """Every step of a trial, in order."""
    typed = {(row.slot, row.position): row.digits for row in shown.readings}
    return [
        _step(shown, row, _timer(row, shown.events), typed.get((row.step.reads or "", row.position or 1)))
        for row in shown.steps
    ]


def _step(shown: Shown, row: PlannedStep, timer: TimerView | None, value: str | None) -> StepView:
    step, is_now = row.step, row.state == "now"
    return StepView(
        key=row.key,
        title=row.text(step.title),
        short=row.text(step.short or step.title),
        say=row.text(step.say) if is_now else "",
        why=row.text(step.why) if is_now else "",
        caution=row.text(step.caution) if is_now else "",
        done_label=step.done,
        observe=step.observe,
        state=row.state,
        slot=step.reads,
        position=row.position,
        value=value if step.reads else None,
        timer=timer,
        counts=CountView(tag=step.counts.tag, times=step.counts.times, counted=row.counted) if step.counts else None,
        card=step.card if is_now else "",
        waits_in=step.waits_in,
        bears=step.bears,
        sign_off=row.text(step.sign_off) if is_now else "",
        is_asked=asked_at(shown.run, shown.label, row) is not None,
    )


def asked_at(run: StoredRun, trial: str, row: PlannedStep) -> datetime | None:
    """When a bench asked for its step of now to be signed off; None where it did not, or nothing is to be."""
    if not row.step.sign_off or row.state != "now":
        return None
    asked = [seen.at for seen in run.seen if seen.tag == SIGN_OFF and seen.trial == trial and seen.text == row.key]
    return asked[-1] if asked else None


def _timer(row: PlannedStep, events: Sequence[StoredStepEvent]) -> TimerView | None:
    if row.step.timer is None or row.minutes is None:
        return None
    started = [event for event in events if event.step == row.key and event.kind == "started"]
    ends_at = timer_end(events, row.key)
    return TimerView(
        minutes=row.minutes,
        more_minutes=row.step.timer.more,
        started_at=iso(started[0].at) if started else None,
        ends_at=iso(ends_at) if ends_at else None,
    )


def timer_end(events: Sequence[StoredStepEvent], key: str) -> datetime | None:
    """When the step's timer runs out: more time counts from the end, or from the moment it was asked for."""
    end: datetime | None = None
    for event in events:
        if event.step != key or event.kind in ("finished", "skipped"):
            continue
        begin = event.at if end is None or event.kind == "started" else max(end, event.at)
        end = begin + timedelta(seconds=event.seconds)
    return end
