"""Steps of a record: marked, skipped with a reason, told by the evaluation, taken along and brought back."""

from __future__ import annotations

import csv
import io
from typing import Any
from uuid import uuid4

from tests.support.server import AppCase


class Steps(AppCase):
    def mark(self, run: Any, step: str, kind: str = "finished", status: int = 200, **more: Any) -> Any:
        body = {"uuid": str(uuid4()), "step": step, "kind": kind, **more}
        return self.post(f"/api/runs/{run['uuid']}/steps", body, status)

    def state(self, run: Any, key: str) -> str:
        return str(next(row for row in run["steps"] if row["key"] == key)["state"])

    def codes(self, run: Any) -> set[str]:
        return {row["code"] for row in run["trial"]["verdicts"]}

    def heated(self, run: Any, number: int, text: str, cooled: float = 11) -> Any:
        """A round of heating, its cooling, its weighing."""
        self.clock.move(minutes=8)
        self.mark(run, f"heat#{number}")
        self.clock.move(minutes=cooled)
        return self.weigh(run, "vessel_residue", text, number)

    def test_an_honest_run_is_settled(self) -> None:
        run = self.weigh_all(self.start(options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}))
        for number, text in enumerate(("32.151", "32.136", "32.134"), start=1):
            run = self.heated(run, number, text)
        self.assertEqual((run["answer"]["standing"]["level"], run["answer"]["standing"]["word"]), ("good", "agrees"))

    def test_weighed_a_minute_after_the_flame_went_out(self) -> None:
        """The cooling timer of ten minutes begins by itself when the flame is out; the green state is not given."""
        run = self.weigh_all(self.start(options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}))
        for number, text in enumerate(("32.151", "32.136"), start=1):
            run = self.heated(run, number, text)
        run = self.heated(run, 3, "32.134", cooled=1)
        self.assertIn("weighed-warm", self.codes(run))
        self.assertEqual(run["answer"]["standing"]["level"], "watch")
        self.assertIn("9 min before", run["answer"]["standing"]["why"])

    def test_typing_marks_nothing_as_done(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        self.assertEqual(self.state(run, "fire"), "passed")
        run = self.mark(self.start(), "fire")
        self.assertEqual(self.state(run, "fire"), "done")

    def test_a_skipped_step_lets_the_work_go_on_and_is_told(self) -> None:
        run = self.start(
            title="Blanc fixe", method="precipitation",
            options={
                "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
                "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
            },
        )  # fmt: skip
        self.weigh(run, "reagent_1", "1.032")
        run = self.weigh(run, "reagent_2", "21.5")
        for step in ("predict", "dissolve_warm", "mix"):
            run = self.mark(run, step)
        run = self.mark(run, "label_paper", "skipped", reason="no pencil", by="Marl")
        self.assertEqual(next(row for row in run["steps"] if row["state"] == "now")["key"], "weigh_paper")
        run = self.weigh(run, "paper", "0.908")
        found = next(row for row in run["trial"]["verdicts"] if row["code"] == "step-missed")
        self.assertIn("skipped (no pencil)", found["text"])

    def test_they_are_taken_along_and_come_back(self) -> None:
        run = self.weigh_all(self.start())
        self.heated(run, 1, "32.151")
        self.mark(run, "weigh_residue#2", "skipped", reason="balance in use", by="Marl")
        first = self.get(f"/api/runs/{run['uuid']}/run-file")
        kinds = [(row["step"], row.get("round", 1), row["kind"]) for row in first["steps"]]
        self.assertIn(("heat", 1, "done"), kinds)
        self.assertIn(("weigh_residue", 1, "started"), kinds)
        self.assertEqual(first["steps"][-1]["reason"], "balance in use")
        self.assertEqual(first["steps"][-1]["by"], "Marl (kiln)")
        answer = self.client.post("/api/runs/import", json=first)
        self.assertEqual(answer.status_code, 201, answer.text)
        again = self.get(f"/api/runs/{answer.json['uuid']}/run-file")
        self.assertEqual(again["steps"], first["steps"])
        self.assertEqual(self.state(self.get(f"/api/runs/{answer.json['uuid']}"), "heat#1"), "done")

    def test_the_log_and_the_table_tell_them(self) -> None:
        run = self.start()
        self.mark(run, "fire", "skipped", reason="fired this morning", by="Marl")
        self.weigh_all(run)
        self.heated(run, 1, "32.151")
        rows = self.get(f"/api/runs/{run['uuid']}/steps")["marks"]
        told = [(row["title"], row["kind"], row["reason"], row["by"]) for row in rows]
        self.assertEqual(told[0], ("Vessel fired and cooled", "skipped", "fired this morning", "Marl (kiln)"))
        self.assertEqual(told[1][:2], ("Heated, round 1", "done"))
        self.assertEqual(told[2][:2], ("After heating 1", "started"))
        table = list(csv.DictReader(io.StringIO(self.client.get(f"/api/runs/{run['uuid']}/csv").text)))
        steps = [(row["name"], row["position"], row["text"], row["reason"]) for row in table if row["kind"] == "step"]
        self.assertEqual(steps[:2], [("fire", "1", "skipped", "fired this morning"), ("heat", "1", "done", "")])
        self.get(f"/api/runs/{uuid4()}/steps", 404)

    def test_what_is_no_kind_of_mark_is_refused(self) -> None:
        self.assertIn("kind", str(self.mark(self.start(), "fire", "sung", status=422)))
