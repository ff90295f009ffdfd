"""Limits on tries: so many wrong ones under a key, then none for a while. Kept in the database, for all processes."""

from __future__ import annotations

import hashlib
from datetime import timedelta

from sqlalchemy import func, select

from claykettle.core.errors import TooMany
from claykettle.service.visit import Visit
from claykettle.store.tables import Try

WITHIN = timedelta(minutes=10)
FOR_A_LOGIN, FOR_AN_ADDRESS, FOR_CODES = 8, 100, 60
"""Wrong tries in ten minutes: of one login from one address; of all logins from it, behind which a whole school may
stand; of codes from it, with which sixteen tablets may each err three times.
"""


def key_of(*parts: str) -> str:
    """Under which key a try counts; hashed, so that no typed name is kept."""
    return hashlib.sha256("\\0".join(parts).encode("utf-8", "surrogatepass")).hexdigest()


CODES = key_of("codes")
"""Under which every wrong code counts, whoever typed it: the board tells of many."""


def refuse_beyond(visit: Visit, key: str, most: int) -> None:
    """Raises TooMany where this key has had its wrong tries, with how long it has to wait."""
    query = select(func.count(), func.min(Try.at)).where(Try.key == key, Try.at > visit.now - WITHIN)
    count, first = visit.session.execute(query).one()
    if count >= most:
        wait_s = max(1, int((first + WITHIN - visit.now).total_seconds()))
        raise TooMany(f"Too many wrong tries from here. Try again in {-(-wait_s // 60)} min.", wait_s)


def note_wrong(visit: Visit, *keys: str) -> None:
    """Count a wrong try under these keys."""
    visit.session.add_all(Try(key=key, at=visit.now) for key in keys)


def forget_old(visit: Visit) -> None:
    """Take out tries that count no more."""
    visit.session.query(Try).filter(Try.at < visit.now - WITHIN).delete()
