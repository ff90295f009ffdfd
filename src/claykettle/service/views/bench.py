"""What the bench shows of a run, worked out here so that the page only lays out."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from claykettle.core.judgement.predictions import Prediction
from claykettle.core.method import SeriesOptions, Trial
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import parse_reading
from claykettle.core.run import CRUCIBLE, Loss, Tread, apparatus_of, losses, stair
from claykettle.core.verdict import Verdict
from claykettle.service.views.answer import AnswerView, TrialView, answer_view, trial_view
from claykettle.service.views.base import View
from claykettle.service.views.comparison import predictions_of
from claykettle.service.views.entries import EntryView, entry_views
from claykettle.service.views.lines import TrialLineView, changed_lines, trial_lines
from claykettle.service.views.log import (
    ChangeView,
    ObservationView,
    ReadingView,
    change_views,
    observation_views,
    reading_views,
)
from claykettle.service.views.shown import trial_shown
from claykettle.service.views.signatures import SignatureView, signature_views
from claykettle.service.views.steps import StepView, step_views
from claykettle.service.views.undo import UndoView, undo_view
from claykettle.store.records import StoredRun, iso

CLOCK_ERRS = timedelta(minutes=2)
"""So far two clocks may differ that are both called right."""


class BalanceView(View):
    """The balance a run uses."""

    name: str
    half_width: str
    decimals: int | None


class InstrumentUseView(View):
    """An instrument that a run uses; the name is empty where a run file told none."""

    name: str
    half_width: str


class SchoolView(View):
    """One question on which practitioners differ, and the answer this run follows: the names, and both in words."""

    name: str
    chosen: str
    title: str
    answer: str


class RunView(View):
    """Everything the bench needs of one run: one `trial` of it, and the others in a line each.

    `day` is the number of its class. The answer to a change tells only what is another now: `since` is the version that
    it was made on, `trials` holds the lines that it made others (all of them, and no `since`, where a trial came or
    went). There, and where it is asked for in `brief`, `readings` are those of the trial shown and what all trials
    share. `held_back` says why a tablet is not shown the answers yet.
    """

    uuid: str
    version: int
    since: int | None
    title: str
    note: str
    method: str
    method_title: str
    bench: str
    day: int
    section: str
    date: str
    procedure: str
    caution: str
    schools: list[SchoolView]
    options: dict[str, Any]
    balance: BalanceView
    instruments: dict[str, InstrumentUseView]
    now: str
    clock_doubt: str
    steps: list[StepView]
    entry: EntryView | None
    upcoming: list[EntryView]
    observe: list[str]
    readings: list[ReadingView]
    observations: list[ObservationView]
    changes: list[ChangeView]
    undo: UndoView | None
    signatures: list[SignatureView]
    stair: list[Tread]
    losses: list[Loss]
    pictures: Pictures
    apparatus: tuple[str, ...]
    # what is done before each weighing of the series; these are empty and 0 where a method weighs none to constancy
    round: str
    tolerance: str
    tolerance_mg: float
    answer: AnswerView
    trial: TrialView
    trials: list[TrialLineView]
    next_trial: str
    predictions: list[Prediction]
    can_predict: bool
    verdicts: list[Verdict]
    held_back: str = ""


def run_view(
    run: StoredRun,
    now: datetime,
    label: str | None = None,
    changed_from: StoredRun | None = None,
    brief: bool = False,
) -> RunView:
    """Everything the bench shows of a run, and of the trial with this label: without one, of that which has its turn.

    With the run that it was `changed_from` only what is another now; `brief` leaves out the readings of other trials.
    Raises NotFound for a label that the run does not have.
    """
    shown, evaluation = trial_shown(run, label), run.evaluation
    lines = changed_lines(changed_from, run) if changed_from is not None else None
    found, trial = shown.found, shown.found.trial
    treads, upcoming = stair(trial, run.schools.get("vessel", CRUCIBLE)), entry_views(shown)
    options = run.options if isinstance(run.options, SeriesOptions) else None
    return RunView(
        uuid=run.uuid,
        version=run.version,
        since=changed_from.version if changed_from is not None and lines is not None else None,
        title=run.title,
        note=run.note,
        method=run.method.name,
        method_title=run.method.title,
        bench=run.bench,
        day=run.day_id,
        section=run.section,
        date=run.date.isoformat(),
        procedure=f"{run.course.title}, version {run.course.version}",
        caution=run.course.caution,
        schools=_schools(run),
        options=dict(run.written_options),
        balance=_balance(run.balance, run.instruments),
        instruments={
            kind: InstrumentUseView(name=row.get("name", ""), half_width=row.get("half_width", ""))
            for kind, row in run.instruments.items()
        },
        now=iso(now),
        clock_doubt=_clock_doubt(run, now),
        steps=step_views(shown),
        entry=upcoming[0] if upcoming else None,
        upcoming=upcoming,
        observe=run.course.observe,
        readings=reading_views(run, found.label if brief or changed_from is not None else None),
        observations=observation_views(run),
        changes=change_views(run),
        undo=undo_view(run, shown.label, now),
        signatures=signature_views(run),
        stair=treads,
        losses=losses(trial, treads),
        pictures=run.method.judging.pictures(trial),
        apparatus=apparatus_of(run.course, run.schools, run.method.facts(run.options)),
        round=_round_of(trial),
        tolerance=options.tolerance.shown if options else "",
        tolerance_mg=float(options.tolerance_g) * 1000 if options else 0.0,
        answer=answer_view(evaluation, found, [row.doubt for row in shown.readings if row.doubt]),
        trial=trial_view(found),
        trials=trial_lines(run) if lines is None else lines,
        next_trial=run.next_label,
        predictions=predictions_of(evaluation),
        can_predict=all(row.result(evaluation.key) is None for row in evaluation.trials),
        verdicts=list(evaluation.verdicts),
    )


def _clock_doubt(run: StoredRun, now: datetime) -> str:
    """What is said where the last entry lies ahead of the server's clock; empty where all is well."""
    ahead = run.changed_at - now
    if ahead <= CLOCK_ERRS:
        return ""
    minutes = int(ahead.total_seconds() // 60)
    span = f"{minutes} min" if minutes < 120 else f"{minutes // 60} h"
    return (
        f"The server's clock stands {span} before the last entry here: one of the two is wrong. Set the clock right; "
        "until then entries bear the time of the last one."
    )


def _round_of(trial: Trial) -> str:
    """What is done before each weighing of the series in work; empty where a method weighs none to constancy."""
    return trial.sheet.readings[trial.weighed_again].round if trial.weighed_again else ""


def _schools(run: StoredRun) -> list[SchoolView]:
    return [
        SchoolView(name=name, chosen=chosen, title=school.title, answer=school.choices[chosen])
        for name, chosen in run.course.chosen(run.schools).items()
        if (school := run.course.schools[name])
    ]


def _balance(name: str, instruments: Mapping[str, Mapping[str, str]]) -> BalanceView:
    half_width = str(instruments.get("balance", {}).get("half_width", ""))
    decimals = parse_reading(half_width, "mass").decimals if half_width else None
    return BalanceView(name=name or "Balance not named", half_width=half_width, decimals=decimals)
