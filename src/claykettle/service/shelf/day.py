"""The day: today's practical, and the instruments that its runs read with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import timedelta

from sqlalchemy import Select, func, select

from claykettle.core.errors import Fault, NotFound, NotYours, Refusal
from claykettle.core.method import Method
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.runs import in_earnest
from claykettle.store.tables import ClassSession, Day, Instrument, Section

SOON = timedelta(minutes=30)
"""So long before it begins a class is the one at work: benches are laid out then."""

IS_HELD = func.json_value(Day.plan, "$.taken_back").is_(None)
"""Of a class that was laid out: whether it was not taken back."""

FIRST_BENCH = "Bench 1"
"""What the first bench is called where nobody has named one."""


class InstrumentView(View):
    """An instrument on the shelf; texts as typed, empty where open."""

    id: int
    kind: str
    name: str
    half_width: str
    decimals: int
    resolution: str
    capacity: str
    direction: str


def the_day(visit: Visit) -> Day:
    """Today's practical of the caller's section, made where today has none; of a tablet the one that it joined.

    Raises NotYours for somebody without a section.
    """
    caller = visit.caller
    if caller.day is not None:
        return visit.session.get_one(Day, caller.day)
    query = select(Day).where(Day.date <= visit.today).order_by(Day.date.desc(), Day.id.desc())
    if caller.is_program:
        query = query.where(in_earnest(Day.section_id))
    else:
        if caller.section is None:
            raise NotYours("You have no section yet: make one on the Shelf, or ask a colleague to share one.")
        query = query.where(Day.section_id == caller.section)
    # a class that was taken back is no class of the day
    held = query.where(Day.plan.is_(None) | IS_HELD)
    begun = _held_today(visit, held)
    if begun:
        return _at_work(visit, begun)
    # a day that lies ahead is planned, or comes of a clock that once was: it is not today
    latest = visit.session.scalars(query.where(Day.starts == "").limit(1)).one_or_none()
    section = latest.section_id if latest is not None else _section(visit)
    day = Day(section_id=section, date=visit.today, title=latest.title if latest is not None else "Practical")
    visit.session.add(day)
    visit.session.flush()
    return day


def _held_today(visit: Visit, held: Select[Day]) -> list[tuple[str, Day]]:
    """Those that are held today, for the first time or again, each with its hour."""
    begun = [(row.starts, row) for row in visit.session.scalars(held.where(Day.date == visit.today))]
    again = held.join(ClassSession, ClassSession.day_id == Day.id).where(ClassSession.date == visit.today)
    return begun + [(starts, row) for row, starts in visit.session.execute(again.add_columns(ClassSession.starts))]


def day_numbered(visit: Visit, number: int) -> Day:
    """A class by its number; 0 is the one at work now. Raises NotFound, NotYours."""
    if number == 0:
        return the_day(visit)
    day = visit.session.get(Day, number)
    if day is None or (day.plan or {}).get("taken_back"):
        raise NotFound("There is no such class; it may have been taken back.")
    if not visit.caller.is_program and day.section_id not in visit.caller.sections:
        raise NotYours("This class belongs to a section that is not yours.")
    return day


def classes_beside(visit: Visit, day: Day) -> list[tuple[str, Day]]:
    """The other classes of its section that are held today, each with its hour, the earliest first."""
    held = select(Day).where(Day.section_id == day.section_id, Day.id != day.id, Day.plan.is_not(None), IS_HELD)
    return sorted(_held_today(visit, held), key=_hour)


def _at_work(visit: Visit, todays: Sequence[tuple[str, Day]]) -> Day:
    """Of the day's classes, each with its hour, that which began last, or begins within half an hour; before all of
    them the first.
    """
    soon = (visit.now + SOON).astimezone(visit.zone)
    last = f"{soon:%H:%M}" if soon.date() == visit.today else "24:00"
    begun = [row for row in todays if row[0] <= last]
    if begun:
        return max(begun, key=_hour)[1]
    return min(todays, key=_hour)[1]


def _hour(row: tuple[str, Day]) -> tuple[str, int]:
    return row[0], row[1].id


def _section(visit: Visit) -> int:
    """The section of a day to be made: the caller's; the first for the program itself."""
    if visit.caller.section is not None:
        return visit.caller.section
    return visit.session.scalars(select(Section.id).where(in_earnest(Section.id)).order_by(Section.id).limit(1)).one()


def instruments_by_kind(visit: Visit, day: Day, chosen: Mapping[str, int]) -> dict[str, Instrument]:
    """Of each kind the instrument chosen, else the day's, else the first on the shelf.

    Raises Refusal (`unknown-instrument`, path `instruments.KIND`) for one that is not there.
    """
    rows = list(visit.session.scalars(select(Instrument).where(~Instrument.retired).order_by(Instrument.id.desc())))
    found = {row.kind: row for row in rows}
    by_id = {row.id: row for row in rows}
    usual = {kind: by_id[number] for kind, number in day.instruments.items() if number in by_id}
    faults = [
        Fault("unknown-instrument", f"instruments.{kind}", "This instrument is not on the shelf; choose another.")
        for kind, number in chosen.items()
        if number not in by_id or by_id[number].kind != kind
    ]
    if faults:
        raise Refusal(*faults)
    return found | usual | {kind: by_id[number] for kind, number in chosen.items()}


def instruments_shown(visit: Visit) -> list[InstrumentView]:
    """All instruments that are offered, by kind and name."""
    rows = select(Instrument).where(~Instrument.retired).order_by(Instrument.kind, Instrument.name)
    return [InstrumentView.model_validate(row) for row in visit.session.scalars(rows)]


def half_widths(method: Method, instruments: Mapping[str, Instrument]) -> dict[str, dict[str, str]]:
    """The instruments that a method reads: half-width and name by kind."""
    kinds = {reading.instrument for reading in method.page.readings if reading.given is None}
    return {
        kind: {"half_width": row.half_width, "name": row.name}
        for kind, row in sorted(instruments.items())
        if kind in kinds
    }
