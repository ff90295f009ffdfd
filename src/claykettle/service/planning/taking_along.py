"""What a class is taken along as: a calendar, and the lists of the store room as a spreadsheet or CSV."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, time
from typing import Literal

from claykettle.core.planning.timetable import timetable
from claykettle.formats.calendar_file import Meeting, Waiting, calendar_file
from claykettle.formats.lists import Listed, csv_of_lists, spreadsheet
from claykettle.formats.plan_file import time_of_day
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.planning.laying_out import class_day, wish_of
from claykettle.service.planning.preparing import PreparedView, prepared_view, sessions_of, timed_of
from claykettle.service.planning.wishes import Read, read_wish
from claykettle.service.shelf.substances import register
from claykettle.service.visit import Visit
from claykettle.store.tables import Day, Section

As = Literal["ods", "csv"]


@may(INSTRUCTOR)
def class_calendar(visit: Visit, number: int) -> bytes:
    """A class as iCalendar, with what is to be made and set out before. Raises NotFound, NotYours."""
    day = class_day(visit, number)
    read = read_wish(visit, wish_of(day))
    found = prepared_view(read, register(visit))
    before = [f"{row.what}: {row.amount}" for row in found.order]
    before += [f"Make {row.make} of {row.title}" for row in found.recipes]
    before += [f"{row.count} × {row.item}" for row in found.kit]
    hours, minutes = (int(part) for part in day.starts.split(":"))
    meeting = Meeting(
        uid=str((day.plan or {})["uuid"]),
        title=day.title,
        place=visit.session.get_one(Section, day.section_id).name,
        begins=datetime.combine(day.date, time(hours, minutes), visit.zone),
        minutes=read.length or 0.0,
        before=tuple(before),
        after=tuple(_waiting(read)),
    )
    return calendar_file(meeting, visit.now)


@may(INSTRUCTOR)
def class_lists(visit: Visit, number: int, written: As) -> bytes:
    """The lists of a class: store, kit, solutions, labels, waste, benches, timetable. Raises NotFound, NotYours."""
    day = class_day(visit, number)
    read = read_wish(visit, wish_of(day))
    lists = list(_lists(day, read, prepared_view(read, register(visit))))
    return spreadsheet(lists) if written == "ods" else csv_of_lists(lists)


def _waiting(read: Read) -> Iterator[Waiting]:
    for session in sessions_of(read)[1:]:
        if session.after is not None:
            yield Waiting(session.after.label, session.after.takes.usual)


def _lists(day: Day, read: Read, found: PreparedView) -> Iterator[Listed]:
    benches = len(read.benches)
    yield Listed("Store", ("what", "amount", "for"), tuple((row.what, row.amount, row.makes) for row in found.order))
    kit = ((row.item, str(row.count * (benches if row.place == "bench" else 1)), row.place) for row in found.kit)
    yield Listed("Kit", ("what", "how many", "for each"), tuple(kit))
    solutions = (
        (f"{row.title}: {place}. {step.text}", row.make, step.caution)
        for row in found.recipes
        for place, step in enumerate(row.steps, start=1)
    )
    yield Listed("Solutions", ("step", "makes", "caution"), tuple(solutions))
    yield Listed("Labels", ("label", "on", ""), tuple((row.text, row.on, "") for row in found.labels))
    waste = (
        (box.title, box.fill or ", ".join(f"{line.amount} {line.name}".strip() for line in box.lines), box.say)
        for box in (found.waste.containers if found.waste is not None else ())
    )
    yield Listed("Waste", ("container", "how much", "what to know"), tuple(waste))
    places = (
        (place.bench.name, ", ".join(seat.student.name for seat in place.seats), "dropped out" if place.is_out else "")
        for place in day.places
    )
    yield Listed("Benches", ("bench", "students", ""), tuple(places))
    yield Listed("Timetable", ("bench", "done, usually", "nine of ten by"), tuple(_times(read)))


def _times(read: Read) -> Iterator[tuple[str, str, str]]:
    """When each bench is done; nothing where the plan cannot be timed any more, such as without its benches."""
    if read.practical is None or read.day is None or read.starts is None or read.length is None or not read.benches:
        return
    read.faults = [row for row in read.faults if row.path != "date"]
    plan = timed_of(read).plan
    for row in timetable(plan, what_if=False).benches:
        times = (time_of_day(plan.starts + row.finish.median), time_of_day(plan.starts + row.finish.p90))
        yield (row.bench, *times)
