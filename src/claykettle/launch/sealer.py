"""The house seals its records: some seconds after they came, with a key that lies beside the database, not in it."""

from __future__ import annotations

import os
import secrets
import time
from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path

from claykettle.launch.paths import SetupError
from claykettle.store.database import Database
from claykettle.store.ledger import SETTLED_S, Agreement, check, highest, is_link, seal_new

KEY, HEAD = "seal.key", "seal.head"
"""The house's key, and the seal that the chain has reached: outside of the database, so that a cut one is seen."""


def seal_key(data: Path) -> bytes:
    """The house's key, made where there is none, readable by its user alone."""
    path = data / KEY
    if not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "wb") as file:
            file.write(secrets.token_bytes(32))
    return path.read_bytes()


class Sealer:
    """Seals what was there a while ago; called from time to time, it keeps what it saw last in between."""

    def __init__(self, data: Path, database: Database):
        self.data, self.key, self.database = data, seal_key(data), database
        self.seen: dict[str, int] = {}
        self.looked = 0.0

    def look(self) -> None:
        """Seal what was seen at the look before, once that is long enough ago; then see what is there now.

        Raises SetupError where the chain was cut.
        """
        if self.seen and time.monotonic() - self.looked < SETTLED_S:
            return
        if self.seen:
            self._seal(self.seen)
        with self.database.transaction() as session:
            self.seen, self.looked = highest(session), time.monotonic()

    def seal_all(self) -> None:
        """Seal everything that is there: where nobody records meanwhile. Raises SetupError where the chain was cut."""
        with self.database.transaction() as session:
            seen = highest(session)
        self._seal(seen)

    def _seal(self, seen: Mapping[str, int]) -> None:
        with self.database.transaction() as session:
            head = head_of(self.data)
            if head and not is_link(session, head):
                raise SetupError(
                    f"the records were changed past the program: the link {head[:16]} of their chain is gone. "
                    "Nothing more is sealed; look with ./kettle verify."
                )
            made = seal_new(session, self.key, datetime.now(UTC), seen)
        if made is not None:
            keep_head(self.data, made.seal)


def head_of(data: Path) -> str:
    """The seal that the chain has reached, as it was told outside of the database; empty before the first."""
    try:
        return (data / HEAD).read_text().strip()
    except FileNotFoundError:
        return ""


def keep_head(data: Path, seal: str) -> None:
    """Tell outside of the database how far the chain reaches."""
    (data / HEAD).write_text(seal + "\n")


def checked(data: Path, database: Database) -> Agreement:
    """The chain held against the records, and against the head that was told outside."""
    with database.transaction() as session:
        return check(session, seal_key(data), head_of(data))
