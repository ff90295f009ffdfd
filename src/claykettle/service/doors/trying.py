"""Limits on tries: so many wrong ones under a key, and then one after each pause. Kept in the database, for all
processes.

A try is counted, and that committed, before it is looked at: of many at once no more are looked at than one after the
other would be. One that was right, or was not looked at, is taken back. Nobody is shut out for long by what others do
behind the same address: beyond the limit it only becomes slow, and a browser in which an account has been signed in
before counts by itself.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from sqlalchemy import delete, func, select

from claykettle.core.errors import TooMany
from claykettle.service.visit import Visit
from claykettle.store.tables import Try

WITHIN = timedelta(minutes=10)
FOR_A_LOGIN, FOR_AN_ADDRESS, FOR_CODES = 8, 100, 60
"""Wrong tries in ten minutes: of one login from one browser or, unknown, from one address; of all logins from an
address, behind which a whole school may stand; of codes from it, with which sixteen tablets may each err three times.
"""
LOGIN_PAUSE_S, ADDRESS_PAUSE_S = 60.0, 5.0
"""Beyond that, so long after the last wrong try one more is looked at: of a login, or of all from an address. A code
has six letters of 27, which at one in five seconds takes longer than any class.
"""


@dataclass(frozen=True)
class Limit:
    """So many wrong tries under a key in ten minutes, and then one after each pause."""

    key: str
    most: int
    pause_s: float


@dataclass(frozen=True)
class Tries:
    """A try that was counted under its limits: the numbers of its rows."""

    limits: Sequence[Limit]
    rows: Sequence[int]


def key_of(*parts: str) -> str:
    """Under which key a try counts; hashed, so that no typed name is kept."""
    return hashlib.sha256("\\0".join(parts).encode("utf-8", "surrogatepass")).hexdigest()


CODES = key_of("codes")
"""Under which every wrong code counts, whoever typed it: the board tells of many."""


def count(visit: Visit, *limits: Limit, also: Sequence[str] = ()) -> Tries:
    """Count a try under these limits, and under further keys that limit nothing; commit before it is looked at."""
    forget_old(visit)
    rows = [Try(key=key, at=visit.now) for key in (*(limit.key for limit in limits), *also)]
    visit.session.add_all(rows)
    visit.session.flush()
    return Tries(limits, [row.id for row in rows])


def refused(visit: Visit, tries: Tries) -> TooMany | None:
    """Why a try is not looked at, None where it is; one that is not is taken back, so that it lengthens nothing."""
    waits = [wait for limit in tries.limits if (wait := _wait_s(visit, limit, tries)) > 0]
    if not waits:
        return None
    take_back(visit, tries)
    wait_s = math.ceil(max(waits))
    said = f"{wait_s} s" if wait_s < 90 else f"{-(-wait_s // 60)} min"
    return TooMany(f"Too many wrong tries from here. Try again in {said}.", wait_s)


def _wait_s(visit: Visit, limit: Limit, tries: Tries) -> float:
    query = select(func.count(), func.max(Try.at)).where(
        Try.key == limit.key, Try.at > visit.now - WITHIN, Try.id.not_in(tries.rows)
    )
    others, last = visit.session.execute(query).one()
    if others < limit.most:
        return 0.0
    return limit.pause_s - float((visit.now - last).total_seconds())


def take_back(visit: Visit, tries: Tries) -> None:
    """A try that was right, or was not looked at, counts no more."""
    visit.session.execute(delete(Try).where(Try.id.in_(tries.rows)))


def forget_old(visit: Visit) -> None:
    """Take out tries that count no more."""
    visit.session.execute(delete(Try).where(Try.at < visit.now - WITHIN))
