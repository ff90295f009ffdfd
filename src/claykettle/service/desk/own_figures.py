"""A student's own figures: the lines that a practical asks for, typed as on paper and handed in, each kept."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from sqlalchemy import select

from claykettle.core.errors import Fault, Refusal
from claykettle.core.marking import SPOKEN
from claykettle.core.quantity import unit
from claykettle.core.run import Evaluation
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.tables import Day, Place, Seat, SheetRow, Student

LONGEST = 80
NUMBER = re.compile(r"[-+−]?[0-9]*[.,]?[0-9]")


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


class HandedView(View):
    """Figures as they were handed in of a trial, by whom and when; `student` is empty for the bench as a whole."""

    uuid: str
    trial: str
    student: str
    claims: dict[str, str]
    at: str
    by: str


class OwnFiguresView(View):
    """What is asked of each trial, and what was handed in, the latest first. `trials` have something to be worked out;
    `students` stand at the bench.

    `held_back` says why the answers are not shown yet; it is empty where they are.
    """

    title: str
    bench: str
    lines: list[AskedLineView]
    trials: list[str]
    students: list[str]
    handed: list[HandedView]
    held_back: str


@dataclass(frozen=True)
class HandIn:
    """Figures handed in, by line, as typed; the same UUID twice hands them in once."""

    uuid: str
    trial: str
    claims: Mapping[str, str] = field(default_factory=dict)
    student: str = ""
    by: str = ""


@may(BENCH, INSTRUCTOR)
def own_figures(visit: Visit, uuid: str) -> OwnFiguresView:
    """What a bench is asked to work out itself, and what it handed in. Raises NotFound, NotYours."""
    return _view(visit, visit.run(uuid))


@may(BENCH, INSTRUCTOR)
def hand_in(visit: Visit, uuid: str, command: HandIn) -> OwnFiguresView:
    """Hand in a trial's figures; what was handed in before stays beside them.

    Raises NotFound, NotYours, Refusal (path `trial`, `student`, `claims.LINE`).
    """
    run = visit.run(uuid, lock=True)
    label = run.trial_named(command.trial).label
    faults = list(_faults(list(asked_lines(visit, run)), command.claims))
    if run.evaluation.trial(label).result(run.evaluation.key) is None:
        faults.insert(
            0, Fault("unfinished", "trial", f"Trial {label} has no result yet: weigh first, then work it out.")
        )
    if len(command.student.strip()) > 120:
        faults.append(Fault("too-long", "student", "At most 120 characters."))
    if faults:
        raise Refusal(*faults)
    if visit.session.scalar(select(SheetRow.id).where(SheetRow.uuid == command.uuid)) is None:
        visit.session.add(
            SheetRow(
                uuid=command.uuid, day_id=run.day_id, run_id=run.id, trial=label, student=command.student.strip(),
                claims={name: text for name, text in command.claims.items() if text.strip()}, at=visit.now,
                by=command.by[:120],
            )
        )  # fmt: skip
        visit.session.flush()
    return _view(visit, run)


def asked_lines(visit: Visit, run: StoredRun) -> Iterator[AskedLineView]:
    """The lines that the run's practical asks for; its key result where it names none, or where nobody planned it."""
    plan = visit.session.get_one(Day, run.day_id).plan or {}
    practical = plan.get("practical") or {}
    rows = practical.get("report", []) if practical.get("method") == run.method.name else []
    evaluation = run.evaluation
    for row in rows or [{"line": evaluation.key}]:
        line = _line(evaluation, row["line"], row.get("number", 0), row.get("marks", 1))
        if line is not None:
            yield line


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


def _faults(asked: list[AskedLineView], claims: Mapping[str, str]) -> Iterator[Fault]:
    """What cannot be a figure at all; what is only wrong, or lacks its unit, is for the marking to say."""
    by_name = {row.name: row for row in asked}
    for name, text in claims.items():
        path = f"claims.{name[:60]}"
        row = by_name.get(name)
        if row is None:
            yield Fault("unknown-line", path, "This line is not asked for; look at the page again.")
        elif len(text) > LONGEST:
            yield Fault("too-long", path, f"At most {LONGEST} characters.")
        elif text.strip() and not row.is_spoken and NUMBER.match(text.strip()) is None:
            example = f"0.724 {row.unit}".rstrip()
            yield Fault("not-a-number", path, f"Begin with the figure, its unit behind it, such as {example}.")
    for row in asked:
        if not claims.get(row.name, "").strip():
            yield Fault("missing", f"claims.{row.name}", "Still to be worked out: it is asked for.")


def _students(visit: Visit, run: StoredRun) -> list[str]:
    query = (
        select(Student.name)
        .join(Seat, Seat.student_id == Student.id)
        .join(Place, Place.id == Seat.place_id)
        .where(Place.run_id == run.id)
        .order_by(Seat.id)
    )
    return list(visit.session.scalars(query))


def _view(visit: Visit, run: StoredRun) -> OwnFiguresView:
    evaluation = run.evaluation
    rows = visit.session.scalars(select(SheetRow).where(SheetRow.run_id == run.id).order_by(SheetRow.id.desc()))
    return OwnFiguresView(
        title=run.title,
        bench=run.bench,
        lines=list(asked_lines(visit, run)),
        trials=[row.label for row in evaluation.trials if row.result(evaluation.key) is not None],
        students=_students(visit, run),
        handed=[
            HandedView(
                uuid=row.uuid, trial=row.trial, student=row.student, claims=row.claims, at=iso(row.at), by=row.by
            )
            for row in rows
        ],
        held_back=held_back(visit, run.id),
    )
