"""A student's own figures: the lines that a practical asks for, typed as on paper and handed in, each kept; the answers
to its questions; and what was given back, marked.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from sqlalchemy import select

from claykettle.core.errors import Conflict, Fault, Refusal
from claykettle.core.marking import answer_label, judge_answer, kind_of
from claykettle.core.planning.practical import Kind, Question
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.desk.asking import (
    AskedLineView,
    OfferedView,
    Place,
    asked_lines,
    asked_questions,
    choices,
)
from claykettle.service.desk.sheets import MarkedSheetView, marked_sheets
from claykettle.service.revealing import held_back, own
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.tables import AnswerRow, GivenBackRow, Seat, SheetRow, Student
from claykettle.store.tables import Place as PlaceRow

LONGEST, LONGEST_ANSWER = 80, 2000
NUMBER = re.compile(r"[-+−]?[0-9]*[.,]?[0-9]")


class HandedView(View):
    """Figures as they were handed in of a trial, by whom and when; `student` is empty for the bench as a whole.

    `marked` is the sheet as it was given back; None while it was not.
    """

    uuid: str
    trial: str
    student: str
    claims: dict[str, str]
    at: str
    by: str
    marked: MarkedSheetView | None


class GivenAnswerView(View):
    """An answer that was given: by whom, to a question `before` (of the run) or `after` (of a trial), as it is read.

    `ask` is the question as it was asked then. `verdict` and `said` tell how it stands; they are empty while the
    answers are kept back, and for a question that is asked otherwise now.
    """

    place: Place
    number: int
    ask: str
    trial: str
    student: str
    text: str
    label: str
    at: str
    by: str
    verdict: Literal["right", "wrong", "open", ""]
    said: str


class AskedQuestionView(View):
    """A question: where it is asked, its number there, how it is answered, and what is offered."""

    place: Place
    number: int
    ask: str
    kind: Kind
    choices: list[OfferedView]


class OwnFiguresView(View):
    """What is asked of each trial, and what was handed in, the latest first. `trials` have something to be worked out;
    `students` stand at the bench.

    `held_back` says why the answers are not shown yet; it is empty where they are.
    """

    title: str
    bench: str
    lines: list[AskedLineView]
    questions: list[AskedQuestionView]
    answers: list[GivenAnswerView]
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


@dataclass(frozen=True)
class GiveAnswer:
    """An answer to a question as it was asked (`ask`); the same UUID twice gives it once."""

    uuid: str
    place: Place
    number: int
    ask: str
    text: str
    trial: str = ""
    student: str = ""
    by: str = ""


@may(BENCH, INSTRUCTOR)
def own_figures(visit: Visit, uuid: str) -> OwnFiguresView:
    """What a bench is asked to work out itself, and what it handed in. Raises NotFound, NotYours."""
    return _view(visit, visit.run(uuid))


@may(BENCH, INSTRUCTOR)
def hand_in(visit: Visit, uuid: str, command: HandIn) -> OwnFiguresView:
    """Hand in a trial's figures: a further version where there is one, which stays beside it.

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
    if not faults and _is_returned(visit, run, label, command.student.strip()):
        text = "This sheet was marked and returned: nothing changes it any more."
        faults.append(Fault("returned", "trial", text))
    if faults:
        raise Refusal(*faults)
    if visit.session.scalar(select(SheetRow.id).where(SheetRow.uuid == command.uuid)) is None:
        visit.session.add(
            SheetRow(
                uuid=command.uuid, day_id=run.day_id, run_id=run.id, trial=label, student=command.student.strip(),
                claims={name: text for name, text in command.claims.items() if text.strip()}, at=visit.now,
                by=command.by[:120], tablet=visit.caller.tablet,
            )
        )  # fmt: skip
        visit.session.flush()
    return _view(visit, run)


@may(BENCH, INSTRUCTOR)
def give_answer(visit: Visit, uuid: str, command: GiveAnswer) -> OwnFiguresView:
    """Answer a question; what was answered before stays beside it.

    Raises NotFound, NotYours, Refusal (path `number`, `text`, `student`), Conflict where the question is asked
    otherwise now.
    """
    run = visit.run(uuid, lock=True)
    question = asked_questions(visit, run).get((command.place, command.number))
    if question is None:
        raise Refusal(Fault("unknown-question", "number", "This question is not asked; look at the page again."))
    if question.ask != command.ask:
        raise Conflict(f"The question was changed meanwhile. It is now: {question.ask}")
    label = run.trial_named(command.trial).label if command.place == "after" else ""
    fault = _fault_in(question, command.text.strip(), [row.value for row in choices(question, run, label or "1")])
    if fault is None and len(command.student.strip()) > 120:
        fault = Fault("too-long", "student", "At most 120 characters.")
    if fault is not None:
        raise Refusal(fault)
    if visit.session.scalar(select(AnswerRow.id).where(AnswerRow.uuid == command.uuid)) is None:
        visit.session.add(
            AnswerRow(
                uuid=command.uuid, day_id=run.day_id, run_id=run.id, trial=label, student=command.student.strip(),
                place=command.place, number=command.number, ask=question.ask, text=command.text.strip(), at=visit.now,
                by=command.by[:120],
            )
        )  # fmt: skip
        visit.session.flush()
    return _view(visit, run)


def _fault_in(question: Question, text: str, offered: Sequence[str]) -> Fault | None:
    if not text:
        return Fault("missing", "text", "Still to be answered.")
    if len(text) > LONGEST_ANSWER:
        return Fault("too-long", "text", f"At most {LONGEST_ANSWER} characters.")
    how = kind_of(question)
    if how == "choice" and text not in offered:
        return Fault("unknown-choice", "text", "Choose one of those that are offered.")
    if how == "number" and NUMBER.match(text) is None:
        return Fault("not-a-number", "text", "Begin with the figure, its unit behind it.")
    return None


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


def _is_returned(visit: Visit, run: StoredRun, trial: str, student: str) -> bool:
    """Whether a sheet of this student and trial went back to them already."""
    wanted = (
        select(GivenBackRow.id)
        .join(SheetRow, GivenBackRow.sheet_id == SheetRow.id)
        .where(SheetRow.run_id == run.id, SheetRow.day_id == run.day_id)
        .where(SheetRow.trial == trial, SheetRow.student == student)
    )
    return visit.session.scalar(wanted.limit(1)) is not None


def students_at(visit: Visit, run: StoredRun) -> list[str]:
    """The students who stand at the bench of a run, as they were seated."""
    query = (
        select(Student.name)
        .join(Seat, Seat.student_id == Student.id)
        .join(PlaceRow, PlaceRow.id == Seat.place_id)
        .where(PlaceRow.run_id == run.id)
        .order_by(Seat.id)
    )
    return list(visit.session.scalars(query))


def answers_of(visit: Visit, run: StoredRun, tells: bool) -> list[GivenAnswerView]:
    """The latest answer of each student to each question of a run; judged where that may be told."""
    asked = asked_questions(visit, run)
    rows = visit.session.scalars(select(AnswerRow).where(AnswerRow.run_id == run.id).order_by(AnswerRow.id))
    latest = {(row.place, row.number, row.trial, row.student): row for row in rows}
    return [_answer(run, row, asked, tells) for row in sorted(latest.values(), key=_order)]


def _order(row: AnswerRow) -> tuple[bool, int, str, str]:
    return row.place == "after", row.number, row.trial, row.student


def _answer(
    run: StoredRun, row: AnswerRow, asked: Mapping[tuple[Place, int], Question], tells: bool
) -> GivenAnswerView:
    place: Place = "after" if row.place == "after" else "before"
    question = asked.get((place, row.number))
    trial = row.trial if row.trial in {one.label for one in run.own_trials} else run.own_trials[0].label
    stands = question is not None and question.ask == row.ask
    found = (
        judge_answer(question, row.text, run.evaluation, trial) if question is not None and stands and tells else None
    )
    return GivenAnswerView(
        place=place,
        number=row.number,
        ask=row.ask,
        trial=row.trial,
        student=row.student,
        text=row.text,
        label=answer_label(question, row.text, run.core, trial) if question is not None and stands else row.text,
        at=iso(row.at),
        by=row.by,
        verdict=found.verdict if found is not None else "",
        said=found.text if found is not None else "",
    )


def _view(visit: Visit, run: StoredRun) -> OwnFiguresView:
    evaluation = run.evaluation
    kept = select(SheetRow).where(SheetRow.run_id == run.id, own(visit)).order_by(SheetRow.id.desc())
    rows = visit.session.scalars(kept).all()
    marked = {row.uuid: row for row in marked_sheets(visit, run, rows) if row.given_back}
    why = held_back(visit, run.id)
    first = run.own_trials[0].label
    return OwnFiguresView(
        title=run.title,
        bench=run.bench,
        lines=list(asked_lines(visit, run)),
        questions=[
            AskedQuestionView(
                place=place, number=number, ask=row.ask, kind=kind_of(row), choices=choices(row, run, first)
            )
            for (place, number), row in asked_questions(visit, run).items()
        ],
        answers=answers_of(visit, run, not why),
        trials=[row.label for row in evaluation.trials if row.result(evaluation.key) is not None],
        students=students_at(visit, run),
        handed=[
            HandedView(
                uuid=row.uuid, trial=row.trial, student=row.student, claims=row.claims, at=iso(row.at), by=row.by,
                marked=marked.get(row.uuid),
            )
            for row in rows
        ],
        held_back=why,
    )  # fmt: skip
