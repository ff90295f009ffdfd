"""What the board says of a run: kept beside it whenever it is kept, read without the run."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from claykettle.core.judgement.standing import GOING, Standing, standing
from claykettle.core.planning.trial_steps import BALANCES, steps_left, steps_of_trial
from claykettle.core.quantity import nominal
from claykettle.core.run import PlannedStep, reading_definition
from claykettle.service.views.base import View
from claykettle.service.views.lines import TrialLineView, trial_lines
from claykettle.service.views.steps import asked_at, timer_end
from claykettle.store.records import StoredRun, iso

MOST_AHEAD = 3
"""Trials ahead whose steps are told one by one; those after them are like the last."""
Stair = Literal["done", "now", "ahead", "passed"]


class LeftView(View):
    """A step that is still to be done: at what, and how long as a rule, in minutes."""

    name: str
    low: float
    usual: float
    high: float
    at: str
    attended: bool


class FoundView(View):
    """The key result of a run, in the unit shown: what is measured, by its name; None as accepted where nothing is.

    It `is_settled` where nothing is missing or still going in the trials that it comes from.
    """

    key: str
    label: str
    value: float
    uncertainty: float
    unit: str
    text: str
    accepted: float | None
    is_settled: bool


class AtWork(View):
    """The trial of a run that has its turn: its steps as a stair, what is done now, its timer, and at which balance.

    `attended` is whether somebody must stay there; `rests` names what it waits in and `place` where in it, as noted,
    empty where it does not; `sign_off` is what the bench has asked an instructor to look at, empty where it has not.
    """

    trial: str
    trials: int
    stair: list[Stair]
    step: str
    timer_began_at: str | None
    timer_ends_at: str | None
    attended: bool
    balance: str
    rests: str
    place: str
    sign_off: str


class Card(AtWork):
    """A run on the board: what is done now and since when, how it stands, what it found, what is still to be done.

    `takes` is how long the step takes as a rule, in minutes (at least, usual, at most); `left` what is still to be
    done, trial by trial, and `more` how many trials come after those; `balances` are all that the run weighs on.
    """

    done_label: str
    since: str
    sign_off_since: str | None
    takes: list[float]
    balances: list[str]
    standing: Standing
    found: FoundView | None
    done_at: str | None
    changed_at: str
    left: list[list[LeftView]]
    more: int


def card_text(run: StoredRun) -> str:
    """What the board says of a run, as JSON."""
    return card_of(run).model_dump_json()


def card_of(run: StoredRun) -> Card:
    """What the board says of a run."""
    line = _turn(trial_lines(run))
    step = run.step_now(line.label)
    left = _left(run, line.label)
    first = left[0][0] if left and left[0] else None
    events = run.events(line.label)
    began = [row.at for row in events if step and row.step == step.key and row.kind == "started"]
    ends_at = timer_end(events, step.key) if step else None
    asked = asked_at(run, line.label, step) if step else None
    return Card(
        trial=line.label,
        trials=len(run.own_trials),
        stair=[_tread(row) for row in run.steps(line.label)],
        step=step.text(step.step.short or step.step.title) if step else "",
        done_label=step.step.done if step else "",
        since=iso(max([_last(run, line.label), *began])),
        takes=[first.low, first.usual, first.high] if first else [],
        attended=first.attended if first else True,
        timer_began_at=iso(began[-1]) if began else None,
        timer_ends_at=iso(ends_at) if ends_at else None,
        balance=_balance(run, step),
        balances=[name for name in (_named(run, kind) for kind in BALANCES if kind in run.instruments) if name],
        standing=standing_of(run),
        found=_found(run),
        done_at=None if step else iso(run.changed_at),
        changed_at=iso(run.changed_at),
        rests=line.rest.waits_in if line.rest else "",
        place=line.rest.place if line.rest else "",
        sign_off=step.text(step.step.sign_off) if step and asked else "",
        sign_off_since=iso(asked) if asked else None,
        left=left[:MOST_AHEAD],
        more=max(0, len(left) - MOST_AHEAD),
    )


def _turn(lines: list[TrialLineView]) -> TrialLineView:
    """The trial that the board tells of: of those that are open, the one whose timer ends first, else the first."""
    waiting = [line for line in lines if line.state != "finished"]
    ticking = sorted((line for line in waiting if line.timer_ends_at), key=lambda line: line.timer_ends_at or "")
    return next(iter([*ticking, *waiting]), lines[-1])


def _tread(row: PlannedStep) -> Stair:
    states: dict[str, Stair] = {"done": "done", "left": "done", "now": "now", "ahead": "ahead"}
    return states.get(row.state, "passed")


def _last(run: StoredRun, label: str) -> datetime:
    """When the trial went on last: a step marked, a reading taken. One that has not begun: when the one before did."""
    trial = run.trial_named(label)
    moments = [row.at for row in run.events(label)] + [row.at for row in trial.readings]
    before = run.trial_before(label)
    if moments:
        return max(moments)
    return _last(run, before.label) if before is not None else run.changed_at


def _balance(run: StoredRun, step: PlannedStep | None) -> str:
    """The balance that the step of now is done at, by its name."""
    reading = reading_definition(run.method, step.step.reads, run.options) if step and step.step.reads else None
    if reading is None or reading.instrument not in BALANCES:
        return ""
    return _named(run, reading.instrument)


def _named(run: StoredRun, kind: str) -> str:
    """The run's balance of a kind, by its name."""
    return run.instruments.get(kind, {}).get("name", "") or (run.balance if kind == "balance" else "")


def _left(run: StoredRun, label: str) -> list[list[LeftView]]:
    """What is still to be done, that trial first; trials that have not begun are alike and laid out once."""
    found: list[list[LeftView]] = []
    fresh: list[LeftView] | None = None
    planned = steps_of_trial(run.method, run.options, run.course, run.schools)
    others = [row.label for row in run.own_trials if row.label != label]
    for name in (label, *others):
        steps = run.steps(name)
        is_fresh = all(row.state in ("now", "ahead") for row in steps)
        if is_fresh and fresh is not None:
            found.append(fresh)
            continue
        rows = [
            LeftView(
                name=row.label or row.name, low=row.takes.low, usual=row.takes.usual, high=row.takes.high, at=row.at,
                attended=row.attended,
            )
            for row in steps_left(run.method, run.options, steps, planned)
        ]  # fmt: skip
        if is_fresh:
            fresh = rows
        if rows:
            found.append(rows)
    return found


def _standings(run: StoredRun) -> list[tuple[str, Standing]]:
    """How each trial that has begun stands by itself: one that waits takes nothing from one that is done."""
    key = run.evaluation.key
    rows = []
    for trial in run.own_trials:
        if trial.readings:
            found = run.evaluation.trial(trial.label)
            doubts = [row.doubt for row in (*run.shared, *trial.current) if row.doubt]
            rows.append((trial.label, standing(found.verdicts, found.result(key) is not None, doubts)))
    return rows


def worst_first(run: StoredRun) -> list[str]:
    """The labels of the trials that have begun: first those that cannot be right, then those that are off."""
    order = {"stop": 0, "watch": 1, "good": 2}
    rows = [(3 if found.word in GOING else order[found.level], label) for label, found in reversed(_standings(run))]
    return [label for _, label in sorted(rows, key=lambda row: row[0])]


def standing_of(run: StoredRun) -> Standing:
    """How the run stands: the worst of what its trials came to; those that are still going only where none is done."""
    rows = [found for _, found in _standings(run)]
    settled = [row for row in rows if row.word not in GOING]
    if len(settled) > 1:
        # what holds between trials
        rows.append(standing(run.evaluation.verdicts, True, ()))
        settled = [row for row in rows if row.word not in GOING]
    stops = [row for row in rows if row.level == "stop"]
    watches = [row for row in settled if row.level == "watch"]
    return next(iter([*stops, *watches, *settled, *rows]), Standing("watch", "not yet", ""))


def _found(run: StoredRun) -> FoundView | None:
    """The key result: the mean where all trials that have one are settled, else the last that is, else the last."""
    evaluation = run.evaluation
    trials = [row for row in evaluation.trials if row.result(evaluation.key) is not None]
    done = {label for label, found in _standings(run) if found.word not in GOING and found.level != "stop"}
    settled = [row for row in trials if row.label in done]
    if not trials:
        return None
    chosen = (settled or trials)[-1]
    mean = evaluation.mean if len(settled) == len(trials) else None
    result = mean or chosen.result(evaluation.key)
    if result is None:
        return None
    accepted = run.method.judging.accepted(run.options)
    return FoundView(
        key=result.name,
        label=result.label,
        value=result.value,
        uncertainty=result.standard_uncertainty,
        unit=result.unit,
        text=result.text,
        accepted=None if accepted is None else evaluation.key_unit.from_si(nominal(accepted)),
        is_settled=bool(settled),
    )
