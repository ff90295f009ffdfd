"""The laboratory: database, clock, transactions and the one retry. Whoever wants a use case carried out asks here."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Concatenate, ParamSpec, TypeVar

from sqlalchemy.exc import IntegrityError

from claykettle.core.errors import KettleError
from claykettle.service.views.bench import RunView, run_view
from claykettle.service.visit import Visit
from claykettle.store.database import Database
from claykettle.store.records import StoredRun

Asked = ParamSpec("Asked")
Found = TypeVar("Found")
Command = TypeVar("Command")


def _now() -> datetime:
    return datetime.now(UTC)


class Laboratory:
    """Carries out use cases, each in one transaction that is committed only when its answer is there."""

    def __init__(self, database: Database, clock: Callable[[], datetime] = _now):
        self.database, self.clock = database, clock

    def ask(
        self, use_case: Callable[Concatenate[Visit, Asked], Found], *asked: Asked.args, **named: Asked.kwargs
    ) -> Found:
        """Carry out a use case and give what it answers. What it kept is committed; an error takes all of it back."""
        with self.database.transaction() as session:
            return use_case(Visit(session, self.clock()), *asked, **named)

    def change(
        self,
        use_case: Callable[[Visit, StoredRun, Command], StoredRun],
        uuid: str,
        command: Command,
        seen_from: str | None = None,
    ) -> RunView:
        """Carry out a use case on a run, and show the run as it then stands, seen from one of its trials.

        The run is taken from memory first: the store finds out whether it was still current. Where it was not, or
        another fault may be due to that, it is done once more on what the store holds, locked. The run is shown before
        it is committed: what cannot be shown is not kept.
        """
        now = self.clock()

        def carried_out(trusting: bool) -> RunView:
            with self.database.transaction(trusting) as session:
                visit = Visit(session, now)
                return run_view(use_case(visit, visit.run(uuid, lock=True), command), now, seen_from)

        try:
            return carried_out(trusting=True)
        except (KettleError, IntegrityError):
            return carried_out(trusting=False)
