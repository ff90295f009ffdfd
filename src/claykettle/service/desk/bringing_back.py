"""A term brought back out of its package: practicals, classes with their places, and all that was handed in and said.

The runs come first, by themselves (`runs/archiving.py`); here they are put back into their classes.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from sqlalchemy import select

from claykettle.formats.package import ClassPart
from claykettle.formats.practical_file import read_practical
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.planning.practicals import import_practical
from claykettle.service.runs.archiving import bench_named, day_of
from claykettle.service.visit import Visit
from claykettle.store.tables import (
    AnswerRow,
    Bench,
    CallAnswer,
    ChoiceRow,
    ClassSession,
    Day,
    GivenBackRow,
    MarkRow,
    Message,
    Place,
    PracticalRow,
    RunRow,
    Seat,
    SheetRow,
    Student,
)


@may(INSTRUCTOR, house=True)
def bring_back_practical(visit: Visit, data: bytes) -> str:
    """Keep a practical of a package as a new one, unless it is here already; what became of it.

    Raises Refusal with every fault.
    """
    practical = read_practical(data)
    mine = () if visit.caller.is_program else (PracticalRow.section_id.in_(visit.caller.sections),)
    for row in visit.session.scalars(select(PracticalRow).where(*mine)):
        if row.versions[-1].name == practical.name and row.versions[-1].method == practical.method.name:
            return f"{practical.name}: a practical of this name is here already and stays as it is."
    return f"{import_practical(visit, data).document['name']}: the practical is back."


@may(INSTRUCTOR, house=True)
def bring_back_class(visit: Visit, part: ClassPart, elevations: Mapping[str, str]) -> str:
    """Bring a class back to the runs that are here: places, students, what was handed in, marked and said. What of it
    is here already stays as it is. A sentence on what became of it.
    """
    day = day_of(visit, part.section, part.date, part.title, elevations)
    if not day.plan:
        day.plan, day.starts = dict(part.plan), part.starts
        day.more_min, day.is_closed, day.reveal = part.more_min, part.is_closed, part.reveal
    wanted = set(_named(part))
    query = select(RunRow.uuid, RunRow.id).where(RunRow.uuid.in_(wanted), RunRow.day_id == day.id)
    runs = {row.uuid: row.id for row in visit.session.execute(query)}
    visit.session.flush()
    _bring_back_places(visit, day, part, runs)
    _bring_back_rows(visit, day, part, runs)
    lost = len(wanted - set(runs))
    told = f"{part.title}, {part.date.isoformat()}: the class is back"
    return (
        f"{told}; {lost} of its runs are copies here, and what was handed in for them stays out."
        if lost
        else f"{told}."
    )


def _named(part: ClassPart) -> Iterator[str]:
    yield from (place.run for place in part.places if place.run is not None)
    for rows in (part.sheets, part.answers, part.calls):
        yield from (row.run for row in rows)


def _bring_back_places(visit: Visit, day: Day, part: ClassPart, runs: Mapping[str, int]) -> None:
    session = visit.session
    there = {row.bench_id for row in session.scalars(select(Place).where(Place.day_id == day.id))}
    for place in part.places:
        bench = bench_named(visit, place.bench)
        if bench.id in there:
            continue
        row = Place(
            day_id=day.id, bench_id=bench.id, position=place.position, run_id=runs.get(place.run or ""),
            is_out=place.is_out,
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(
            Seat(place_id=row.id, student_id=_student(visit, day.section_id, name).id)
            for name in dict.fromkeys(place.students)
        )
    held = {row.date for row in session.scalars(select(ClassSession).where(ClassSession.day_id == day.id))}
    session.add_all(ClassSession(day_id=day.id, **one.model_dump()) for one in part.sessions if one.date not in held)


def _student(visit: Visit, section: int, name: str) -> Student:
    wanted = select(Student).where(Student.section_id == section, Student.name == name)
    row = visit.session.scalars(wanted.limit(1)).one_or_none()
    if row is None:
        row = Student(section_id=section, name=name, position=0, has_left=False)
        visit.session.add(row)
        visit.session.flush()
    return row


def _bring_back_rows(visit: Visit, day: Day, part: ClassPart, runs: Mapping[str, int]) -> None:
    """Rows by their UUIDs: one that is here already is not added again."""
    session = visit.session

    def new(table: Any, rows: Sequence[Any]) -> list[Any]:
        there = set(session.scalars(select(table.uuid).where(table.uuid.in_([row.uuid for row in rows]))))
        return [row for row in rows if row.uuid not in there]

    of_runs: Sequence[tuple[Any, Sequence[Any]]] = (
        (SheetRow, part.sheets), (AnswerRow, part.answers), (CallAnswer, part.calls),
    )  # fmt: skip
    for table, rows in of_runs:
        session.add_all(
            table(day_id=day.id, run_id=runs[row.run], **row.model_dump(exclude={"run"}))
            for row in new(table, rows)
            if row.run in runs
        )
    benches = {row.name: row.id for row in session.scalars(select(Bench))}
    session.add_all(
        Message(day_id=day.id, bench_id=benches.get(row.bench), **row.model_dump(exclude={"bench"}))
        for row in new(Message, part.messages)
    )
    session.flush()
    sheets = {row.uuid: row.id for row in session.scalars(select(SheetRow).where(SheetRow.day_id == day.id))}
    of_sheets: Sequence[tuple[Any, Sequence[Any]]] = (
        (MarkRow, part.marks), (GivenBackRow, part.given_back), (ChoiceRow, part.choices),
    )  # fmt: skip
    for table, rows in of_sheets:
        session.add_all(
            table(sheet_id=sheets[row.sheet], **row.model_dump(exclude={"sheet"}))
            for row in new(table, rows)
            if row.sheet in sheets
        )
    session.flush()
