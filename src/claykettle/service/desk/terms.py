"""A term taken along as one open package: its runs whole, its practicals, classes and all that was handed in."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import select

from claykettle.core.errors import refuse
from claykettle.formats.archive import RECORD, file_name, numbered
from claykettle.formats.package import (
    CLASSES,
    AnswerPart,
    CallPart,
    ChoicePart,
    ClassPart,
    GivenBackPart,
    Held,
    MarkPart,
    MessagePart,
    PlacePart,
    SessionPart,
    SheetPart,
    classes_text,
    write_package,
)
from claykettle.formats.practical_file import FORMAT, VERSION
from claykettle.formats.record import record_text
from claykettle.formats.report import report_page
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.desk.reports import run_report
from claykettle.service.noting import note
from claykettle.service.runs.archiving import house_part, run_part
from claykettle.service.runs.files import csv_of, run_file
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.runs import in_earnest
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
    RunRow,
    Section,
    SheetRow,
    SummaryRow,
)

MOST_RUNS = 2000


@dataclass(frozen=True)
class Term:
    """The days of a term, the first and the last of it."""

    since: date
    until: date


@may(INSTRUCTOR)
def term_package(visit: Visit, term: Term) -> tuple[str, bytes]:
    """The caller's classes and runs of these days as one package; its file name without the ending.

    Raises Refusal at `until` where the days are the wrong way round, hold nothing, or too much for one package.
    """
    if term.until < term.since:
        raise refuse("order", "The last day lies before the first.", "until")
    days = _days(visit, term)
    uuids = _runs(visit, days)
    if not uuids:
        raise refuse("nothing", "Nothing was recorded on these days.", "until")
    if len(uuids) > MOST_RUNS:
        text = f"{len(uuids)} runs are too many for one package, which holds {MOST_RUNS}: choose fewer days."
        raise refuse("too-many", text, "until")
    span = f"{term.since.isoformat()} to {term.until.isoformat()}"
    files = _files(visit, [visit.run(uuid) for uuid in uuids], days)
    described = (
        f"Runs, practicals, classes, own figures and marks of {span}, as recorded: run files with the record beside "
        "them, each run as CSV and as a report."
    )
    note(visit, "term taken along", span)
    return f"term {span}", write_package(f"Term {span}", described, visit.now, files)


def _days(visit: Visit, term: Term) -> list[Day]:
    query = select(Day).where(Day.date >= term.since, Day.date <= term.until).order_by(Day.date, Day.id)
    if not visit.caller.is_program:
        query = query.where(Day.section_id.in_(visit.caller.sections))
    else:
        query = query.where(in_earnest(Day.section_id))
    return list(visit.session.scalars(query))


def _runs(visit: Visit, days: Sequence[Day]) -> list[str]:
    numbers = [day.id for day in days]
    query = (
        select(RunRow.uuid)
        .join(SummaryRow, SummaryRow.run_id == RunRow.id)
        .where(RunRow.day_id.in_(numbers))
        .order_by(RunRow.day_id, RunRow.id)
    )
    return list(visit.session.scalars(query))


def classes_file(visit: Visit) -> str:
    """Every class that was laid out, with all that was handed in, marked and said: for the export of a whole house."""
    days = visit.session.scalars(select(Day).where(Day.plan.is_not(None), in_earnest(Day.section_id)).order_by(Day.id))
    return classes_text(_class_part(visit, day) for day in days if day.plan)


def _files(visit: Visit, runs: Sequence[StoredRun], days: Sequence[Day]) -> Iterator[Held]:
    named = [(f"runs/{numbered(number, run.title)}", run) for number, run in enumerate(runs, start=1)]
    for path, run in named:
        what = f"{run.title}, bench {run.bench}, {run.date.isoformat()}"
        text = json.dumps(run_file(run), ensure_ascii=False, indent=2) + "\n"
        yield Held(path, text.encode(), f"Run file: {what}")
        stem = path.removeprefix("runs/").removesuffix(".json")
        yield Held(f"csv/{stem}.csv", csv_of(visit, run.uuid)[1].encode(), f"Log and results: {what}", (path,))
        page = report_page(run_report(visit, run.uuid)).encode()
        yield Held(f"reports/{stem}.html", page, f"Report: {what}", (path,))
    record = record_text(house_part(visit), (run_part(visit, run.uuid, path) for path, run in named))
    yield Held(RECORD, record.encode(), "The whole record, row by row", tuple(path for path, _ in named))
    parts = [_class_part(visit, day) for day in days if day.plan]
    yield Held(CLASSES, classes_text(parts).encode(), "Classes: who stood where, what was handed in, marked and said")
    practicals: dict[str, Any] = {}
    for part in parts:
        practical = part.plan.get("practical")
        if practical:
            whole = {"format": FORMAT, "version": VERSION, **practical}
            practicals.setdefault(json.dumps(whole, sort_keys=True), whole)
    for number, practical in enumerate(practicals.values(), start=1):
        name = str(practical.get("name", "practical"))
        text = json.dumps(practical, ensure_ascii=False, indent=2) + "\n"
        yield Held(f"practicals/{number:03}-{file_name(name)}.practical.json", text.encode(), f"Practical: {name}")


def _class_part(visit: Visit, day: Day) -> ClassPart:
    session, runs = visit.session, _uuids(visit, day)

    def of(table: Any) -> Sequence[Any]:
        return session.scalars(select(table).where(table.day_id == day.id).order_by(table.id)).all()

    sheets = {row.id: row for row in of(SheetRow)}
    benches = {row.id: row.name for row in session.scalars(select(Bench))}

    def beneath(table: Any) -> Sequence[Any]:
        return session.scalars(select(table).where(table.sheet_id.in_(sheets)).order_by(table.id)).all()

    return ClassPart(
        section=session.get_one(Section, day.section_id).name,
        date=day.date,
        title=day.title,
        starts=day.starts,
        more_min=day.more_min,
        is_closed=day.is_closed,
        reveal=day.reveal,
        plan=dict(day.plan or {}),
        places=[
            PlacePart(
                bench=place.bench.name, position=place.position, run=runs.get(place.run_id or 0), is_out=place.is_out,
                students=[seat.student.name for seat in place.seats],
            )
            for place in day.places
        ],
        sessions=[
            SessionPart(date=row.date, starts=row.starts, length_min=row.length_min, more_min=row.more_min)
            for row in of(ClassSession)
        ],
        sheets=[SheetPart(run=runs[row.run_id], **_shared(row, SheetPart)) for row in sheets.values()],
        answers=[AnswerPart(run=runs[row.run_id], **_shared(row, AnswerPart)) for row in of(AnswerRow)],
        marks=[MarkPart(sheet=sheets[row.sheet_id].uuid, **_shared(row, MarkPart)) for row in beneath(MarkRow)],
        given_back=[
            GivenBackPart(sheet=sheets[row.sheet_id].uuid, **_shared(row, GivenBackPart))
            for row in beneath(GivenBackRow)
        ],
        choices=[ChoicePart(sheet=sheets[row.sheet_id].uuid, **_shared(row, ChoicePart)) for row in beneath(ChoiceRow)],
        messages=[
            MessagePart(bench=benches.get(row.bench_id or 0, ""), **_shared(row, MessagePart)) for row in of(Message)
        ],
        calls=[CallPart(run=runs[row.run_id], **_shared(row, CallPart)) for row in of(CallAnswer)],
    )  # fmt: skip


def _shared(row: Any, part: Any) -> dict[str, Any]:
    """The columns of a row that its part names alike."""
    columns = {column.name for column in row.__table__.columns}
    return {name: getattr(row, name) for name in part.model_fields if name in columns}


def _uuids(visit: Visit, day: Day) -> dict[int, str]:
    query = select(RunRow.id, RunRow.uuid).where(RunRow.day_id == day.id)
    return {row.id: row.uuid for row in visit.session.execute(query)}
