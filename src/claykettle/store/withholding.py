"""Withholding a name: in all records a pseudonym takes its place, and what was signed and sealed still holds.

A signature is a hash over what stood there, names among it. It is only made anew where it held until then, and the hash
that it had stays on record; the same with the links of the chain. So nothing that was changed past the program is ever
covered up by this, and a fingerprint or a head that was printed before is still found. The name itself stays nowhere.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, cast
from uuid import uuid4

from sqlalchemy import JSON, String, Table, Text, select, update
from sqlalchemy.orm import Session

from claykettle.core.errors import refuse
from claykettle.store import tables
from claykettle.store.ledger import Agreement, check, reseal
from claykettle.store.records import StoredRun
from claykettle.store.runs import load_runs_by_number
from claykettle.store.sealing import holds, record_hash, seal

PSEUDONYM = "Student {}"
NOT_LOOKED_AT = frozenset(("account", "sign_in", "membership", "link", "withheld", "try", "alembic_version", "bench"))
"""Tables in which a student's name has no place: an instructor's is not withheld by this."""
SHORTEST = 3


@dataclass(frozen=True)
class Withheld:
    """What was done: the pseudonym, how many rows bore the name, and how many signatures were made anew."""

    pseudonym: str
    rows: int
    signatures: int
    head: str


def withhold(session: Session, name: str, key: bytes, head: str, now: datetime, by: str) -> Withheld:
    """Put a pseudonym in the place of a student's name wherever it stands.

    Raises Refusal: `name` where that name stands nowhere, `records` where the records do not hold as they are: that is
    looked into first.
    """
    name = " ".join(name.split())
    if len(name) < SHORTEST:
        raise refuse("name", "Give the whole name, as it stands on the roster.", "name")
    numbers = session.scalars(select(tables.RunRow.id)).all()
    _refuse_what_does_not_hold(check(session, key, head), load_runs_by_number(session, numbers))
    number = 1 + len(session.scalars(select(tables.WithheldRow.id)).all())
    pseudonym = PSEUDONYM.format(number)
    found = re.compile(rf"(?<!\w){re.escape(name)}(?!\w)")
    rows = sum(_put(session, table, found, pseudonym) for table in _tables())
    if not rows:
        raise refuse("name", f"'{name[:60]}' stands nowhere in these records; is it written so on the roster?", "name")
    session.expire_all()
    signed = list(_signed_anew(session))
    seals = reseal(session, key)
    session.add(
        tables.WithheldRow(
            uuid=str(uuid4()), pseudonym=pseudonym, rows=rows, signatures=signed, seals=seals, at=now, by=by
        )
    )
    # what lists say, and what processes remember, is of before
    session.execute(update(tables.RunRow).values(version=tables.RunRow.version + 1))
    session.execute(update(tables.SummaryRow).values(program=""))
    session.flush()
    return Withheld(pseudonym, rows, len(signed), seals.get(head, head))


def _refuse_what_does_not_hold(found: Agreement, runs: Sequence[StoredRun]) -> None:
    broken = [row.name for run in runs for number, row in enumerate(run.signatures) if not holds(run, number)]
    if found.faults or broken:
        text = "The records do not hold as they are: look with ./kettle verify first. No name was withheld."
        raise refuse("records", text)


def _tables() -> Iterator[Table]:
    for table in tables.Base.metadata.sorted_tables:
        if table.name not in NOT_LOOKED_AT:
            yield table


def _put(session: Session, table: Table, found: re.Pattern[str], pseudonym: str) -> int:
    """The name in every text of a table, also within longer ones; how many rows bore it."""
    keys = list(table.primary_key.columns)
    texts = [column for column in table.columns if isinstance(column.type, String | Text | JSON) and column not in keys]
    if not texts:
        return 0
    count = 0
    for row in session.execute(select(*keys, *texts)).mappings().all():
        told = {column.name: row[column.name] for column in texts}
        changed = {name: after for name, before in told.items() if (after := _said(before, found, pseudonym)) != before}
        if changed:
            where = [column == row[column.name] for column in keys]
            session.execute(update(table).where(*where).values(changed))
            count += 1
    return count


def _said(value: Any, found: re.Pattern[str], pseudonym: str) -> Any:
    match value:
        case str():
            return found.sub(pseudonym, value)
        case list():
            return [_said(one, found, pseudonym) for one in value]
        case dict():
            return {key: _said(one, found, pseudonym) for key, one in value.items()}
    return value


def _signed_anew(session: Session) -> Iterator[dict[str, str]]:
    """Every signature that speaks of something that is another now, made anew; what it was and what it is."""
    query = select(tables.SignatureRow.run_id).distinct().order_by(tables.SignatureRow.run_id)
    for number in session.scalars(query).all():
        run = load_runs_by_number(session, [number])[0]
        before = ""
        for row in run.signatures:
            record = record_hash(run, row.covers, row.format)
            anew = seal(before, replace(row, record=record))
            if (record, anew) != (row.record, row.seal):
                table = cast(Table, tables.SignatureRow.__table__)
                session.execute(update(table).where(table.c.uuid == row.uuid).values(record=record, seal=anew))
                yield {"uuid": row.uuid, "record": row.record, "seal": row.seal, "now": record}
            before = anew


def fingerprints_before(session: Session) -> Mapping[str, list[str]]:
    """By the UUID of a signature the hashes that it had before names were withheld from its record."""
    found: dict[str, list[str]] = {}
    for row in session.scalars(select(tables.WithheldRow).order_by(tables.WithheldRow.id)):
        for signed in row.signatures:
            found.setdefault(signed["uuid"], []).append(signed["record"])
    return found
