"""What somebody comes with, and who that is. Only a hash of it is kept, so that the database opens no door."""

from __future__ import annotations

import hashlib
import json
import secrets
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from claykettle.service.callers import (
    ADMINISTRATOR,
    BENCH,
    BOARD,
    INSTRUCTOR,
    NO_ONE,
    Caller,
    Role,
)

_WHO = (
    "SELECT JSON_ARRAY(s.`id`, s.`kind`, s.`account_id`, s.`section_id`, s.`day_id`, s.`bench_id`, s.`shows_answers`, "
    "a.`login`, a.`name`, a.`is_admin`, a.`is_disabled`, b.`name`, d.`is_closed`, d.`reveal`, s.`until`, "
    "IFNULL(s.`tablet`, s.`id`), "
    "(SELECT JSON_ARRAYAGG(m.`section_id`) FROM `membership` m WHERE m.`account_id` = s.`account_id`), "
    "(SELECT r.`id` FROM `section` r WHERE r.`rehearsal_of` = s.`account_id`)) "
    "FROM `sign_in` s LEFT JOIN `account` a ON a.`id` = s.`account_id` LEFT JOIN `bench` b ON b.`id` = s.`bench_id` "
    "LEFT JOIN `day` d ON d.`id` = s.`day_id` WHERE s.`token` = %(token)s AND NOT s.`ended`"
)
"""Asked at every request, hence written out: who it is and all sections of theirs, in one column, since to describe
many takes the driver as long as to read them."""


LETTERS = "23456789BCDFGHJKLMNPQRTVWXZ"
"""What a code is made of: no two that look alike, and no vowels, so that it spells nothing."""


@dataclass(frozen=True)
class Knock:
    """What came with a request: the cookie's secret, empty where there is none, and from where."""

    secret: str
    address: str
    rehearses: bool = False
    """Whether it asks for the place where the account rehearses."""


def new_secret() -> str:
    """A secret for a cookie, which nobody can guess."""
    return secrets.token_urlsafe(32)


def new_code(length: int) -> str:
    """A code that is typed from another screen."""
    return "".join(secrets.choice(LETTERS) for _ in range(length))


def token_of(secret: str) -> str:
    """What is kept of a secret."""
    return hashlib.sha256(secret.encode("utf-8", "surrogatepass")).hexdigest()


def caller_of(session: Session, now: datetime, knock: Knock) -> Caller:
    """Who came with this; nobody where it is not known, has ended, or its account is disabled."""
    if not knock.secret:
        return Caller(NO_ONE.roles, address=knock.address)
    token = token_of(knock.secret)
    nobody = Caller(NO_ONE.roles, address=knock.address, device=token)
    row = session.connection().exec_driver_sql(_WHO, {"token": token}).scalar()
    if row is None:
        return nobody
    (
        number, kind, account, section, day, bench, shows, login, name, is_admin, is_disabled, at, is_closed, reveal,
        until, tablet, own, rehearsal,
    ) = json.loads(row)  # fmt: skip
    if datetime.fromisoformat(until).replace(tzinfo=UTC) <= now:
        return nobody
    if kind == "account":
        if is_disabled:
            return nobody
        roles: frozenset[Role] = frozenset({INSTRUCTOR, ADMINISTRATOR} if is_admin else {INSTRUCTOR})
        if knock.rehearses:
            there = frozenset({rehearsal} if rehearsal is not None else ())
            found = Caller(roles, number, account, login, name, there, rehearsal, address=knock.address, device=token)
            return replace(found, rehearses=True)
        own = frozenset(own or ())
        here = section if section in own else min(own, default=None)
        return Caller(roles, number, account, login, name, own, here, address=knock.address, device=token)
    return Caller(
        frozenset({BENCH if kind == "bench" else BOARD}),
        number,
        name=at or "the board",
        sections=frozenset({section}),
        section=section,
        day=day,
        bench=bench,
        is_open=not is_closed,
        shows_answers=kind == "bench" or bool(shows),
        reveal=reveal if kind == "bench" else "always",
        tablet=tablet,
        address=knock.address,
        device=token,
    )
