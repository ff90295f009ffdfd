"""The laboratory: database, clock, transactions, the one retry, and who asks. Whoever wants a use case asks here."""

from __future__ import annotations

import logging
from collections.abc import Callable
from datetime import UTC, datetime, tzinfo
from typing import Any, Concatenate, ParamSpec, TypeVar

from sqlalchemy.exc import DBAPIError, IntegrityError, OperationalError
from sqlalchemy.orm import Session

from claykettle.core.errors import Doubt, Overtaken
from claykettle.devices import Attached
from claykettle.service.callers import PROGRAM, Caller, admit, signed
from claykettle.service.doors.knocking import Knock, caller_of
from claykettle.service.revealing import asked_without_answer, held_back
from claykettle.service.summaries import sum_up, sum_up_what_waits
from claykettle.service.views.bench import RunView, run_view
from claykettle.service.views.held_back import as_told
from claykettle.service.visit import Visit
from claykettle.store.database import Database, was_beaten
from claykettle.store.records import StoredRun
from claykettle.store.rehearsals import clock_of
from claykettle.store.summaries import any_to_sum_up, keep_asking

Asked = ParamSpec("Asked")
Found = TypeVar("Found")
Command = TypeVar("Command")


_LOG = logging.getLogger("claykettle")

NONE_ATTACHED = Attached({})
MOST_TRIES = 5
"""So often a transaction is tried that others beat: on a cluster of databases that shows when it is committed."""


def _now() -> datetime:
    return datetime.now(UTC)


class Laboratory:
    """Carries out use cases, each in one transaction that is committed only when its answer is there.

    Without a `knock` it is the program itself that asks; with one, whoever came with it. A day begins
    where `zone` says.
    """

    def __init__(
        self,
        database: Database,
        clock: Callable[[], datetime] = _now,
        knock: Knock | None = None,
        zone: tzinfo = UTC,
        attached: Attached = NONE_ATTACHED,
    ):
        self.database, self.clock, self.knock, self.zone = database, clock, knock, zone
        self.attached = attached
        self.caller: Caller | None = None
        """Who it turned out to be that knocked, for the log."""
        self.pace = 1.0
        """How many times as fast the clock goes where they are."""

    def opened_to(self, knock: Knock) -> Laboratory:
        """The same laboratory, as whoever came with this knock may use it."""
        return Laboratory(self.database, self.clock, knock, self.zone, self.attached)

    def ask(
        self, use_case: Callable[Concatenate[Visit, Asked], Found], *asked: Asked.args, **named: Asked.kwargs
    ) -> Found:
        """Carry out a use case and give what it answers. What it kept is committed; an error takes all of it back."""

        def carried_out(session: Session) -> Found:
            self._sum_up(session)
            visit = self._visit(session, self.clock())
            admit(visit.caller, use_case)
            commands: Any = [signed(visit.caller, one) for one in asked]
            found = use_case(visit, *commands, **named)
            for run in visit.kept:
                sum_up(visit, run)
            return found

        return self._in_a_transaction(carried_out)

    def change(
        self,
        use_case: Callable[[Visit, StoredRun, Command], StoredRun],
        uuid: str,
        command: Command,
        seen_from: str | None = None,
    ) -> RunView:
        """Carry out a use case on a run, and show the run as it then stands, seen from one of its trials.

        The run is shown before it is committed: what cannot be shown is not kept.
        """
        now = self.clock()
        asked: list[str] = []

        def carried_out(session: Session) -> RunView:
            visit = self._visit(session, now)
            admit(visit.caller, use_case)
            run = visit.run(uuid, lock=True)
            why = held_back(visit, run.id)
            try:
                after = use_case(visit.not_before(run), run, signed(visit.caller, command))
            except Doubt as doubt:
                asked.append(str(doubt))
                raise asked_without_answer(doubt) if why else doubt from None
            return as_told(run_view(after, visit.now, seen_from, run), why)

        try:
            return self._in_a_transaction(carried_out)
        except Doubt:
            self._note_asked(uuid, asked[-1], now)
            raise

    def _note_asked(self, uuid: str, text: str, now: datetime) -> None:
        """Keep what a bench was asked, so that the board tells: the figure itself was not kept."""

        def noted(session: Session) -> None:
            visit = self._visit(session, now)
            run = visit.run(uuid, lock=True)
            # what is kept of the run clears a question: so that the one before it does not clear this
            sum_up(visit, run)
            keep_asking(session, run.id, text[:2000], now)

        self._in_a_transaction(noted)

    def _sum_up(self, session: Session) -> None:
        """What was recorded since anybody asked for a list, so that lists say how each run stands.

        Committed by itself, before anything else begins: a long use case keeps no bench waiting. Where it cannot be
        kept, as on a full disk, lists say what they said before.
        """
        try:
            if any_to_sum_up(session):
                sum_up_what_waits(Visit(session, self.clock(), PROGRAM, self.zone))
                session.commit()
        except DBAPIError as error:
            _LOG.warning("runs are not summed up now: %s", error.orig)
            session.rollback()

    def _in_a_transaction(self, work: Callable[[Session], Found]) -> Found:
        """Do something in one transaction; once more, whole, where another that ran beside it was first."""
        left = MOST_TRIES
        while True:
            left -= 1
            try:
                with self.database.transaction() as session:
                    return work(session)
            except (Overtaken, IntegrityError, OperationalError) as error:
                if not left or (isinstance(error, OperationalError) and not was_beaten(error)):
                    raise

    def _visit(self, session: Session, now: datetime) -> Visit:
        if self.knock is None:
            return Visit(session, now, PROGRAM, self.zone)
        self.caller = caller_of(session, now, self.knock)
        if self.caller.rehearses:
            found = clock_of(session, self.caller.section, now)
            now, self.pace = found.now, found.pace
        return Visit(session, now, self.caller, self.zone)
