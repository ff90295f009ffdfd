"""Everything that is kept of a student, as one document: for whoever asks what is known of them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from sqlalchemy import or_, select

from claykettle.core.errors import NotFound
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.noting import note
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import (
    AnswerRow,
    Base,
    ChangeRow,
    Day,
    MarkRow,
    ObservationRow,
    Place,
    ReadingRow,
    RunRow,
    Seat,
    Section,
    SheetRow,
    SignatureRow,
    StepEventRow,
    Student,
    TrialRow,
    WithdrawalRow,
)

FORMAT, VERSION = "clay-kettle/student", 1


@may(INSTRUCTOR)
def student_data(visit: Visit, name: str) -> dict[str, Any]:
    """What the caller's sections hold of a student: where they sat, what they handed in, wrote, saw,
    changed and signed.

    Raises NotFound where nothing is.
    """
    name = " ".join(name.split())
    found = {
        "format": FORMAT,
        "version": VERSION,
        "name": name,
        "as_of": iso(visit.now),
        "classes": list(_classes(visit, name)),
        "sheets": list(_sheets(visit, name)),
        "answers": list(_rows(visit, AnswerRow, name, ("trial", "place", "number", "ask", "text", "at"))),
        "readings": list(_readings(visit, name)),
        "seen": list(_rows(visit, ObservationRow, name, ("trial", "tag", "text", "at"))),
        "steps": list(_rows(visit, StepEventRow, name, ("trial", "step", "kind", "reason", "at"))),
        "changes": list(_rows(visit, ChangeRow, name, ("what", "before", "after", "reason", "at"))),
        "taken_back": list(_rows(visit, WithdrawalRow, name, ("row_uuid", "reason", "at"))),
        "signatures": list(_rows(visit, SignatureRow, name, ("name", "at", "record"))),
    }
    if not any(isinstance(rows, list) and rows for rows in found.values()):
        raise NotFound("Nothing is kept of anybody of this name in your sections.")
    note(visit, "student's data taken along")
    return found


def _own(visit: Visit, query: Any) -> Any:
    return query if visit.caller.is_program else query.where(Day.section_id.in_(visit.caller.sections))


def _classes(visit: Visit, name: str) -> Iterator[dict[str, Any]]:
    query = (
        select(Section.name, Day.title, Day.date, Place.position)
        .join(Day, Day.section_id == Section.id)
        .join(Place, Place.day_id == Day.id)
        .join(Seat, Seat.place_id == Place.id)
        .join(Student, Student.id == Seat.student_id)
        .where(Student.name == name)
        .order_by(Day.date)
    )
    for section, title, day, place in visit.session.execute(_own(visit, query)):
        yield {"section": section, "class": title, "date": day.isoformat(), "place": place}


def _wrote(column: Any, name: str) -> Any:
    """Written under the name alone, or with the bench or the account beside it."""
    beside = (column.startswith(f"{name}{sign}", autoescape=True) for sign in (", ", " ("))
    return or_(column == name, *beside)


def _rows(visit: Visit, table: type[Base], name: str, columns: tuple[str, ...]) -> Iterator[dict[str, Any]]:
    held: Any = table
    who = held.name if table is SignatureRow else held.by
    whose = [_wrote(who, name)] + ([held.student == name] if hasattr(table, "student") else [])
    query = (
        select(RunRow.title, RunRow.uuid, held)
        .join(RunRow, RunRow.id == held.run_id)
        .join(Day, Day.id == RunRow.day_id)
        .where(or_(*whose))
        .order_by(held.id)
    )
    for title, uuid, row in visit.session.execute(_own(visit, query)):
        yield {"run": uuid, "title": title, **{one: _plain(getattr(row, one)) for one in columns}}


def _readings(visit: Visit, name: str) -> Iterator[dict[str, Any]]:
    query = (
        select(RunRow.title, RunRow.uuid, TrialRow.label, ReadingRow)
        .join(TrialRow, TrialRow.id == ReadingRow.trial_id)
        .join(RunRow, RunRow.id == TrialRow.run_id)
        .join(Day, Day.id == RunRow.day_id)
        .where(_wrote(ReadingRow.by, name))
        .order_by(ReadingRow.id)
    )
    for title, uuid, trial, row in visit.session.execute(_own(visit, query)):
        yield {
            "run": uuid, "title": title, "trial": trial, "reading": row.slot, "text": row.text, "unit": row.unit,
            "at": iso(row.at), "reason": row.reason,
        }  # fmt: skip


def _sheets(visit: Visit, name: str) -> Iterator[dict[str, Any]]:
    query = (
        select(RunRow.title, RunRow.uuid, SheetRow)
        .join(RunRow, RunRow.id == SheetRow.run_id)
        .join(Day, Day.id == SheetRow.day_id)
        .where(or_(SheetRow.student == name, _wrote(SheetRow.by, name)))
        .order_by(SheetRow.id)
    )
    for title, uuid, row in visit.session.execute(_own(visit, query)):
        marks = visit.session.scalars(select(MarkRow).where(MarkRow.sheet_id == row.id).order_by(MarkRow.id))
        yield {
            "run": uuid, "title": title, "trial": row.trial, "at": iso(row.at), "claims": row.claims,
            "marks": [{"line": one.line, "marks": one.marks, "note": one.note, "at": iso(one.at)} for one in marks],
        }  # fmt: skip


def _plain(value: Any) -> Any:
    return iso(value) if hasattr(value, "isoformat") else value
