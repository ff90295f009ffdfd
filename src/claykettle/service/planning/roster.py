"""A section's roster: typed or pasted a line a student, or as CSV; who is taken off it stays in the classes held."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlalchemy import select

from claykettle.core.errors import Refusal
from claykettle.formats.roster import checked_names, read_roster, roster_csv
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.shelf.day import the_day
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.tables import Section, Student


class StudentView(View):
    """A student of the section."""

    id: int
    name: str


class RosterView(View):
    """A section's roster, in its order."""

    section: str
    students: list[StudentView]


class ListView(View):
    """A list as it is read: its names in order, those who are new to the roster, and who of it is not in the list."""

    names: list[str]
    new: list[str]
    missing: list[str]


@dataclass(frozen=True)
class KeepRoster:
    """The whole roster as names in order."""

    names: Sequence[str]


@may(INSTRUCTOR)
def roster(visit: Visit) -> RosterView:
    """The roster of the section where the caller works."""
    section = the_day(visit).section_id
    rows = visit.session.scalars(
        select(Student).where(Student.section_id == section, ~Student.has_left).order_by(Student.position, Student.id)
    )
    name = visit.session.get_one(Section, section).name
    return RosterView(section=name, students=[StudentView(id=row.id, name=row.name) for row in rows])


@may(INSTRUCTOR)
def keep_roster(visit: Visit, command: KeepRoster) -> RosterView:
    """Put these names on the roster in this order, and nobody else. Raises Refusal with path `names[…]`."""
    return _kept(visit, checked_names(command.names))


@may(INSTRUCTOR)
def read_list(visit: Visit, data: bytes) -> ListView:
    """A text or a CSV file as it would be read; nothing is kept of it. Raises Refusal with a path by line."""
    names = read_roster(data)
    there = {row.name.casefold(): row.name for row in roster(visit).students}
    read = {name.casefold() for name in names}
    return ListView(
        names=names,
        new=[name for name in names if name.casefold() not in there],
        missing=[name for key, name in there.items() if key not in read],
    )


@may(INSTRUCTOR)
def roster_file(visit: Visit) -> bytes:
    """The roster as CSV."""
    return roster_csv([row.name for row in roster(visit).students])


def students_named(visit: Visit, section: int, names: Sequence[str], path: str) -> list[Student]:
    """The students of these names, put on the roster where they are not there yet. Raises Refusal."""
    known = _known(visit, section)
    found: list[Student] = []
    try:
        wanted = checked_names(names)
    except Refusal as refusal:
        raise Refusal(*(replace(row, path=path) for row in refusal.faults)) from None
    for name in wanted:
        row = known.get(name.casefold())
        if row is None:
            row = Student(section_id=section, name=name, position=len(known) + 1, has_left=False)
            visit.session.add(row)
            known[name.casefold()] = row
        row.has_left = False
        found.append(row)
    visit.session.flush()
    return found


def _known(visit: Visit, section: int) -> dict[str, Student]:
    rows = visit.session.scalars(select(Student).where(Student.section_id == section).order_by(Student.id))
    return {row.name.casefold(): row for row in rows}


def _kept(visit: Visit, names: Sequence[str]) -> RosterView:
    section = the_day(visit).section_id
    known = _known(visit, section)
    for row in known.values():
        row.has_left = True
    for place, name in enumerate(names, start=1):
        row = known.get(name.casefold()) or Student(section_id=section, name=name, position=place, has_left=False)
        row.name, row.position, row.has_left = name, place, False
        visit.session.add(row)
    visit.session.flush()
    return roster(visit)
