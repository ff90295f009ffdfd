"""A class's own figures, marked: every sheet line by line, marks that a person gives instead, and giving back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal
from uuid import NAMESPACE_OID, uuid5

from sqlalchemy import select

from claykettle.core.errors import Conflict, Fault, NotFound, Refusal
from claykettle.core.wording import listed
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.desk.own_figures import GivenAnswerView, answers_of
from claykettle.service.desk.sheets import MarkedSheetView, counted_sheets, decided, marked_sheets
from claykettle.service.lab.cards import Laid, laid_cards
from claykettle.service.lab.results import class_scale
from claykettle.service.lab.state import class_at
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.tables import AnswerRow, ChoiceRow, GivenBackRow, MarkRow, RunRow, SheetRow, SignatureRow

LONGEST_NOTE = 1000


class MarkedBenchView(View):
    """A bench with its run, the result of it, and the sheets that it handed in: of each student and trial the one that
    counts, also of other runs that it had in this class; and the answers that it gave to the practical's questions.
    """

    bench: int
    name: str
    run: str
    students: list[str]
    found: str
    is_out: bool
    sheets: list[MarkedSheetView]
    answers: list[GivenAnswerView]


class ClassMarkingView(View):
    """A class's sheets, bench by bench in the order of the room, how many there are to be handed in, how many of them
    were given back, and what of the class is still open, in sentences.
    """

    id: int
    title: str
    date: str
    benches: list[MarkedBenchView]
    handed: int
    given_back: int
    middle: str
    still_open: list[str]


@dataclass(frozen=True)
class ChangeMark:
    """Other marks for a line of a sheet than those reckoned (None: those after all), and why; `after` is the latest
    mark of the sheet that its giver has seen.
    """

    uuid: str
    sheet: str
    line: str
    marks: int | None
    note: str
    after: str = ""
    by: str = ""


@dataclass(frozen=True)
class ChooseSheet:
    """That this version of a sheet `counts`, or against which readings it is marked: those that stood `then`, when it
    came in, or those of `now`.
    """

    uuid: str
    sheet: str
    choice: Literal["counts", "then", "now"]
    by: str = ""


@dataclass(frozen=True)
class GiveBack:
    """Sheets to be given back, marked; one that was given back already is so again."""

    uuid: str
    sheets: Sequence[str]
    by: str = ""


@may(INSTRUCTOR)
def class_marking(visit: Visit, number: int) -> ClassMarkingView:
    """Every sheet of a class, marked; number 0 is the class at work now. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    handed = _handed(visit, state.number)
    answered = set(visit.session.scalars(select(AnswerRow.run_id).where(AnswerRow.day_id == state.number).distinct()))
    benches = [
        MarkedBenchView(
            bench=row.bench,
            name=row.name,
            run=row.uuid,
            students=list(row.students),
            found=found_at(row),
            is_out=row.is_out,
            sheets=[
                sheet
                for (bench, run), sheets in handed.items()
                if bench == row.bench
                for sheet in counted_sheets(visit, visit.run(run), sheets)
            ],
            answers=answers_of(visit, visit.run(row.uuid), True) if row.run in answered else [],
        )
        for row in rows
    ]
    scale = class_scale(rows)
    return ClassMarkingView(
        id=state.number,
        title=state.title,
        date=state.session(visit).date.isoformat(),
        benches=benches,
        handed=sum(len(row.sheets) for row in benches),
        given_back=sum(bool(sheet.given_back) for row in benches for sheet in row.sheets),
        middle=scale.said if scale is not None else "",
        still_open=list(_still_open(visit, rows, benches)),
    )


def _still_open(visit: Visit, rows: Sequence[Laid], benches: Sequence[MarkedBenchView]) -> Iterator[str]:
    """What is left to be done for the class: benches not finished, questions not answered, sheets, signatures."""
    there = [row for row in rows if not row.is_out]
    going = [row.name for row in there if row.card.done_at is None and not row.card.rests]
    if going:
        yield f"Not finished: {listed(going)}."
    resting = [f"{row.name} ({row.card.place or row.card.rests})" for row in there if row.card.rests]
    if resting:
        yield f"Waiting: {listed(resting)}."
    asked = [row.name for row in there if row.asks]
    if asked:
        yield f"Asked about a figure, and not answered: {listed(asked)}."
    waiting = sum(not sheet.given_back for bench in benches for sheet in bench.sheets)
    if waiting:
        yield f"{waiting} {'sheet' if waiting == 1 else 'sheets'} to be given back."
    missing = [row.name for row in benches if not row.sheets and not row.is_out]
    if missing and len(missing) < len(there):
        yield f"No own figures of {listed(missing)}."
    numbers = [row.run for row in there]
    signed = set(visit.session.scalars(select(SignatureRow.run_id).where(SignatureRow.run_id.in_(numbers)).distinct()))
    unsigned = len(set(numbers) - signed)
    if unsigned:
        yield f"{unsigned} of {len(numbers)} records not signed."


@may(INSTRUCTOR)
def change_mark(visit: Visit, number: int, command: ChangeMark) -> ClassMarkingView:
    """Give a line other marks than those reckoned, with a note; what was given before stays on record.

    Raises NotFound, NotYours, Refusal (path `line`, `marks`, `note`), Conflict where a colleague changed a mark of the
    sheet meanwhile.
    """
    state = class_at(visit, number)
    if visit.session.scalar(select(MarkRow.id).where(MarkRow.uuid == command.uuid)) is not None:
        return class_marking(visit, state.number)
    sheet, run = _sheet(visit, state.number, command.sheet)
    # whoever changes a mark of it goes one behind the other
    visit.run(run, lock=True)
    last = decided(visit, [sheet]).get(sheet.id)
    if last is not None and last.last != command.after:
        by = next(row.by for row in last.marks.values() if row.uuid == last.last)
        text = f"{by or 'A colleague'} changed a mark of this sheet meanwhile: look at it again; yours is not lost."
        raise Conflict(text)
    found = next(iter(marked_sheets(visit, visit.run(run), [sheet])), None)
    line = next((row for row in found.lines if row.name == command.line), None) if found is not None else None
    if line is None:
        raise Refusal(Fault("unknown-line", "line", "The sheet has no such line."))
    faults = []
    if command.marks is not None and not 0 <= command.marks <= line.of:
        faults.append(Fault("marks", "marks", f"Between 0 and {line.of}: so much is the line worth."))
    if not command.note.strip():
        faults.append(Fault("missing", "note", "Say why, in a word or two: it stands beside the mark."))
    elif len(command.note) > LONGEST_NOTE:
        faults.append(Fault("too-long", "note", f"At most {LONGEST_NOTE} characters."))
    if faults:
        raise Refusal(*faults)
    visit.session.add(
        MarkRow(
            uuid=command.uuid, sheet_id=sheet.id, line=command.line, marks=command.marks, note=command.note.strip(),
            at=visit.now, by=command.by[:120],
        )
    )  # fmt: skip
    visit.session.flush()
    return class_marking(visit, state.number)


@may(INSTRUCTOR)
def choose_sheet(visit: Visit, number: int, command: ChooseSheet) -> ClassMarkingView:
    """Choose which version of a sheet counts, or against which readings it is marked; nothing of one that was returned.

    Raises NotFound, NotYours, Refusal (path `sheet`).
    """
    state = class_at(visit, number)
    sheet, run = _sheet(visit, state.number, command.sheet)
    # whoever returns it meanwhile goes before or behind
    visit.run(run, lock=True)
    versions = select(SheetRow.id).where(
        SheetRow.run_id == sheet.run_id, SheetRow.trial == sheet.trial, SheetRow.student == sheet.student
    )
    if visit.session.scalar(select(GivenBackRow.id).where(GivenBackRow.sheet_id.in_(versions)).limit(1)) is not None:
        raise Refusal(Fault("returned", "sheet", "This sheet was marked and returned: nothing changes it any more."))
    if visit.session.scalar(select(ChoiceRow.id).where(ChoiceRow.uuid == command.uuid)) is None:
        visit.session.add(
            ChoiceRow(uuid=command.uuid, sheet_id=sheet.id, choice=command.choice, at=visit.now, by=command.by[:120])
        )
        visit.session.flush()
    return class_marking(visit, state.number)


@may(INSTRUCTOR)
def give_back(visit: Visit, number: int, command: GiveBack) -> ClassMarkingView:
    """Give sheets back: their benches see them marked from now on, the worked line beside each wrong one.

    Raises NotFound, NotYours.
    """
    state = class_at(visit, number)
    for uuid in dict.fromkeys(command.sheets):
        sheet, _ = _sheet(visit, state.number, uuid)
        own = str(uuid5(NAMESPACE_OID, f"{command.uuid} {uuid}"))
        if visit.session.scalar(select(GivenBackRow.id).where(GivenBackRow.uuid == own)) is None:
            visit.session.add(GivenBackRow(uuid=own, sheet_id=sheet.id, at=visit.now, by=command.by[:120]))
    visit.session.flush()
    return class_marking(visit, state.number)


def _sheet(visit: Visit, day: int, uuid: str) -> tuple[SheetRow, str]:
    """A sheet of the class, and the UUID of its run. Raises NotFound."""
    query = (
        select(SheetRow, RunRow.uuid)
        .join(RunRow, RunRow.id == SheetRow.run_id)
        .where(SheetRow.uuid == uuid, SheetRow.day_id == day)
    )
    row = visit.session.execute(query).one_or_none()
    if row is None:
        raise NotFound("There is no such sheet in this class.")
    return row[0], row[1]


def found_at(row: Laid) -> str:
    """A bench's result, or what stands against it."""
    if row.card.standing.level == "stop":
        return row.card.standing.word
    return row.card.found.text if row.card.found is not None else ""


def _handed(visit: Visit, day: int) -> dict[tuple[int, str], list[SheetRow]]:
    """By bench and run all sheets, as they came."""
    query = (
        select(SheetRow, RunRow.bench_id, RunRow.uuid)
        .join(RunRow, RunRow.id == SheetRow.run_id)
        .where(SheetRow.day_id == day)
        .order_by(SheetRow.id)
    )
    found: dict[tuple[int, str], list[SheetRow]] = {}
    for sheet, bench, run in visit.session.execute(query):
        found.setdefault((bench, run), []).append(sheet)
    return found
