"""Engine, sessions and migrations: one transaction a use case."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from time import monotonic
from typing import Any

import pymysql
from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DBAPIError, DisconnectionError, OperationalError
from sqlalchemy.orm import Session, sessionmaker

from claykettle.store.cache import RunCache
from claykettle.store.runs import CACHE, KEPT

MIGRATIONS = Path(__file__).parent / "migrations"


FRESH_S = 1.0
"""A connection used within this time is taken as alive; an idler one is asked first, which costs a round trip."""


def _refuse_dead(connection: Any, record: Any, _: Any) -> None:
    """Let the pool take another connection where this one died while it was idle."""
    if monotonic() - record.info.get("used", 0.0) <= FRESH_S:
        return
    try:
        connection.ping(reconnect=False)
    except pymysql.Error as error:
        raise DisconnectionError from error


def _as_one(connection: Any, record: Any) -> None:
    """On a node of a cluster wait for what other nodes have committed, so that all of them answer as one."""
    with connection.cursor() as cursor:
        cursor.execute("SHOW VARIABLES LIKE 'wsrep_on'")
        if ("wsrep_on", "ON") in cursor.fetchall():
            # before reads, changes and inserts alike: each first catches up with the cluster
            cursor.execute("SET SESSION wsrep_sync_wait = 7")


def _note_use(connection: Any, record: Any) -> None:
    record.info["used"] = monotonic()


BEATEN = (1213, 1020)
"""MariaDB's codes for a transaction that another one beat: a deadlock (on a cluster of databases told at COMMIT), a row
that changed since it was read.
"""


def was_beaten(error: OperationalError) -> bool:
    """Whether a transaction failed only because another one was first, so that it may be done once more."""
    code = error.orig.args[0] if error.orig is not None and error.orig.args else None
    return code in BEATEN


FULL = (1021, 1114)
"""MariaDB's codes for a full disk, and for a table that finds no more room on it."""
_NO_SPACE = re.compile(r"\b(error|errno|errcode): ?\"?28\b|No space left", re.IGNORECASE)


def is_full(error: DBAPIError) -> bool:
    """Whether the database refused because its disk is full."""
    told = error.orig.args if error.orig is not None else ()
    return bool(told) and (told[0] in FULL or _NO_SPACE.search(str(told[-1])) is not None)


CONNECTIONS = 64
"""So many at once in a process: one for each thread of it that serves (launch/serving.py), so that none waits for
another's; the private server takes those of two processes, and the launcher's own (launch/mariadb.py).
"""


class NewerData(Exception):
    """A newer program has used this database; the message says so."""


class Database:
    """A pool of connections to one database. `url` is SQLAlchemy's, `mariadb+pymysql://…?charset=utf8mb4`."""

    def __init__(self, url: str):
        self.url = url
        self.engine: Engine = create_engine(
            url,
            isolation_level="READ COMMITTED",  # a page that waits must see what others have committed
            pool_recycle=3600,
            pool_reset_on_return=None,  # every session here ends with its own commit or rollback: no third round trip
            pool_size=10,
            max_overflow=CONNECTIONS - 10,
            pool_timeout=10,
            connect_args={"connect_timeout": 3, "read_timeout": 20, "write_timeout": 20},
        )
        event.listen(self.engine, "connect", _as_one)
        event.listen(self.engine, "checkout", _refuse_dead)
        event.listen(self.engine, "checkin", _note_use)
        self._cache = RunCache()
        self._sessions = sessionmaker(self.engine, expire_on_commit=False, info={CACHE: self._cache})

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session that commits at the end and rolls back on any error."""
        with self._sessions() as session:
            try:
                yield session
                session.commit()
            except BaseException:
                session.rollback()
                raise
            self._cache.put(session.info.pop(KEPT, ()))

    def migrate(self, version: str = "head") -> None:
        """Bring the schema up to this version (or to an earlier one); on an empty database it makes everything.

        Raises NewerData where a newer program has used it.
        """
        self.refuse_newer()
        command.upgrade(self._alembic(), version)

    def revision(self) -> str | None:
        """The form in which the records are, None on an empty database."""
        with self.engine.connect() as connection:
            return MigrationContext.configure(connection).get_current_revision()

    def newest(self) -> str | None:
        """The form in which this program keeps records."""
        return ScriptDirectory.from_config(self._alembic()).get_current_head()

    def _alembic(self) -> Config:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["engine"] = self.engine
        return config

    def refuse_newer(self) -> None:
        """Raises NewerData where a newer program has used the database."""
        current, known = self.revision(), ScriptDirectory.from_config(self._alembic())
        if current is not None and current not in {script.revision for script in known.walk_revisions()}:
            raise NewerData(
                f"these records were last used by a newer Clay Kettle (their version is {current}): start that one. "
                "Nothing was changed."
            )

    def ping(self) -> None:
        """Raises SQLAlchemyError where the database does not answer."""
        with self.engine.connect() as connection:
            connection.execute(text("SELECT 1"))

    def close(self) -> None:
        """Give all connections back."""
        self.engine.dispose()
