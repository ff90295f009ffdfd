"""The demo's evenings many times over, further and further into the past: a house as it is after years."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import timedelta
from typing import Any, cast
from uuid import UUID, uuid5

from sqlalchemy import Table, insert, select

from claykettle.store.database import Database
from claykettle.store.tables import (
    Base,
    ChangeRow,
    Day,
    FoundBy,
    ObservationRow,
    ReadingRow,
    RunRow,
    SignatureRow,
    StepEventRow,
    SummaryRow,
    TrialRow,
    WithdrawalRow,
)

COPIED: tuple[type[Base], ...] = (
    Day, RunRow, TrialRow, ReadingRow, ObservationRow, StepEventRow, ChangeRow, WithdrawalRow, SignatureRow, SummaryRow,
    FoundBy,
)  # fmt: skip
"""What belongs to an evening, each table after those that it names."""
MOVED = ("date", "changed_at")
"""What lies two weeks earlier in each copy; the record itself keeps its times, so that every signature holds."""
APART = timedelta(weeks=2)
"""The demo has a class of its day and one of a week before."""

SAID = ("listed", "drying", "remains", "calibration")
"""What lists say, which names its run."""
UUIDS = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def multiply(database: Database, runs: int) -> int:
    """Copy everything recorded, each time two weeks earlier, until there are at least so many runs; how many then."""
    tables = [cast(Table, table.__table__) for table in COPIED]
    with database.engine.begin() as connection:
        rows = {table.name: [dict(row) for row in connection.execute(select(table)).mappings()] for table in tables}
        span = {name: 1 + max((row["id"] for row in own if "id" in row), default=0) for name, own in rows.items()}
        evening, weeks = len(rows[RunRow.__tablename__]), 0
        while (weeks + 1) * evening < runs:
            weeks += 1
            for table in tables:
                copies = [dict(_copied(table, row, weeks, span)) for row in rows[table.name]]
                if copies:
                    connection.execute(insert(table), copies)
    return (weeks + 1) * evening


def _uuid(old: str, weeks: int) -> str:
    return str(uuid5(UUID(old), str(weeks)))


def _copied(table: Table, row: dict[str, Any], weeks: int, span: dict[str, int]) -> Iterator[tuple[str, Any]]:
    for column in table.columns:
        value = row[column.name]
        named = next((key.column.table.name for key in column.foreign_keys), None)
        if column.name == "id":
            yield "id", value + weeks * span[table.name]
        elif named in span and value is not None:
            yield column.name, value + weeks * span[named]
        elif column.name == "uuid":
            yield "uuid", _uuid(value, weeks)
        elif column.name in MOVED:
            yield column.name, value - weeks * APART
        elif column.name == "code":
            yield "code", None
        elif column.name in SAID:
            yield column.name, UUIDS.sub(lambda found: _uuid(found.group(), weeks), value)
        else:
            yield column.name, value
