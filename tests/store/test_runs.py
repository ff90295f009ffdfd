"""Runs in memory and in the store: what another process did is seen, and nothing uncommitted is remembered."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any
from unittest import mock
from uuid import uuid4

from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict
from claykettle.service.runs.record import RecordReading, StartTrial, record_reading, start_trial
from claykettle.service.visit import Visit
from claykettle.store import runs as store
from claykettle.store.cache import MOST, RunCache
from claykettle.store.database import Database
from claykettle.store.records import StoredRun
from tests.support.server import BEGIN, AppCase


def found(session: Session, uuid: str) -> StoredRun:
    """The run with this UUID."""
    return Visit(session, BEGIN).run(uuid)


def recorded(session: Session, now: datetime, uuid: str, slot: str, text: str) -> StoredRun:
    """The run with a reading more."""
    visit = Visit(session, now)
    return record_reading(visit, visit.run(uuid, lock=True), RecordReading(str(uuid4()), slot, 1, text))


def trial_begun(session: Session, now: datetime, uuid: str) -> StoredRun:
    """The run with a second trial."""
    visit = Visit(session, now)
    return start_trial(visit, visit.run(uuid, lock=True), StartTrial("2"))


class TwoProcesses(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.uuid = self.start()["uuid"]
        self.other = Database(self.database.url)
        self.addCleanup(self.other.close)

    def record(self, database: Database, slot: str, text: str, trusting: bool = False) -> StoredRun:
        self.clock.move(seconds=10)
        with database.transaction(trusting=trusting) as session:
            return recorded(session, self.clock.now, self.uuid, slot, text)

    def test_each_sees_what_the_other_committed(self) -> None:
        self.record(self.database, "vessel", "31.204")
        self.record(self.other, "vessel_sample", "32.861")
        with self.database.transaction() as session:
            readings = found(session, self.uuid).own_trials[0].readings
        self.assertEqual([row.text for row in readings], ["31.204", "32.861"])

    def test_trust_in_memory_that_has_grown_old_is_found_out_before_anything_is_kept(self) -> None:
        self.record(self.database, "vessel", "31.204")
        self.record(self.other, "vessel_sample", "32.861")
        with self.assertRaises(Conflict):
            self.record(self.database, "vessel_residue", "32.151", trusting=True)
        with self.other.transaction() as session:
            self.assertEqual(len(found(session, self.uuid).own_trials[0].readings), 2)

    def test_the_web_tries_once_more_and_nobody_notices(self) -> None:
        run = {"uuid": self.uuid}
        self.weigh(run, "vessel", "31.204")
        self.record(self.other, "vessel_sample", "32.861")
        answer = self.weigh(run, "vessel_residue", "32.151")
        self.assertEqual([row["text"] for row in answer["readings"]], ["31.204", "32.861", "32.151"])

    def test_what_was_rolled_back_is_not_remembered(self) -> None:
        with self.assertRaises(ZeroDivisionError), self.database.transaction() as session:
            recorded(session, self.clock.now, self.uuid, "vessel", "31.204")
            raise ZeroDivisionError
        with self.database.transaction() as session:
            self.assertEqual(found(session, self.uuid).own_trials[0].readings, ())

    def test_what_was_read_between_two_changes_of_a_lost_transaction_is_forgotten(self) -> None:
        """Two readings in one transaction that fails; another process then commits the version that was lost."""
        with self.assertRaises(ZeroDivisionError), self.database.transaction() as session:
            for slot, text in (("vessel", "11.111"), ("vessel_sample", "12.222")):
                recorded(session, self.clock.now, self.uuid, slot, text)
            raise ZeroDivisionError
        self.record(self.other, "vessel", "31.204")
        with self.database.transaction() as session:
            readings = found(session, self.uuid).own_trials[0].readings
        self.assertEqual([row.text for row in readings], ["31.204"])


class ChangedWhileRead(TwoProcesses):
    def seen_while(self, name: str) -> StoredRun:
        """The run as a process reads it while another one records, right after the query of this name."""
        query = getattr(store, name)
        changes = [("vessel", "31.204")]

        def then_changed(*arguments: Any) -> Any:
            rows = query(*arguments)
            if changes:
                self.record(self.other, *changes.pop())
            return rows

        reader = Database(self.database.url)
        self.addCleanup(reader.close)
        with mock.patch.object(store, name, then_changed), reader.transaction() as session:
            found(session, self.uuid)
        with reader.transaction() as session:
            return found(session, self.uuid)

    def test_a_run_that_changes_while_it_is_read_is_never_remembered_in_halves(self) -> None:
        """Its version and its readings come by several queries; a reading saved between them must not stay unseen."""
        for name in ("_read_once", "_trials", "_procedure"):
            with self.subTest(after=name):
                self.uuid = self.start()["uuid"]
                run = self.seen_while(name)
                self.assertEqual([row.text for row in run.own_trials[0].readings], ["31.204"])


class NewTrials(TwoProcesses):
    def begin(self, database: Database, trusting: bool = False) -> StoredRun:
        self.clock.move(seconds=10)
        with database.transaction(trusting=trusting) as session:
            return trial_begun(session, self.clock.now, self.uuid)

    def test_a_new_trial_is_kept_under_a_key_of_its_own(self) -> None:
        run = self.begin(self.database)
        self.assertEqual([row.position for row in run.own_trials], [1, 2])
        self.assertNotIn(0, [row.id for row in run.own_trials])
        with self.other.transaction() as session:
            self.assertEqual([row.id for row in found(session, self.uuid).trials], [row.id for row in run.trials])

    def test_two_tablets_that_begin_the_same_trial_begin_one(self) -> None:
        self.record(self.database, "vessel", "31.204")
        self.begin(self.other)
        with self.assertRaises(Conflict):
            self.begin(self.database, trusting=True)
        answer = self.post(f"/api/runs/{self.uuid}/trials", {"label": "2"})
        self.assertEqual([row["label"] for row in answer["trials"]], ["1", "2"])

    def test_a_new_trial_that_was_rolled_back_leaves_nothing(self) -> None:
        with self.assertRaises(ZeroDivisionError), self.database.transaction() as session:
            trial_begun(session, self.clock.now, self.uuid)
            raise ZeroDivisionError
        with self.database.transaction() as session:
            self.assertEqual(len(found(session, self.uuid).own_trials), 1)


class Cache(AppCase):
    def test_it_holds_the_newest_version_of_the_latest_runs(self) -> None:
        cache = RunCache()
        uuid = self.start()["uuid"]
        with self.database.transaction() as session:
            run = found(session, uuid)
        newer = run.touched(run.changed_at + timedelta(seconds=1))
        cache.put([newer])
        cache.put([run])
        self.assertIs(cache.get(run.id, newer.version), newer)
        self.assertIsNone(cache.get(run.id, run.version))
        for number in range(MOST):
            cache.put([_with(run, -1 - number, str(uuid4()))])
        self.assertIsNone(cache.held(uuid))


def _with(run: StoredRun, run_id: int, uuid: str) -> StoredRun:
    return replace(run, id=run_id, uuid=uuid)
