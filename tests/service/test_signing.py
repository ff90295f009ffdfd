"""The hash of a record: every letter of what was recorded counts, the order of the rows does not."""

from __future__ import annotations

import unittest
from dataclasses import fields, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.methods.registry import method_named, shipped_procedures
from claykettle.service.views.signatures import signature_views
from claykettle.store.records import (
    StoredChange,
    StoredObservation,
    StoredProcedure,
    StoredReading,
    StoredRun,
    StoredSignature,
    StoredStepEvent,
    StoredTrial,
    StoredWithdrawal,
)
from claykettle.store.sealing import record_hash

HYDRATE = method_named("hydrate")
COURSE = next(row for row in shipped_procedures() if row.method == "hydrate")
AT = datetime(2026, 11, 24, 17, 30, 0, 123456, tzinfo=UTC)


def reading(uuid: str = "r1", **more: Any) -> StoredReading:
    """A weighing."""
    row = StoredReading(uuid, "vessel", 1, 0, None, "31.204", "g", "Balance A", AT, "Marl", "", "")
    return replace(row, **more)


SEEN = StoredObservation("o1", "1", AT, "Marl", "popping", "")


def run(*readings: StoredReading, seen: tuple[StoredObservation, ...] = (SEEN,), **more: Any) -> StoredRun:
    """A run of one trial with these rows."""
    stored = StoredRun(
        section_id=1,
        is_practised=False,
        day_id=1,
        bench_id=1,
        id=1,
        uuid="u",
        version=3,
        title="Zinc sulfate",
        note="",
        method=HYDRATE,
        options=HYDRATE.options(salt=parse_formula("ZnSO4")),
        written_options={"salt": "ZnSO4"},
        schools={"vessel": "dish"},
        instruments={"balance": {"name": "Balance A", "half_width": "0.001 g"}},
        planned={},
        balance="Balance A",
        changed_at=AT,
        bench="Marl",
        section="Evening",
        date=date(2026, 11, 24),
        procedure=StoredProcedure(1, "hydrate", 3, COURSE),
        trials=(StoredTrial(1, 1, "1", readings),),
        observations=seen,
    )
    return replace(stored, **more)


class OfARecord(unittest.TestCase):
    COVERS = ("r1", "r2", "o1")

    def hash(self, *readings: StoredReading, **more: Any) -> str:
        """The hash over these rows, as the signature covers them."""
        return record_hash(run(*readings, **more), self.COVERS)

    def setUp(self) -> None:
        self.before = self.hash(reading(), reading("r2", position=2))

    def test_it_is_a_sha_256(self) -> None:
        self.assertRegex(self.before, r"^[0-9a-f]{64}$")

    def test_every_field_of_a_reading_counts(self) -> None:
        others: dict[str, Any] = {
            "slot": "vessel_sample", "position": 2, "revision": 1, "supersedes": "r0", "text": "31.2040", "unit": "mg",
            "instrument": "Balance B", "at": AT + timedelta(microseconds=1), "by": "Terra", "reason": "digits swapped",
            "doubt": "really?", "half_width": "0.01 g", "state": "withdrawn",
        }  # fmt: skip
        self.assertEqual(set(others) | {"uuid"}, {row.name for row in fields(StoredReading)})
        for name, other in others.items():
            with self.subTest(name):
                changed = self.hash(reading(**{name: other}), reading("r2", position=2))
                self.assertNotEqual(changed, self.before)

    def test_every_field_of_an_observation_counts(self) -> None:
        others: dict[str, Any] = {
            "trial": "2", "at": AT + timedelta(seconds=1), "by": "Terra", "tag": "opaque", "text": "at the rim",
        }  # fmt: skip
        self.assertEqual(set(others) | {"uuid"}, {row.name for row in fields(StoredObservation)})
        for name, other in others.items():
            with self.subTest(name):
                seen = (replace(SEEN, **{name: other}),)
                changed = self.hash(reading(), reading("r2", position=2), seen=seen)
                self.assertNotEqual(changed, self.before)

    def test_how_the_run_was_started_counts(self) -> None:
        for name, other in (
            ("title", "Zinc"),
            ("note", "from the new bag"),
            ("method", method_named("combination")),
            ("written_options", {"salt": "MgSO4"}),
            ("schools", {"vessel": "crucible"}),
            ("instruments", {}),
            ("procedure", StoredProcedure(1, "hydrate", 4, COURSE)),
        ):
            with self.subTest(name):
                changed = self.hash(reading(), reading("r2", position=2), **{name: other})
                self.assertNotEqual(changed, self.before)

    def test_every_field_of_a_step_of_a_change_and_of_what_was_taken_back_counts(self) -> None:
        event = StoredStepEvent("e1", "1", "heat#1", "finished", 0, AT, "Marl", 1, "")
        change = StoredChange("c1", "options.salt", "ZnSO4", "MgSO4", "wrong jar", AT, "Marl")
        gone = StoredWithdrawal("w1", "e1", "slip", AT, "Marl")
        rows: dict[str, Any] = {"step_events": (event,), "changes": (change,), "withdrawals": (gone,)}
        covers = (*self.COVERS, "e1", "c1", "w1")
        whole = record_hash(run(reading(), **rows), covers)
        later = AT + timedelta(microseconds=1)
        for name, row, others in (
            ("step_events", event, {"trial": "2", "step": "heat#2", "kind": "skipped", "seconds": 60, "count": 2}),
            ("changes", change, {"what": "options.accepted", "before": None, "after": "CaSO4"}),
            ("withdrawals", gone, {"row_uuid": "o1"}),
        ):
            for field, other in {**others, "at": later, "by": "Terra", "reason": "because"}.items():
                with self.subTest(name, field=field):
                    changed = record_hash(run(reading(), **rows | {name: (replace(row, **{field: other}),)}), covers)
                    self.assertNotEqual(changed, whole)
            self.assertNotEqual(record_hash(run(reading(), **rows | {name: ()}), covers), whole)

    def test_what_was_decided_otherwise_since_leaves_it_as_it_was(self) -> None:
        changes = (
            StoredChange("c1", "options.salt", "ZnSO4", "MgSO4", "wrong jar", AT, ""),
            StoredChange("c2", "options.accepted", None, "MgSO4·7H2O", "label", AT, ""),
            StoredChange("c3", "balance", "Balance A", "Balance B", "wrong one", AT, ""),
        )
        since = {
            "changes": changes, "balance": "Balance B",
            "written_options": {"salt": "MgSO4", "accepted": "MgSO4·7H2O"},
        }  # fmt: skip
        for form in (1, 2):
            with self.subTest(form):
                before = record_hash(run(reading()), self.COVERS, form)
                self.assertEqual(record_hash(run(reading(), **since), self.COVERS, form), before)

    def test_the_trial_of_a_reading_counts(self) -> None:
        rows = (reading(), reading("r2", position=2))
        moved = run(trials=(StoredTrial(1, 1, "2", rows),))
        self.assertNotEqual(record_hash(moved, self.COVERS), self.before)

    def test_the_order_of_the_rows_does_not(self) -> None:
        self.assertEqual(self.hash(reading("r2", position=2), reading()), self.before)

    def test_what_it_does_not_cover_does_not(self) -> None:
        later = reading("r3", position=3)
        self.assertEqual(self.hash(reading(), reading("r2", position=2), later), self.before)
        self.assertEqual(self.hash(reading(), reading("r2", position=2), version=9, changed_at=AT), self.before)

    def test_a_row_taken_away_does(self) -> None:
        self.assertNotEqual(self.hash(reading()), self.before)


class OfAChain(unittest.TestCase):
    def test_a_seal_that_was_made_up_does_not_hold(self) -> None:
        record = record_hash(run(reading()), ("r1", "o1"))
        forged = StoredSignature("s1", "Flint", AT, ("r1", "o1"), {"1": "no result yet"}, record, "0" * 64)
        (view,) = signature_views(run(reading(), signatures=(forged,)))
        self.assertFalse(view.holds)
        self.assertEqual((view.later, view.changed), (0, False))
