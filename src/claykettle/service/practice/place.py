"""The place where an account rehearses: a section of its own that nobody else sees, with a clock of its own.

Whatever works on a section works there unchanged, by that clock; and nothing that was practised is among what a class
did, since no list of another section holds it.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from sqlalchemy import select

from claykettle.core.errors import NotFound, NotYours
from claykettle.service.visit import Visit
from claykettle.store.rehearsals import Clock, look_at
from claykettle.store.tables import Bench, Day, PracticeClass, PracticeRow, Section

Kept = TypeVar("Kept", PracticeRow, PracticeClass)

NAME, ALONE = "Practice of {}", "Practice"


def there(visit: Visit, pace: float | None = None) -> tuple[Visit, Clock]:
    """The same visit where the caller rehearses, by the clock there, which goes on for as long as somebody looks.

    `visit` is in earnest, by the real clock. Raises NotYours for somebody without an account.
    """
    caller = visit.caller
    if caller.account is None:
        raise NotYours("Practice belongs to an account: sign in to begin one.")
    section = visit.session.scalar(select(Section).where(Section.rehearsal_of == caller.account))
    if section is None:
        section = _made(visit)
    clock = look_at(visit.session, section.id, visit.now, pace)
    own = frozenset({section.id})
    return replace(
        visit, now=clock.now, caller=replace(caller, sections=own, section=section.id, rehearses=True)
    ), clock


def _made(visit: Visit) -> Section:
    """The account's place, made at its first practice."""
    name = NAME.format(visit.caller.login)[:120]
    section = Section(name=name, elevation="", rehearsal_of=visit.caller.account)
    visit.session.add(section)
    visit.session.flush()
    visit.session.add(Day(section_id=section.id, date=visit.today, title=ALONE))
    visit.session.flush()
    return section


def practice_day(visit: Visit) -> Day:
    """The day of benches that are practised at alone: they belong to no class that is rehearsed."""
    section = visit.caller.section
    query = select(Day).where(Day.section_id == section, Day.date == visit.today, Day.title == ALONE)
    found = visit.session.scalar(query)
    if found is None:
        found = Day(section_id=section, date=visit.today, title=ALONE)
        visit.session.add(found)
        visit.session.flush()
    return found


def simulated_bench(visit: Visit, name: str) -> Bench:
    """The bench of this name that stands nowhere: never offered, hence retired."""
    found = visit.session.scalar(select(Bench).where(Bench.name == name, Bench.is_simulated))
    if found is None:
        found = Bench(name=name, retired=True, is_simulated=True)
        visit.session.add(found)
        visit.session.flush()
    return found


def own(place: Visit, table: type[Kept], uuid: str, lock: bool = False) -> Kept:
    """What the caller has under this UUID where they rehearse. Raises NotFound."""
    query = select(table).where(table.uuid == uuid, table.section_id == place.caller.section)
    row = place.session.scalar(query.with_for_update() if lock else query)
    if row is None:
        raise NotFound("There is nothing of yours here under this name.")
    return row
