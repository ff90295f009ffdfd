"""How long steps took, from the record: by hand for a run whose every tap is known."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from claykettle.store.paces import durations
from claykettle.store.runs import Whose
from tests.support.server import AppCase


class Paces(AppCase):
    def mark(self, run: Any, step: str, kind: str, after: float) -> str:
        """Mark a step so many minutes later; the mark's UUID."""
        self.clock.move(minutes=after)
        uuid = str(uuid4())
        self.post(f"/api/runs/{run['uuid']}/steps", {"uuid": uuid, "step": step, "kind": kind})
        return uuid

    def found(self, method: str = "hydrate") -> dict[str, list[float]]:
        """By step the minutes."""
        with self.database.transaction() as session:
            rows = durations(session, Whose(), method)
        return {name: [round(one, 2) for one in times] for name, times in rows.items()}

    def test_a_step_lasts_from_its_timer_or_from_what_was_done_before_it(self) -> None:
        run = self.start()
        self.mark(run, "fire", "started", 1)
        self.mark(run, "fire", "finished", 15.5)
        self.clock.move(minutes=2)
        self.weigh(run, "vessel", "31.204")
        self.clock.move(minutes=3)
        self.weigh(run, "vessel_sample", "32.861")
        # no timer: from the weighing before
        self.mark(run, "heat#1", "finished", 9)
        self.clock.move(minutes=11)
        self.weigh(run, "vessel_residue", "32.151")
        self.mark(run, "heat#2", "finished", 4)
        self.clock.move(minutes=11)
        self.weigh(run, "vessel_residue", "32.136", 2)
        self.mark(run, "heat#3", "finished", 5)
        self.assertEqual(self.found(), {"fire": [15.5], "heat#1": [9.0], "heat#2": [4.0, 5.0]})
        self.assertEqual(self.found("synthesis"), {})

    def test_what_was_taken_back_and_what_no_hand_does_counts_not(self) -> None:
        run = self.start()
        self.mark(run, "fire", "started", 1)
        taken = self.mark(run, "fire", "finished", 0.5)
        self.post(f"/api/runs/{run['uuid']}/undo", {"uuid": str(uuid4()), "row": taken})
        self.mark(run, "fire", "finished", 14)
        other = self.start()
        self.mark(other, "fire", "started", 1)
        self.mark(other, "fire", "finished", 600)
        self.assertEqual(self.found(), {"fire": [14.5]})
