"""Runs in memory and in the store: what another process did is seen, and nothing uncommitted is remembered."""

from __future__ import annotations

import threading
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any
from unittest import mock
from uuid import uuid4

import pymysql
from sqlalchemy import select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from claykettle.core.errors import Overtaken
from claykettle.service.laboratory import MOST_TRIES
from claykettle.service.runs.record import RecordReading, StartTrial, record_reading, start_trial
from claykettle.service.visit import Visit
from claykettle.store import runs as store
from claykettle.store.cache import MOST, RunCache
from claykettle.store.database import Database
from claykettle.store.records import StoredRun
from claykettle.store.runs import keep
from claykettle.store.summaries import count_on
from claykettle.store.tables import Bench, RunRow, TrialRow
from tests.support.server import BEGIN, AppCase, scene


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


class Beaten:
    """A use case whose transaction another one beats so many times."""

    def __init__(self, beaten: int, code: int):
        self.beaten, self.code, self.times = beaten, code, 0

    def used(self, visit: Visit) -> int:
        """How many times it was done."""
        self.times += 1
        if self.times <= self.beaten:
            raise OperationalError("COMMIT", {}, pymysql.err.OperationalError(self.code, "Deadlock found"))
        return self.times


class TwoProcesses(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        self.uuid = self.start()["uuid"]

    def setUp(self) -> None:
        super().setUp()
        self.other = Database(self.database.url)
        self.addCleanup(self.other.close)

    def record(self, database: Database, slot: str, text: str) -> StoredRun:
        self.clock.move(seconds=10)
        with database.transaction() as session:
            return recorded(session, self.clock.now, self.uuid, slot, text)

    def test_each_sees_what_the_other_committed(self) -> None:
        self.record(self.database, "vessel", "31.204")
        self.record(self.other, "vessel_sample", "32.861")
        with self.database.transaction() as session:
            readings = found(session, self.uuid).own_trials[0].readings
        self.assertEqual([row.text for row in readings], ["31.204", "32.861"])

    def test_two_at_once_wait_for_each_other_and_both_are_kept(self) -> None:
        """The second one begins before the first has ended, and is held up until it has."""
        held, go_on = threading.Event(), threading.Event()

        def first() -> None:
            with self.other.transaction() as session:
                recorded(session, self.clock.now, self.uuid, "vessel", "31.204")
                held.set()
                go_on.wait(10)

        thread = threading.Thread(target=first)
        thread.start()
        held.wait(10)
        threading.Timer(0.3, go_on.set).start()
        self.record(self.database, "vessel_sample", "32.861")
        thread.join()
        with self.database.transaction() as session:
            readings = found(session, self.uuid).own_trials[0].readings
        self.assertEqual(sorted(row.text for row in readings), ["31.204", "32.861"])

    def test_what_was_made_of_an_older_version_is_never_kept_over_a_newer_one(self) -> None:
        """As on a cluster of databases, where nobody is held up: it is told, and the laboratory does it once more."""
        with self.database.transaction() as session:
            old = found(session, self.uuid)
        self.record(self.other, "vessel", "31.204")
        with self.assertRaises(Overtaken), self.database.transaction() as session:
            keep(session, old, old.touched(self.clock.now))
        with self.other.transaction() as session:
            self.assertEqual(len(found(session, self.uuid).own_trials[0].readings), 1)

    def test_a_transaction_that_another_one_beat_is_done_once_more_and_told_when_it_never_wins(self) -> None:
        """1213 is what a cluster answers at COMMIT to the second of two."""
        for beaten, code, tries in ((MOST_TRIES - 1, 1213, MOST_TRIES), (MOST_TRIES, 1213, None), (1, 1064, None)):
            with self.subTest(beaten=beaten, code=code):
                asked = Beaten(beaten, code)
                if tries is not None:
                    self.assertEqual(self.laboratory.ask(asked.used), tries)
                    continue
                with self.assertRaises(OperationalError):
                    self.laboratory.ask(asked.used)
                self.assertEqual(asked.times, beaten)

    def test_the_web_records_on_what_the_other_left(self) -> None:
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

    def test_a_run_that_was_begun_and_rolled_back_is_not_remembered(self) -> None:
        begun: list[int] = []

        def fails(visit: Visit) -> None:
            row = visit.session.scalars(select(RunRow).where(RunRow.uuid == self.uuid)).one()
            names = {column.name for column in RunRow.__table__.columns} - {"id", "uuid"}
            taken = {name: getattr(row, name) for name in names}
            copy = RunRow(uuid=str(uuid4()), trials=[TrialRow(position=1, label="1")], **taken)
            begun.append(visit.begun(copy).id)
            raise ZeroDivisionError

        with self.assertRaises(ZeroDivisionError):
            self.laboratory.ask(fails)
        self.assertIsNone(self.database._cache.latest(begun[0]))

    def test_a_name_that_was_taken_back_leaves_no_run_under_it(self) -> None:
        """The version that the rename counted on to is then somebody else's reading."""

        def fails(visit: Visit) -> None:
            run = visit.run(self.uuid)
            visit.session.get_one(Bench, run.bench_id).name = "Window"
            count_on(visit.session, RunRow.bench_id == run.bench_id)
            visit.session.flush()
            self.assertEqual(visit.run(self.uuid).bench, "Window")
            raise ZeroDivisionError

        with self.assertRaises(ZeroDivisionError):
            self.laboratory.ask(fails)
        self.record(self.other, "vessel", "31.204")
        with self.database.transaction() as session:
            run = found(session, self.uuid)
        self.assertNotEqual(run.bench, "Window")
        self.assertEqual([row.text for row in run.own_trials[0].readings], ["31.204"])


class ChangedWhileRead(TwoProcesses):
    def seen_while(self, name: str) -> StoredRun:
        """The run as a process reads it while another one records, just when it comes to this query."""
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
        for name in ("_read_once", "_heads_of", "_readings_of", "stored_procedure"):
            with self.subTest(after=name):
                self.uuid = self.start()["uuid"]
                run = self.seen_while(name)
                self.assertEqual([row.text for row in run.own_trials[0].readings], ["31.204"])


class NewTrials(TwoProcesses):
    def begin(self, database: Database) -> StoredRun:
        self.clock.move(seconds=10)
        with database.transaction() as session:
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
        self.post(f"/api/runs/{self.uuid}/trials", {"label": "2"})
        answer = self.get(f"/api/runs/{self.uuid}")
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
        self.assertIsNone(cache.get(run.id, newer.version))


def _with(run: StoredRun, run_id: int, uuid: str) -> StoredRun:
    return replace(run, id=run_id, uuid=uuid)
