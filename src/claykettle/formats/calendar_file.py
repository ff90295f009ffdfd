"""A class as iCalendar (RFC 5545): its meeting, the hour in which it is set out, and what waits for it afterwards."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event, Todo

SET_OUT = timedelta(hours=1)
"""So long before a class it is set out."""
EVE = timedelta(days=1)
"""So long before it what must be made or ordered is remembered."""


@dataclass(frozen=True)
class Waiting:
    """What waits after the class: what for, and how many minutes."""

    what: str
    minutes: float


@dataclass(frozen=True)
class Meeting:
    """A class as a calendar takes it; `begins` with its zone. `before` is what is to be done until then, by line."""

    uid: str
    title: str
    place: str
    begins: datetime
    minutes: float
    before: tuple[str, ...] = ()
    after: tuple[Waiting, ...] = field(default=())


def calendar_file(meeting: Meeting, now: datetime) -> bytes:
    """The calendar of a class. Times are written in UTC, so that no change of clocks between now and then matters."""
    calendar = Calendar()
    calendar.add("prodid", "-//Clay Kettle//class//EN")
    calendar.add("version", "2.0")
    begins = meeting.begins.astimezone(UTC)
    ends = begins + timedelta(minutes=meeting.minutes)
    calendar.add_component(_event(meeting, "", meeting.title, begins, ends, now, EVE))
    calendar.add_component(
        _event(meeting, "-set-out", f"Set out: {meeting.title}", begins - SET_OUT, begins, now, None)
    )
    for number, row in enumerate(meeting.after, start=1):
        todo = Todo()
        todo.add("uid", f"{meeting.uid}-after-{number}")
        todo.add("dtstamp", now.astimezone(UTC))
        todo.add("summary", f"{row.what}: {meeting.title}")
        todo.add("due", ends + timedelta(minutes=row.minutes))
        calendar.add_component(todo)
    return bytes(calendar.to_ical())


def _event(
    meeting: Meeting, part: str, title: str, begins: datetime, ends: datetime, now: datetime, warned: timedelta | None
) -> Event:
    event = Event()
    event.add("uid", f"{meeting.uid}{part}")
    event.add("dtstamp", now.astimezone(UTC))
    event.add("summary", title)
    event.add("location", meeting.place)
    event.add("dtstart", begins)
    event.add("dtend", ends)
    if meeting.before:
        event.add("description", "\n".join(meeting.before))
    if warned is not None:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"Make and order for: {title}")
        alarm.add("trigger", -warned)
        event.add_component(alarm)
    return event
