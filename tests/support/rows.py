"""What a database holds, as rows: taken up once, laid down again in milliseconds.

A scene is played through the use cases once and kept as rows; before each further test only the tables that somebody
has written to since are emptied and filled. Numbers go on counting, so that what a process remembers of one test's rows
is never taken for another's.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, event

from claykettle.store.database import Database
from claykettle.store.tables import Base

TABLES = tuple(table.name for table in Base.metadata.sorted_tables)
_WRITES = re.compile(r"\s*(?:INSERT(?: IGNORE)? INTO|UPDATE|DELETE FROM|REPLACE INTO|TRUNCATE(?: TABLE)?)\s+`?(\w+)")
AT_ONCE = 200
"""Rows in one statement."""

_written: dict[str, set[str]] = {}
"""Of each database, by its address, the tables that were written to since rows were taken up or laid down in it."""


@event.listens_for(Engine, "before_cursor_execute")
def _note(connection: Any, cursor: Any, statement: str, *_: Any) -> None:
    found = _WRITES.match(statement)
    if found is not None:
        _written.setdefault(str(connection.engine.url), set()).add(found[1])


@dataclass(frozen=True)
class Rows:
    """The rows of a whole database, as the statements that put them in, a table's together."""

    by_table: Mapping[str, tuple[str, ...]]

    @classmethod
    def of(cls, database: Database) -> Rows:
        """What the database holds now."""
        raw = database.engine.raw_connection()
        try:
            with raw.cursor() as cursor:
                found = {name: tuple(_statements(cursor, name)) for name in TABLES}
            raw.rollback()
        finally:
            raw.close()
        _written.pop(str(database.engine.url), None)
        return cls(found)

    def lay(self, database: Database, before: Rows | None) -> None:
        """Make the database hold these rows and no others.

        `before` is what lay there last and was written to by this process alone; None where that is not known.
        """
        if before is None:
            names: Iterable[str] = TABLES
        else:
            written = _written.get(str(database.engine.url), set())
            names = [name for name in TABLES if name in written or before.by_table[name] != self.by_table[name]]
        names = list(names)
        if names:
            raw = database.engine.raw_connection()
            try:
                with raw.cursor() as cursor:
                    cursor.execute("SET FOREIGN_KEY_CHECKS=0")
                    for name in names:
                        cursor.execute(f"DELETE FROM `{name}`")
                        for statement in self.by_table[name]:
                            cursor.execute(statement)
                    cursor.execute("SET FOREIGN_KEY_CHECKS=1")
                raw.commit()
            finally:
                raw.close()
        _written.pop(str(database.engine.url), None)


EMPTY = Rows(dict.fromkeys(TABLES, ()))
"""No row at all."""


def _statements(cursor: Any, name: str) -> Iterable[str]:
    cursor.execute(f"SELECT * FROM `{name}`")
    columns = ", ".join(f"`{column[0]}`" for column in cursor.description)
    rows = cursor.fetchall()
    filled = f"({', '.join(['%s'] * len(cursor.description))})"
    for at in range(0, len(rows), AT_ONCE):
        some = rows[at : at + AT_ONCE]
        values = ", ".join(cursor.mogrify(filled, row) for row in some)
        yield f"INSERT INTO `{name}` ({columns}) VALUES {values}"
