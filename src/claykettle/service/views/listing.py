"""The list of runs: one line a run, made anew only for a run that changed."""

from __future__ import annotations

from typing import Literal

from claykettle.core.judgement.standing import Standing
from claykettle.service.callers import BENCH, BOARD, INSTRUCTOR, may
from claykettle.service.views.answer import AnswerView, run_answer
from claykettle.service.views.base import View
from claykettle.service.views.lines import RestView, trial_lines
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso


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


class RunListView(View):
    """All runs, the latest first, the server's clock, and the day that it is there."""

    now: str
    today: str
    runs: list[RunSummaryView]


NO_ANSWER = AnswerView(
    label="", text=None, headline=None, second=None, statements=[], formula=None, provisional=False,
    why_provisional="", ruler=None, scale=None, remarks=[], standing=Standing("watch", "under way", ""),
)  # fmt: skip
"""What a projector shows of an answer that it is not to show."""


@may(BENCH, BOARD, INSTRUCTOR)
def listed(visit: Visit) -> RunListView:
    """All runs of the caller, the latest changed first; on a board without answers those are left out."""
    runs = visit.digests("summary", summary_view)
    if not visit.caller.shows_answers:
        runs = [row.model_copy(update={"title": row.method_title, "level": None, "answer": NO_ANSWER}) for row in runs]
    return RunListView(now=visit.now.isoformat(), today=visit.today.isoformat(), runs=runs)


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
