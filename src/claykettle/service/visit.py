"""One use case at work: its transaction, the moment at which it began, and who asks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta, tzinfo

from sqlalchemy import ColumnExpressionArgument, select
from sqlalchemy.orm import Session

from claykettle.core.errors import NotFound, NotYours
from claykettle.service.callers import PROGRAM, Caller
from claykettle.store.records import StoredRun
from claykettle.store.runs import KEPT, changes_of, keep, load_run, load_runs, load_runs_by_number
from claykettle.store.summaries import Kept, Part, Place, has_summaries, summaries
from claykettle.store.tables import Membership, RunRow

ANOTHER_S = "This run belongs to a section or a bench that is not yours."
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

    def run_as_stored(self, uuid: str) -> StoredRun:
        """The run as the database holds it, past everything that a process remembers. Raises NotFound, NotYours."""
        return load_runs_by_number(self.session, [self.run(uuid).id])[0]

    def run_if_kept(self, uuid: str, lock: bool = False) -> StoredRun | None:
        """The run with this UUID, None where it is not kept. Raises NotYours."""
        run = load_run(self.session, uuid, lock)
        if run is not None and not self.caller.whose.holds(run):
            raise NotYours(ANOTHER_S)
        return run

    def runs(self) -> Iterator[StoredRun]:
        """All runs of the caller, whole, the latest changed first: for what takes them along."""
        return load_runs(self.session, self.caller.whose)

    def summaries(
        self,
        part: Part,
        *also: ColumnExpressionArgument[bool],
        limit: int = 1000,
        before: Place | None = None,
        only_here: bool = False,
    ) -> list[Kept]:
        """A part of what lists say of the caller's runs (`only_here`: of those where they work), the latest first."""
        whose = self.caller.whose_here if only_here else self.caller.whose
        return summaries(self.session, part, whose, *also, limit=limit, before=before)

    def has_runs_elsewhere(self) -> bool:
        """Whether the caller has runs in sections other than the one where they work."""
        return has_summaries(self.session, self.caller.whose_elsewhere)

    def begun(self, row: RunRow) -> StoredRun:
        """Keep a new run with all rows that it begins with."""
        self.session.add(row)
        self.session.flush()
        return self.run_as_begun(row.uuid)

    def run_as_begun(self, uuid: str) -> StoredRun:
        """A run that this visit has put into the store, row by row. Raises NotYours."""
        # said first: what is read from now on is not committed yet, and nobody else may remember it
        kept = changes_of(self.session)
        run = load_run(self.session, uuid)
        assert run is not None
        if not self.caller.whose.holds(run) and not self._has_made(run.section_id):
            raise NotYours(ANOTHER_S)
        kept.append(run)
        return run

    def _has_made(self, section: int) -> bool:
        """Whether a section that the caller did not have when this visit began is an account's by now."""
        wanted = select(Membership.id).where(
            Membership.section_id == section, Membership.account_id == self.caller.account
        )
        return self.caller.account is not None and self.session.scalar(wanted) is not None

    @property
    def kept(self) -> list[StoredRun]:
        """The runs that this visit has kept, each as it stands now."""
        rows: list[StoredRun] = self.session.info.get(KEPT, [])
        return list({run.id: run for run in rows}.values())

    def keep(self, before: StoredRun, after: StoredRun) -> StoredRun:
        """Append what `after` has more than `before`. Raises Conflict where somebody else was there first."""
        return keep(self.session, before, after)
