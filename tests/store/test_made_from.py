"""A run made from another keeps what did not change, and says to the letter what one read afresh says."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from typing import Any
from uuid import uuid4

from claykettle.core.run import evaluate_run
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.service.visit import Visit
from claykettle.store.database import Database
from claykettle.store.records import StoredObservation, StoredRun, StoredStepEvent, StoredTrial
from tests.support.demo import DemoCase


def afresh(run: StoredRun) -> StoredRun:
    """The same run as if it had just been read: nothing worked out, its trials other objects."""
    trials = tuple(StoredTrial(row.id, row.position, row.label, row.readings) for row in run.trials)
    return replace(run, trials=trials)


def said(run: StoredRun) -> Any:
    """Everything that follows from a run: its evaluation, and the state of every step of every trial."""
    steps = {
        row.label: [(one.key, one.state, one.position, one.text(one.step.say)) for one in run.steps(row.label)]
        for row in run.own_trials
    }
    return evaluation_document(run.evaluation), steps


class MadeFrom(DemoCase):
    def runs(self) -> list[StoredRun]:
        return self.laboratory.ask(lambda visit: list(visit.runs()))

    def changes(self, run: StoredRun) -> Iterator[tuple[str, StoredRun]]:
        """The run with one thing more, for everything that can come."""
        now = run.changed_at + timedelta(minutes=1)
        for trial in run.trials:
            if trial.readings:
                # as it stood before its last reading, worked out, and then that reading
                last = trial.readings[-1]
                shorter = replace(trial, readings=trial.readings[:-1])
                older = replace(run, trials=tuple(shorter if row is trial else row for row in run.trials))
                _ = said(older)
                yield f"a reading of {trial.label}", older.with_reading(shorter, last)
                figures = replace(last, uuid=str(uuid4()), supersedes=last.uuid, revision=9)
                yield f"a correction in {trial.label}", run.with_reading(trial, figures)
        for label in ("", *(row.label for row in run.own_trials)):
            seen = StoredObservation(str(uuid4()), label, now, "", "popping", "")
            yield f"something seen in {label or 'all'}", run.with_observation(seen)
        for trial in run.own_trials:
            step = run.steps(trial.label)[0]
            mark = StoredStepEvent(str(uuid4()), trial.label, step.key, "finished", 0, now)
            yield f"a step of {trial.label}", run.with_step_event(mark)
        yield "another trial", run.with_trial("one more")

    def test_whatever_comes_it_says_what_one_read_afresh_says(self) -> None:
        count = 0
        for run in self.runs():
            _ = said(run)
            for what, after in self.changes(run):
                with self.subTest(run.title, what=what):
                    again = afresh(after)
                    self.assertEqual(said(after), said(again))
                    # and once more a step further
                    further = after.touched(after.changed_at + timedelta(seconds=1)).with_due_timer(
                        after.own_trials[0].label, after.changed_at
                    )
                    self.assertEqual(said(further), said(afresh(further)))
                    count += 1
        self.assertGreater(count, 100)

    def test_what_trials_share_stays_one_quantity(self) -> None:
        """A barometer's error moves all trials alike: their mean's band must not shrink by taking one from before."""
        compared = 0
        for run in [row for row in self.runs() if row.shared]:
            # the same figures once more in a second trial, but for the last
            first = run.own_trials[0]
            older = run.with_trial("2")
            for row in first.readings[:-1]:
                older = older.with_reading(older.own_trials[-1], replace(row, uuid=str(uuid4()), supersedes=None))
            _ = older.evaluation
            last = replace(first.readings[-1], uuid=str(uuid4()), supersedes=None)
            after = older.with_reading(older.own_trials[-1], last)
            alone = evaluate_run(after.core)
            self.assertIs(after.evaluation.trials[0], older.evaluation.trials[0])
            self.assertEqual(after.evaluation.comparison, alone.comparison)
            compared += alone.comparison is not None
        self.assertGreater(compared, 1)

    def test_a_process_that_reads_what_another_added_says_the_same(self) -> None:
        uuid = next(run.uuid for run in self.runs() if "three trials" in run.title)
        other = Database(self.database.url)
        self.addCleanup(other.close)
        for tag in ("popping", "opaque"):
            with other.transaction() as session:
                before = Visit(session, self.clock.now).run(uuid)
                _ = said(before)
            self.client = self.signed_in(self.app, "demo")
            self.post(f"/api/runs/{uuid}/observations", {"uuid": str(uuid4()), "tag": tag, "trial": "1"})
            with other.transaction() as session:
                found = Visit(session, self.clock.now).run(uuid)
            with Database(self.database.url).transaction() as session:
                whole = Visit(session, self.clock.now).run(uuid)
            self.assertEqual(found.version, whole.version)
            self.assertEqual(
                (found.trials[0].readings, found.observations), (whole.trials[0].readings, whole.observations)
            )
            self.assertEqual(dict(found.upto), dict(whole.upto))
            self.assertEqual(said(found), said(whole))
