"""How a class stands, as one question to the database tells it: what there is to be looked at, and in which version."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

from claykettle.core.errors import NotFound, NotYours, Refusal
from claykettle.core.planning.practical import Reveal
from claykettle.core.quantity import parse_reading
from claykettle.service.doors.trying import CODES, WITHIN
from claykettle.service.shelf.day import the_day
from claykettle.service.visit import Visit

_STATE = (
    "SELECT JSON_ARRAY(d.`section_id`, d.`title`, d.`date`, d.`starts`, "
    "JSON_VALUE(d.`plan`, '$.length') COLLATE utf8mb4_nopad_bin, d.`more_min`, d.`is_closed`, "
    "d.`code`, d.`code_until`, d.`reveal`, "
    "(SELECT JSON_ARRAYAGG(JSON_ARRAY(s.`run_id`, s.`version`, s.`asked`, s.`bench_id`)) FROM `summary` s "
    "WHERE s.`day_id` = d.`id`), "
    "(SELECT JSON_ARRAYAGG(JSON_ARRAY(x.`date`, x.`starts`, x.`length_min`, x.`more_min`) ORDER BY x.`date`) "
    "FROM `class_session` x "
    "WHERE x.`day_id` = d.`id`), "
    "(SELECT JSON_ARRAYAGG(JSON_ARRAY(p.`bench_id`, p.`run_id`, p.`is_out`)) FROM `place` p "
    "WHERE p.`day_id` = d.`id`), "
    "(SELECT JSON_ARRAY(COUNT(*), MAX(t.`id`)) FROM `seat` t JOIN `place` p ON t.`place_id` = p.`id` "
    "WHERE p.`day_id` = d.`id`), "
    "(SELECT MAX(c.`id`) FROM `call_answer` c WHERE c.`day_id` = d.`id`), "
    "(SELECT MAX(m.`id`) FROM `message` m WHERE m.`day_id` = d.`id`), "
    "(SELECT MAX(h.`id`) FROM `sheet` h WHERE h.`day_id` = d.`id`), "
    "(SELECT MAX(a.`id`) FROM `answer` a WHERE a.`day_id` = d.`id`), "
    "(SELECT MAX(k.`id`) FROM `mark` k JOIN `sheet` h ON k.`sheet_id` = h.`id` WHERE h.`day_id` = d.`id`), "
    "(SELECT MAX(o.`id`) FROM `sheet_choice` o JOIN `sheet` h ON o.`sheet_id` = h.`id` WHERE h.`day_id` = d.`id`), "
    "(SELECT MAX(v.`id`) FROM `given_back` v JOIN `sheet` h ON v.`sheet_id` = h.`id` WHERE h.`day_id` = d.`id`), "
    "(SELECT MAX(r.`id`) FROM `room_reading` r WHERE r.`day_id` = d.`id`), "
    "(SELECT COUNT(*) FROM `try` g WHERE g.`key` = %(guessed)s AND g.`at` > %(since)s), "
    "(SELECT JSON_ARRAY(MAX(i.`id`), SUM(i.`ended`)) FROM `sign_in` i WHERE i.`day_id` = d.`id`), "
    "(SELECT MAX(e.`changed_at`) FROM `summary` e WHERE e.`section_id` = d.`section_id`)) "
    "FROM `day` d WHERE d.`id` = %(day)s"
)
"""Asked by every page every second or so, hence written out: all that can have changed of a class, in one column."""


LONGEST = 2500
"""A longer list of versions is told by its hash: an address with it would be refused."""


@dataclass(frozen=True)
class Held:
    """A session of a class: its day, its hour (empty where nobody planned it), its length and what was added to it in
    minutes; None for a length that is not told.
    """

    date: date
    starts: str
    length_min: float | None
    more_min: int


@dataclass(frozen=True)
class State:
    """A class and the versions of its runs (how often each was kept, and how often it asked); `mark` is another one as
    soon as anything else of it is. `sessions` are the first one and the further ones, by day.
    """

    number: int
    section: int
    title: str
    sessions: tuple[Held, ...]
    is_closed: bool
    reveal: Reveal
    guessed: int
    versions: dict[int, str]
    mark: str

    @property
    def token(self) -> str:
        """What a page has seen of it, to be sent along with its next question: no longer than an address may be."""
        runs = ",".join(f"{run}.{version}" for run, version in sorted(self.versions.items()))
        if len(runs) > LONGEST:
            runs = hashlib.sha256(runs.encode()).hexdigest()
        return f"{runs};{self.mark}"

    def unseen(self, token: str) -> tuple[frozenset[int], bool]:
        """The runs that a page with this token has not seen as they are, and whether anything else is another.

        Of very many runs the token only tells whether all of them are as they were.
        """
        if token == self.token:
            return frozenset(), False
        runs = token.partition(";")[0]
        seen = dict(row.partition(".")[::2] for row in runs.split(",") if row)
        changed = frozenset(run for run, version in self.versions.items() if seen.get(str(run)) != version)
        return changed, True

    @property
    def is_planned(self) -> bool:
        """Whether the class was laid out, and not begun on a day as it came."""
        return self.sessions[0].starts != ""

    def session(self, visit: Visit) -> Held:
        """The session that is held now, or was held last; before the first one, that."""
        return next((row for row in reversed(self.sessions) if row.date <= visit.today), self.sessions[0])

    def begins(self, visit: Visit) -> datetime | None:
        """When the class begins; None for a day that nobody planned."""
        if not self.is_planned:
            return None
        held = self.session(visit)
        hour, minute = (int(part) for part in held.starts.split(":"))
        return datetime.combine(held.date, time(hour, minute), visit.zone).astimezone(UTC)

    def ends(self, visit: Visit) -> datetime | None:
        """When it is to end, with what was added; None where nobody planned it."""
        begins, held = self.begins(visit), self.session(visit)
        if begins is None or held.length_min is None:
            return None
        return begins + timedelta(minutes=held.length_min + held.more_min)


def class_at(visit: Visit, number: int, lists: bool = False) -> State:
    """How a class stands; number 0 is the one at work now. With `lists` any change in its section makes another mark.

    Raises NotFound, NotYours.
    """
    caller = visit.caller
    if number == 0:
        number = caller.day if caller.day is not None else the_day(visit).id
    if caller.day is not None and caller.day != number:
        raise NotYours("This tablet or board belongs to another class.")
    asked = {"day": number, "guessed": CODES, "since": (visit.now - WITHIN).astimezone(UTC).replace(tzinfo=None)}
    row = visit.session.connection().exec_driver_sql(_STATE, asked).scalar()
    if row is None:
        raise NotFound("There is no such class.")
    section, title, day, starts, length, more, closed, code, until, reveal, runs, again, *rest = json.loads(row)
    if not caller.is_program and section not in caller.sections:
        raise NotYours("This class belongs to a section that is not yours.")
    *seen, guessed, joined, elsewhere = rest
    own = [title, day, starts, length, more, closed, code, until, reveal, again, *seen]
    if caller.account is not None or caller.is_program:
        own += [joined, guessed]
    if lists:
        own.append(elsewhere)
    return State(
        number=number,
        section=section,
        title=title,
        sessions=(
            Held(date.fromisoformat(day), starts, _minutes(length or ""), more),
            *(Held(date.fromisoformat(on), at, minutes, added) for on, at, minutes, added in again or ()),
        ),
        is_closed=bool(closed),
        reveal=reveal,
        guessed=guessed,
        versions=_versions(runs or [], caller.bench),
        mark=hashlib.sha256(json.dumps(own).encode()).hexdigest()[:16],
    )


def _minutes(length: str) -> float | None:
    try:
        return float(parse_reading(length, "time", "min").si) / 60 if length else None
    except Refusal:
        return None


def _versions(rows: list[Any], bench: int | None) -> dict[int, str]:
    return {run: f"{version}.{asked}" for run, version, asked, at in rows if bench is None or at == bench}
