"""The list of runs: one line a run, kept beside it whenever it changes; read a page at a time."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Literal

from claykettle.core.errors import refuse
from claykettle.core.judgement.standing import Standing
from claykettle.service.callers import BENCH, BOARD, INSTRUCTOR, may
from claykettle.service.views.answer import AnswerView, run_answer
from claykettle.service.views.base import View
from claykettle.service.views.lines import RestView, trial_lines
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.summaries import Kept, Place, benches_out, days_of


class RunSummaryView(View):
    """One run in the list and in the strip of other benches."""

    uuid: str
    version: int
    title: str
    bench: str
    section: str
    method_title: str
    date: str
    changed_at: str
    state: Literal["waiting", "finished", "new"]
    doing: str
    timer_ends_at: str | None
    rest: RestView | None
    level: Literal["good", "watch", "stop"] | None
    answer: AnswerView
    is_out: bool = False
    """Whether its bench dropped out of the class."""


class RunListView(View):
    """A page of runs, the latest first, the server's clock, and the day that it is there.

    `older` names the next page, empty after the last; `elsewhere` tells of runs in other sections of the caller.
    """

    now: str
    today: str
    runs: list[RunSummaryView]
    older: str
    elsewhere: bool


NO_ANSWER = AnswerView(
    label="", text=None, headline=None, second=None, statements=[], formula=None, provisional=False,
    why_provisional="", ruler=None, scale=None, remarks=[], standing=Standing("watch", "under way", ""),
)  # fmt: skip
"""What a projector shows of an answer that it is not to show."""


PAGE = 40
"""Runs on a page of the list."""


@may(BENCH, BOARD, INSTRUCTOR)
def listed(visit: Visit, older_than: str = "", day: date | None = None) -> RunListView:
    """The runs of the section where the caller works, a page of them, the latest changed first; or those of a `day`.

    `older_than` is the `older` of the page before. On a board without answers those are left out. Raises Refusal at
    `older`.
    """
    found = visit.summaries(
        "listed",
        *([days_of(visit.session, day)] if day is not None else []),
        limit=PAGE + 1,
        before=_place(older_than),
        only_here=True,
    )
    out = benches_out(visit.session, [row.place.number for row in found[:PAGE]])
    runs = [_as_named(row, row.place.number in out) for row in found[:PAGE]]
    if visit.caller.reveal != "always":
        # a tablet reads its answer at its bench, when it may
        runs = [row.model_copy(update={"level": None, "answer": NO_ANSWER}) for row in runs]
    if not visit.caller.shows_answers:
        runs = [row.model_copy(update={"title": row.method_title, "level": None, "answer": NO_ANSWER}) for row in runs]
    return RunListView(
        now=visit.now.isoformat(),
        today=visit.today.isoformat(),
        runs=runs,
        older=_written(found[PAGE - 1].place) if len(found) > PAGE else "",
        elsewhere=visit.has_runs_elsewhere(),
    )


def _as_named(kept: Kept, is_out: bool) -> RunSummaryView:
    """The line of a run, its bench and section under their names of today."""
    line = RunSummaryView.model_validate_json(kept.text)
    line.is_out = is_out
    line.bench, line.section = kept.bench, kept.section
    return line


def _written(place: Place) -> str:
    return f"{place.changed_at.isoformat()}/{place.number}"


def _place(written: str) -> Place | None:
    if not written:
        return None
    moment, _, number = written.partition("/")
    try:
        at = datetime.fromisoformat(moment)
        return Place(at.astimezone(UTC), int(number[:10]))
    except (ValueError, OverflowError):
        text = "This page of the list cannot be found again; begin at the top."
        raise refuse("unknown-page", text, "older") from None


def summary_view(run: StoredRun) -> RunSummaryView:
    """One line about a run: its answer so far, and what it waits for: of several trials, whose timer ends first."""
    evaluation, lines = run.evaluation, trial_lines(run)
    open_lines = [line for line in lines if line.state != "finished"]
    ticking = sorted((line for line in open_lines if line.timer_ends_at), key=lambda line: line.timer_ends_at or "")
    line = next(iter([*ticking, *open_lines]), lines[-1])
    of_several = f"Trial {line.label}: " if len(lines) > 1 and open_lines else ""
    answer = run_answer(evaluation, line.label, run.doubts)
    return RunSummaryView(
        uuid=run.uuid,
        version=run.version,
        title=run.title,
        bench=run.bench,
        section=run.section,
        method_title=run.method.title,
        date=run.date.isoformat(),
        changed_at=iso(run.changed_at),
        state="finished" if not open_lines else "new" if all(row.state == "new" for row in lines) else "waiting",
        doing=of_several + line.doing,
        timer_ends_at=line.timer_ends_at,
        rest=line.rest,
        level=answer.standing.level if any(trial.readings for trial in run.own_trials) else None,
        answer=answer,
    )
