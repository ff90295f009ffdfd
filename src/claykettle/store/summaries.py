"""What lists say of each run: kept beside it, read without the run."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any, Literal, NamedTuple

from sqlalchemy import ColumnElement, ColumnExpressionArgument, and_, exists, or_, select, tuple_
from sqlalchemy.orm import Session

from claykettle.store import tables
from claykettle.store.records import StoredRun
from claykettle.store.runs import Whose, changes_of, in_earnest
from claykettle.store.tables import Bench, Day, RunRow, Section, SummaryRow

Part = Literal["listed", "drying", "remains", "calibration", "card"]

_WRITTEN = (
    "run_id", "version", "program", "section_id", "day_id", "bench_id", "method", "changed_at", "waits", "calibrates",
    "listed", "drying", "remains", "calibration", "card", "asks", "asked_at",
)  # fmt: skip
_ASKED = ("asks", "asked_at")
# Written out for the driver: building them anew costs as much as the database does.
_WAITS = "SELECT EXISTS (SELECT 1 FROM `run` WHERE NOT `is_summed_up`)"
_LOCK_WAITING = "SELECT `id`, `version` FROM `run` WHERE NOT `is_summed_up` LIMIT 100 FOR UPDATE SKIP LOCKED"
_SUMMED_UP = "UPDATE `run` SET `is_summed_up` = 1 WHERE `id` = %(run_id)s AND `version` = %(version)s"
_KEEP = (
    f"INSERT INTO `summary` ({', '.join(f'`{name}`' for name in _WRITTEN)}) "
    f"VALUES ({', '.join(f'%({name})s' for name in _WRITTEN)}) ON DUPLICATE KEY UPDATE "
    # a question stands until something is kept after it: told before the version is another one
    + ", ".join(f"`{name}` = IF(`version` = VALUES(`version`), `{name}`, VALUES(`{name}`))" for name in _ASKED)
    + ", "
    + ", ".join(f"`{name}` = VALUES(`{name}`)" for name in _WRITTEN[1:] if name not in _ASKED)
)


_FIND = (
    "INSERT INTO `found_by` (run_id, words, marks) VALUES (%(run_id)s, %(words)s, %(marks)s) "
    "ON DUPLICATE KEY UPDATE `words` = VALUES(`words`), `marks` = VALUES(`marks`)"
)


@dataclass(frozen=True)
class Summary:
    """What lists say of a run, each part as JSON."""

    listed: str
    drying: str
    remains: str
    calibration: str
    card: str
    words: str
    marks: str
    waits: bool
    calibrates: bool


class Place(NamedTuple):
    """Where a list stands: when the run there was changed, and its number."""

    changed_at: datetime
    number: int


class Kept(NamedTuple):
    """A part of a summary, and what stands beside it under its name of today."""

    text: str
    bench: str
    section: str
    date: date
    place: Place


def keep_summary(session: Session, run: StoredRun, made: Summary, program: str) -> None:
    """Keep what lists say of a run, in place of what they said before; what it asked is answered by that."""
    values = {
        "run_id": run.id,
        "version": run.version,
        "program": program,
        "section_id": run.section_id,
        "day_id": run.day_id,
        "bench_id": run.bench_id,
        "method": run.method.name,
        "changed_at": run.changed_at.astimezone(UTC).replace(tzinfo=None),
        "asks": "",
        "asked_at": None,
        **vars(made),
    }
    found_by = {"run_id": run.id, "words": values.pop("words"), "marks": values.pop("marks")}
    session.connection().exec_driver_sql(_KEEP, values)
    session.connection().exec_driver_sql(_FIND, found_by)
    note_summed_up(session, run.id, run.version)


def note_summed_up(session: Session, run: int, version: int) -> None:
    """Of this version of a run lists say all that there is to be said."""
    session.connection().exec_driver_sql(_SUMMED_UP, {"run_id": run, "version": version})


def any_to_sum_up(session: Session) -> bool:
    """Whether there is a run of which lists do not say yet how it stands."""
    return bool(session.connection().exec_driver_sql(_WAITS).scalar())


def lock_to_sum_up(session: Session) -> list[tuple[int, int]]:
    """Number and version of some of those runs, kept from others until the transaction ends.

    One that somebody else changes or sums up at this moment is left to them.
    """
    return [(row[0], row[1]) for row in session.connection().exec_driver_sql(_LOCK_WAITING)]


def keep_asking(session: Session, run: int, text: str, now: datetime) -> None:
    """Keep that a run asks about a figure: until something is kept of it, or it asks another thing."""
    table: Any = SummaryRow.__table__
    values = {"asks": text, "asked_at": now, "asked": table.c.asked + 1}
    session.execute(table.update().where(table.c.run_id == run, table.c.asks != text).values(values))


def summaries(
    session: Session,
    part: Part,
    whose: Whose,
    *also: ColumnExpressionArgument[bool],
    limit: int,
    before: Place | None = None,
) -> list[Kept]:
    """A part of the summaries of those runs, the latest changed first, at most so many; `before` a place in the list.

    `also` are further conditions on `SummaryRow`.
    """
    page = (
        select(SummaryRow.run_id)
        .where(*_of(whose), *also)
        .order_by(SummaryRow.changed_at.desc(), SummaryRow.run_id.desc())
        .limit(limit)
    )
    if before is not None:
        place = tuple_(SummaryRow.changed_at, SummaryRow.run_id)
        # the first part is what an index can follow
        page = page.where(SummaryRow.changed_at <= before.changed_at, place < tuple_(*before))
    # first which ones, from an index alone; then what they say
    chosen = page.subquery()
    query = (
        select(getattr(SummaryRow, part), Bench.name, Section.name, Day.date, SummaryRow.changed_at, SummaryRow.run_id)
        # in this order: left to itself the database begins with all summaries of a section once there are many
        .prefix_with("STRAIGHT_JOIN")
        .select_from(chosen)
        .join(SummaryRow, SummaryRow.run_id == chosen.c.run_id)
        .join(Bench, SummaryRow.bench_id == Bench.id)
        .join(Section, SummaryRow.section_id == Section.id)
        .join(Day, SummaryRow.day_id == Day.id)
    )
    found = [
        Kept(text, bench, section, day, Place(changed_at, number))
        for text, bench, section, day, changed_at, number in session.execute(query)
    ]
    # to sort so long texts, the database would write them to disk
    return sorted(found, key=lambda row: row.place, reverse=True)


def days_of(session: Session, day: date) -> ColumnElement[bool]:
    """The condition that a run belongs to this day, whatever the section's."""
    return SummaryRow.day_id.in_(session.scalars(select(Day.id).where(Day.date == day)).all())


def benches_out(session: Session, runs: Sequence[int]) -> frozenset[int]:
    """Those of these runs whose bench dropped out of its class."""
    query = select(tables.Place.run_id).where(tables.Place.run_id.in_(runs), tables.Place.is_out)
    return frozenset(number for number in session.scalars(query) if number is not None)


def has_summaries(session: Session, whose: Whose) -> bool:
    """Whether there is one run of those."""
    return bool(session.scalar(select(exists().where(*_of(whose)))))


def last_day(session: Session, whose: Whose) -> date | None:
    """The latest day that has one of those runs."""
    days = select(Day.id, Day.date).order_by(Day.date.desc(), Day.id.desc())
    if whose.sections is not None:
        days = days.where(Day.section_id.in_(whose.sections))
    else:
        days = days.where(in_earnest(Day.section_id))
    # one of the first few, as a rule: a day without runs is rare
    for some in session.execute(days).partitions(20):
        dated: dict[int, date] = {row.id: row.date for row in some}
        used = session.scalars(select(SummaryRow.day_id).where(SummaryRow.day_id.in_(dated), *_of(whose)).distinct())
        found = [dated[number] for number in used]
        if found:
            return max(found)
    return None


def not_summed(session: Session, program: str) -> Sequence[int]:
    """The numbers of the runs whose summary is missing, or was made by another program or of another version."""
    stale = or_(
        SummaryRow.run_id.is_(None),
        SummaryRow.version != RunRow.version,
        SummaryRow.program != program,
        RunRow.is_summed_up.is_(False),
    )
    query = select(RunRow.id).outerjoin(SummaryRow, RunRow.id == SummaryRow.run_id).where(stale).order_by(RunRow.id)
    return list(session.scalars(query))


def count_on(session: Session, *which: ColumnElement[bool]) -> None:
    """Count the version on of these runs: something that all of them show is another now, such as a bench's name."""
    changes_of(session)
    numbers = list(session.scalars(select(RunRow.id).where(and_(*which)).order_by(RunRow.id).with_for_update()))
    for table, key in ((RunRow.__table__, RunRow.id), (SummaryRow.__table__, SummaryRow.run_id)):
        _count_on(session, table, key, numbers)


def _count_on(session: Session, table: Any, key: Any, numbers: Collection[int]) -> None:
    if numbers:
        session.execute(table.update().where(key.in_(numbers)).values(version=table.c.version + 1))


def _of(whose: Whose) -> Iterable[ColumnElement[bool]]:
    if whose.sections is not None:
        own = whose.sections
        yield SummaryRow.section_id == next(iter(own)) if len(own) == 1 else SummaryRow.section_id.in_(own)
    else:
        yield in_earnest(SummaryRow.section_id)
    if whose.day is not None:
        yield SummaryRow.day_id == whose.day
    if whose.bench is not None:
        yield SummaryRow.bench_id == whose.bench
