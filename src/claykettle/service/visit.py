"""One use case at work: its transaction, the moment at which it began, and who asks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta, tzinfo
from typing import TypeVar

from sqlalchemy.orm import Session

from claykettle.core.errors import NotFound, NotYours
from claykettle.service.callers import PROGRAM, Caller
from claykettle.store.records import StoredRun
from claykettle.store.runs import digests, keep, load_run, load_runs

Made = TypeVar("Made")

A_MOMENT = timedelta(milliseconds=10)
"""Entries of one moment are told apart by microseconds."""


@dataclass(frozen=True)
class Visit:
    """What a use case is given. It ends with the use case: nothing of it may be held on to."""

    session: Session
    now: datetime
    caller: Caller = PROGRAM
    zone: tzinfo = UTC

    @property
    def today(self) -> date:
        """The day on which it happens, where the laboratory lies."""
        return self.now.astimezone(self.zone).date()

    def not_before(self, run: StoredRun) -> Visit:
        """The same visit, its time not before the run's last entry: in a record time never runs backwards."""
        return self if self.now >= run.changed_at - A_MOMENT else replace(self, now=run.changed_at)

    def run(self, uuid: str, lock: bool = False) -> StoredRun:
        """The run with this UUID; `lock` keeps others from changing it until the visit ends.

        Raises NotFound, NotYours.
        """
        run = self.run_if_kept(uuid, lock)
        if run is None:
            raise NotFound("There is no such run here; it may belong to another database.")
        return run

    def run_if_kept(self, uuid: str, lock: bool = False) -> StoredRun | None:
        """The run with this UUID, None where it is not kept. Raises NotYours."""
        run = load_run(self.session, uuid, lock)
        if run is not None and not self.caller.whose.holds(run):
            raise NotYours("This run belongs to a section or a bench that is not yours.")
        return run

    def runs(self) -> list[StoredRun]:
        """All runs of the caller, whole, the latest changed first: for what takes them along."""
        return load_runs(self.session, self.caller.whose)

    def digests(self, kind: str, make: Callable[[StoredRun], Made]) -> list[Made]:
        """`make` of every run of the caller, the latest changed first; of one that did not change it is remembered."""
        return digests(self.session, self.caller.whose, kind, make)

    def keep(self, before: StoredRun, after: StoredRun) -> StoredRun:
        """Append what `after` has more than `before`. Raises Conflict where somebody else was there first."""
        return keep(self.session, before, after)
