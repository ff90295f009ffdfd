"""One keyed chain over everything that is recorded: each link seals the rows that came since the one before.

A link tells per table up to which row it reaches, how many rows that were, and a hash over their columns; it is
sealed with a key that the database does not hold, over the link before. A row that is changed, taken away or slipped in
below a link, and a link that is changed or taken away, does not agree any more, whatever was recomputed without the
key.

Rows are sealed some seconds after they came (`SETTLED_S`), when no transaction can still be on its way with a lower
number. What a signature covers is sealed by itself (`sealing.py`).
"""

from __future__ import annotations

import hashlib
import hmac
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, cast

from sqlalchemy import Table, func, select
from sqlalchemy.orm import Session

from claykettle.store.records import DAY, StoredRun
from claykettle.store.runs import load_runs_by_number
from claykettle.store.sealing import started_as
from claykettle.store.tables import (
    AnswerRow,
    AuditRow,
    Base,
    CallAnswer,
    ChangeRow,
    ChoiceRow,
    GivenBackRow,
    LinkRow,
    MarkRow,
    Message,
    ObservationRow,
    PracticalVersion,
    ProcedureRow,
    ReadingRow,
    RoomRow,
    RunRow,
    SheetRow,
    SignatureRow,
    StepEventRow,
    SubstanceRow,
    TrialRow,
    WithdrawalRow,
    WithheldRow,
)

SEALED: tuple[type[Base], ...] = (
    ReadingRow, ObservationRow, StepEventRow, SignatureRow, ChangeRow, WithdrawalRow, TrialRow, RoomRow, SubstanceRow,
    ProcedureRow, AuditRow, PracticalVersion, CallAnswer,
    Message, SheetRow, AnswerRow, MarkRow, GivenBackRow, WithheldRow, ChoiceRow,
)  # fmt: skip
"""Tables whose rows never change once they are there."""
RUNS = "run"
"""Of a run that is sealed which may not change: how it was started, with later changes undone."""
SETTLED_S = 30
AT_ONCE = 500
RUNS_AT_ONCE = 50


@dataclass(frozen=True)
class Agreement:
    """What a check of the chain found: how far it reaches, its head, and what does not agree."""

    links: int
    rows: int
    head: str
    sealed_at: datetime | None
    unsealed: int
    faults: tuple[str, ...]


def seal_new(session: Session, key: bytes, now: datetime, seen: Mapping[str, int]) -> LinkRow | None:
    """Seal the rows up to those that were `seen` some seconds ago (`highest` then); None where there is nothing new."""
    last = session.scalars(select(LinkRow).order_by(LinkRow.number.desc()).limit(1)).one_or_none()
    before = dict(last.upto) if last is not None else {}
    upto = {name: max(before.get(name, 0), seen.get(name, 0)) for name in _names()}
    if all(upto[name] == before.get(name, 0) for name in upto):
        return None
    found = {name: _sum(_rows(session, name, before.get(name, 0), upto[name])) for name in upto}
    link = LinkRow(
        number=(last.number if last is not None else 0) + 1,
        at=now,
        upto=upto,
        rows={name: row[0] for name, row in found.items()},
        digests={name: row[1] for name, row in found.items()},
        seal="",
    )
    link.seal = _seal(key, last.seal if last is not None else "", link)
    session.add(link)
    session.flush()
    return link


def is_link(session: Session, seal: str) -> bool:
    """Whether the chain has a link of this seal, or had it until a name was withheld."""
    return session.scalar(select(LinkRow.number).where(LinkRow.seal == seal_now(session, seal))) is not None


def seal_now(session: Session, seal: str) -> str:
    """The seal that a link bears today which bore this one: another where a name was withheld since."""
    for row in session.scalars(select(WithheldRow).order_by(WithheldRow.id)):
        seal = row.seals.get(seal, seal)
    return seal


def reseal(session: Session, key: bytes) -> dict[str, str]:
    """Seal the rows as they are now, each link up to where it reached; by the seal that it had the one that it has."""
    before: dict[str, int] = {}
    last, found = "", {}
    for link in session.scalars(select(LinkRow).order_by(LinkRow.number)):
        sums = {name: _sum(_rows(session, name, before.get(name, 0), link.upto.get(name, 0))) for name in link.upto}
        link.rows = {name: row[0] for name, row in sums.items()}
        link.digests = {name: row[1] for name, row in sums.items()}
        old, link.seal = link.seal, _seal(key, last, link)
        found[old] = last = link.seal
        before = dict(link.upto)
    session.flush()
    return found


def last_seal(session: Session) -> str:
    """The seal of the last link; empty before the first."""
    return session.scalar(select(LinkRow.seal).order_by(LinkRow.number.desc()).limit(1)) or ""


def highest(session: Session) -> dict[str, int]:
    """The highest number of each table now: sealed once no transaction can still be on its way below it."""
    tables = {name: _table(name) for name in _names()}
    return {name: session.scalar(select(func.max(table.c.id))) or 0 for name, table in tables.items()}


def check(session: Session, key: bytes, head: str = "") -> Agreement:
    """Hold every row against the link that sealed it, and every link against the one before.

    `head` is the seal of a link that must be among them, as it was told outside of the database; empty where none was.
    """
    before: dict[str, int] = {}
    head = seal_now(session, head)
    seal, count, rows, sealed_at, is_there = "", 0, 0, None, not head
    faults: list[str] = []
    for link in session.scalars(select(LinkRow).order_by(LinkRow.number)):
        count += 1
        if link.number != count:
            faults.append(f"link {count} of the chain is missing")
            count = link.number
        if not hmac.compare_digest(link.seal, _seal(key, seal, link)):
            faults.append(f"link {link.number} of {link.at:%Y-%m-%d %H:%M} does not bear this house's seal")
        for name in _names():
            low, high = before.get(name, 0), link.upto.get(name, 0)
            found = _sum(_rows(session, name, low, high))
            if found != (link.rows.get(name, 0), link.digests.get(name, "")):
                faults.append(_told(name, low, high, link, found[0]))
            rows += found[0]
        before, seal, sealed_at = dict(link.upto), link.seal, link.at
        is_there = is_there or hmac.compare_digest(seal, head)
    if not is_there:
        faults.append(f"the chain was cut: it reached the head {head[:16]}, which is not there any more")
    unsealed = sum(
        session.scalar(select(func.count()).select_from(table).where(table.c.id > before.get(name, 0))) or 0
        for name, table in ((name, _table(name)) for name in _names())
    )
    return Agreement(count, rows, seal, sealed_at, unsealed, tuple(faults))


def _told(name: str, low: int, high: int, link: LinkRow, rows: int) -> str:
    missing = link.rows.get(name, 0) - rows
    counted = f"{abs(missing)} {'row' if abs(missing) == 1 else 'rows'} {'missing' if missing > 0 else 'too many'}"
    what = counted if missing else "a row was changed"
    return f"{name} {low + 1} to {high}, sealed {link.at:%Y-%m-%d %H:%M}: {what}"


def _names() -> list[str]:
    return [*(table.__tablename__ for table in SEALED), RUNS]


def _table(name: str) -> Table:
    return Base.metadata.tables[name]


def _rows(session: Session, name: str, low: int, high: int) -> Iterator[Sequence[Any]]:
    """The rows of a table above one number and up to another, in order."""
    if high <= low:
        return
    if name == RUNS:
        yield from _runs(session, low, high)
        return
    table = _table(name)
    columns = [table.c[column] for column in sorted(table.c.keys())]
    query = select(*columns).where(table.c.id > low, table.c.id <= high).order_by(table.c.id)
    for row in session.execute(query.execution_options(yield_per=AT_ONCE)):
        yield list(row)


def _runs(session: Session, low: int, high: int) -> Iterator[Sequence[Any]]:
    fixed = ("uuid", "day_id", "bench_id", "procedure_id", "method", "title", "note", "created_at")
    table = cast(Table, RunRow.__table__)
    query = select(table.c.id, *(table.c[name] for name in fixed)).where(table.c.id > low, table.c.id <= high)
    rows = session.execute(query.order_by(table.c.id)).all()
    for at in range(0, len(rows), RUNS_AT_ONCE):
        some = rows[at : at + RUNS_AT_ONCE]
        runs = {run.id: run for run in load_runs_by_number(session, [row.id for row in some])}
        yield from (_run(dict(row._mapping), runs[row.id]) for row in some)


def _run(values: dict[str, Any], run: StoredRun) -> Sequence[Any]:
    """What is sealed of a run."""
    day = run.date.isoformat()
    moved = next((one.before for one in run.changes if one.what == DAY and isinstance(one.before, dict)), None)
    if moved is not None:
        # put on another day since, with its reason: sealed was the day on which it was begun
        values["day_id"], day = moved["number"], moved["date"]
    return [*values.values(), day, run.section_id, started_as(run)]


def _sum(rows: Iterable[Sequence[Any]]) -> tuple[int, str]:
    """How many rows, and the hash over them in order."""
    total, count = hashlib.sha256(), 0
    for row in rows:
        count += 1
        total.update(_written(row))
        total.update(b"\n")
    return count, total.hexdigest() if count else ""


def _written(value: Any) -> bytes:
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False, default=_plain).encode()


def _plain(value: Any) -> str:
    if isinstance(value, datetime | date):
        return value.isoformat()
    raise TypeError(f"{type(value).__name__} is not sealed")


def _seal(key: bytes, before: str, link: LinkRow) -> str:
    told = [before, link.number, link.at, link.upto, link.rows, link.digests]
    return hmac.new(key, _written(told), "sha256").hexdigest()
