"""What a class's practical asks of its students: lines to be worked out, questions before and after the work."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from sqlalchemy import func

from claykettle.core.marking import SPOKEN, choices_of
from claykettle.core.planning.practical import Question
from claykettle.core.quantity import unit
from claykettle.core.run import Evaluation
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import Day

Place = Literal["before", "after"]
PLACES: tuple[Place, ...] = ("before", "after")


class AskedLineView(View):
    """A line that is asked for: its name and what it is called, its number on the sheet (0: none) and its marks.

    `unit` is the one that the working has it in, empty for a ratio and for words (`is_spoken`).
    """

    name: str
    label: str
    unit: str
    number: int
    marks: int
    is_spoken: bool


class OfferedView(View):
    """An answer that is offered: as it is kept, and as it is read."""

    value: str
    label: str


def practical_says(plan: Any, name: str) -> Any:
    """What the practical of a plan says, asked of the database, in the collation of the house."""
    return func.json_value(plan, f"$.practical.{name}").collate("utf8mb4_nopad_bin")


def asked_lines(visit: Visit, run: StoredRun) -> Iterator[AskedLineView]:
    """The lines that the run's practical asks for; its key result where it names none, or where nobody planned it."""
    evaluation = run.evaluation
    rows = _practical(visit, run).get("report", [])
    for row in rows or [{"line": evaluation.key}]:
        line = _line(evaluation, row["line"], row.get("number", 0), row.get("marks", 1))
        if line is not None:
            yield line


def asked_questions(visit: Visit, run: StoredRun) -> dict[tuple[Place, int], Question]:
    """The questions of the run's practical by place and number (from 1); none where nobody planned it."""
    practical = _practical(visit, run)
    return {
        (place, number): Question(
            row["ask"], row["kind"], tuple(row.get("choices", ())), row.get("answer", ""), row.get("about", "")
        )
        for place in PLACES
        for number, row in enumerate(practical.get(place, []), start=1)
    }


def choices(question: Question, run: StoredRun, trial: str) -> list[OfferedView]:
    """The answers that are offered."""
    return [OfferedView(value=row.value, label=row.label) for row in choices_of(question, run.core, trial)]


def _practical(visit: Visit, run: StoredRun) -> dict[str, Any]:
    """The practical of the run's class, where the run is one of it."""
    plan = visit.session.get_one(Day, run.day_id).plan or {}
    practical: dict[str, Any] = plan.get("practical") or {}
    return practical if practical.get("method") == run.method.name else {}


def _line(evaluation: Evaluation, name: str, number: int, marks: int) -> AskedLineView | None:
    """A line as the working of this run calls it; None where its options have no such line any more."""
    if name in SPOKEN:
        return AskedLineView(name=name, label=SPOKEN[name], unit="", number=number, marks=marks, is_spoken=True)
    found = evaluation.trials[0].trial.sheet.by_name.get(name)
    if found is None:
        return None
    shown = found.under(evaluation.run.options)
    return AskedLineView(
        name=name, label=shown.label, unit=unit(shown.unit).shown, number=number, marks=marks, is_spoken=False
    )
