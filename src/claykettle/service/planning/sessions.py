"""A class that goes on on another day: the same benches and runs, where they stood."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import select

from claykettle.core.errors import Fault, NotFound, Refusal, refuse
from claykettle.core.quantity import parse_reading
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.noting import note
from claykettle.service.planning.laying_out import LaidOutView, class_day, laid_out_view
from claykettle.service.visit import Visit
from claykettle.store.tables import ClassSession, Day

MOST = 20
LONGEST_MIN = 24 * 60
FAR = timedelta(days=366)
MINUTE = 60


@dataclass(frozen=True)
class AddSession:
    """A further session: the day (2026-03-12), when it begins (18:30), how long it lasts (150 min)."""

    date: str
    starts: str
    length: str


@may(INSTRUCTOR)
def add_session(visit: Visit, number: int, command: AddSession) -> LaidOutView:
    """Let a class go on on another day; one that was closed is opened by the next code for its tablets.

    Raises NotFound, NotYours, Refusal (path `date`, `starts`, `length`).
    """
    day = class_day(visit, number)
    faults: list[Fault] = []
    on = _day(visit, day, command.date, faults)
    starts, length = _time(command.starts, faults), _minutes(command.length, faults)
    if faults or on is None:
        raise Refusal(*faults)
    rows = visit.session.scalars(select(ClassSession).where(ClassSession.day_id == day.id)).all()
    if len(rows) >= MOST:
        raise refuse("too-many", f"A class goes on {MOST} times at most.", "date")
    if any(row.date == on for row in rows):
        raise refuse("taken", "It goes on that day already; take that session out first to move it.", "date")
    visit.session.add(ClassSession(day_id=day.id, date=on, starts=starts, length_min=length))
    note(visit, "session added", f"{day.title}, {on.isoformat()} {starts}")
    visit.session.flush()
    return laid_out_view(visit, day)


@may(INSTRUCTOR)
def drop_session(visit: Visit, number: int, on: str) -> LaidOutView:
    """Take a further session (its day as 2026-03-12) out again. Raises NotFound, NotYours."""
    day = class_day(visit, number)
    found = None
    with suppress(ValueError):
        found = visit.session.scalar(select(ClassSession).filter_by(day_id=day.id, date=date.fromisoformat(on)))
    if found is None:
        raise NotFound("The class has no session on that day.")
    visit.session.delete(found)
    note(visit, "session taken out", f"{day.title}, {found.date.isoformat()}")
    visit.session.flush()
    return laid_out_view(visit, day)


def _day(visit: Visit, day: Day, text: str, faults: list[Fault]) -> date | None:
    try:
        found = date.fromisoformat(text.strip())
    except ValueError:
        faults.append(Fault("date", "date", "Write the day as 2026-03-12."))
        return None
    if found <= day.date:
        faults.append(Fault("past", "date", f"It goes on after its first session, {day.date.isoformat()}."))
    elif found < visit.today:
        faults.append(Fault("past", "date", f"That day is over: today is {visit.today.isoformat()}."))
    elif found > day.date + FAR:
        faults.append(Fault("far", "date", "That lies more than a year after its first session; look at the year."))
    return found


def _time(text: str, faults: list[Fault]) -> str:
    try:
        found = datetime.strptime(text.strip().replace(".", ":"), "%H:%M")
    except ValueError:
        faults.append(Fault("time", "starts", "Write the time as 18:30."))
        return ""
    return f"{found:%H:%M}"


def _minutes(text: str, faults: list[Fault]) -> int:
    try:
        found = round(float(parse_reading(text, "time", "min").si) / MINUTE)
    except Refusal:
        faults.append(Fault("length", "length", "Write how long it lasts as 90 min."))
        return 0
    if not 1 <= found <= LONGEST_MIN:
        faults.append(Fault("out-of-range", "length", "A session lasts from one minute to one day."))
    return found
