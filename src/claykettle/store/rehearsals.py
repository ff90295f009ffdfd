"""The clock of a place where somebody rehearses: it stands still, or goes some times as fast as the real one.

Nobody who looked away comes back to a bench that burnt for a week: the clock goes on only for as long as somebody looks
(`until`), and it never goes back.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.store.tables import RehearsalRow

FAST = 10.0
"""How many times as fast a rehearsal goes."""
SEEN_FOR = timedelta(seconds=20)
"""So long after somebody looked the clock goes on, in real time."""


@dataclass(frozen=True)
class Clock:
    """What a clock shows, and how fast it goes now."""

    now: datetime
    pace: float


def clock_of(session: Session, section: int | None, real: datetime) -> Clock:
    """The clock of a section where somebody rehearses; the real one where there is none yet."""
    row = _row(session, section)
    return Clock(real, 1.0) if row is None else shown(row, real)


def shown(row: RehearsalRow, real: datetime) -> Clock:
    """What it shows when the real clock shows this."""
    gone = max(timedelta(), real - row.as_of) * row.pace
    now = min(row.clock + gone, max(row.until, row.clock))
    return Clock(now, row.pace if now < row.until else 0.0)


def _row(session: Session, section: int | None, lock: bool = False) -> RehearsalRow | None:
    query = select(RehearsalRow).where(RehearsalRow.section_id == section)
    return session.scalar(query.with_for_update() if lock else query)


def look_at(session: Session, section: int, real: datetime, pace: float | None = None) -> Clock:
    """Somebody looks: the clock goes on for a while, at another pace where one is given; it is made where there is
    none.
    """
    row = _row(session, section, lock=True)
    if row is None:
        row = RehearsalRow(section_id=section, clock=real, as_of=real, pace=0.0, until=real)
        session.add(row)
    now = shown(row, real).now
    row.clock, row.as_of = now, real
    row.pace = row.pace if pace is None else pace
    row.until = now + SEEN_FOR * max(row.pace, 1.0)
    session.flush()
    return Clock(now, row.pace)


def wait(session: Session, section: int, real: datetime, seconds: float) -> Clock:
    """The clock put on by so many seconds."""
    look_at(session, section, real)
    row = _row(session, section, lock=True)
    assert row is not None  # looking at it has made it
    row.clock += timedelta(seconds=max(0.0, seconds))
    row.until = row.clock + SEEN_FOR * max(row.pace, 1.0)
    session.flush()
    return Clock(row.clock, row.pace)
