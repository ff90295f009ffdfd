"""Two partners sign a record: it covers what stood there, says what came after, and shows where a row was changed."""

from __future__ import annotations

import csv
import io
from typing import Any
from uuid import uuid4

from sqlalchemy import text

from tests.support.server import AppCase, scene


class Signing(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        self.run_view = self.weigh_all(self.start(), "32.151", "32.136", "32.134")
        self.uuid = self.run_view["uuid"]

    def sign(self, name: str, status: int = 200, **more: Any) -> Any:
        body = {"uuid": str(uuid4()), "name": name}
        return self.post(f"/api/runs/{self.uuid}/signatures", body | more, status)

    def alter(self, statement: str) -> None:
        """Change a row past the application, which remembers the run as it was."""
        with self.database.engine.begin() as connection:
            connection.execute(text(statement))

    def signatures(self) -> Any:
        return self.get(f"/api/runs/{self.uuid}")["signatures"]

    def test_both_partners_stand_below_the_answer_that_they_saw(self) -> None:
        self.sign("Marl")
        self.clock.move(minutes=2)
        found = self.sign("  Terra ")["signatures"]
        self.assertEqual([row["name"] for row in found], ["Marl (kiln)", "Terra (kiln)"])
        self.assertEqual([(row["holds"], row["later"], row["changed"]) for row in found], [(True, 0, False)] * 2)
        self.assertIn(self.run_view["answer"]["headline"], found[0]["results"][0])
        self.assertEqual(found[0]["fingerprint"], found[1]["fingerprint"])
        self.assertGreater(found[1]["at"], found[0]["at"])

    def test_the_same_request_twice_signs_once(self) -> None:
        uuid = str(uuid4())
        self.sign("Marl", uuid=uuid)
        self.assertEqual(len(self.sign("Marl", uuid=uuid)["signatures"]), 1)

    def test_a_signature_says_what_is_wrong_with_it_at_its_field(self) -> None:
        self.sign("Marl")
        for name, code in (("   ", "empty"), ("marl", "signed-already")):
            with self.subTest(name):
                fault = self.sign(name, 422)["faults"][0]
                self.assertEqual((fault["path"], fault["code"]), ("name", code))
        self.uuid = self.start(title="Empty")["uuid"]
        self.assertEqual(self.sign("Marl", 422)["faults"][0]["code"], "nothing-to-sign")
        self.assertEqual(self.get(f"/api/runs/{self.uuid}")["signatures"], [])

    def test_a_record_bears_twenty_signatures(self) -> None:
        for number in range(20):
            self.sign(f"Partner {number}")
        self.assertEqual(self.sign("One more", 422)["faults"][0]["code"], "too-many")

    def test_a_correction_afterwards_is_kept_and_told_at_the_signature(self) -> None:
        before = self.sign("Marl")["signatures"][0]
        self.clock.move(minutes=5)
        old = next(row for row in self.run_view["readings"] if row["slot"] == "vessel_sample")
        body = {"uuid": str(uuid4()), "supersedes": old["uuid"], "text": "32.816", "reason": "digits swapped"}
        found = self.post(f"/api/runs/{self.uuid}/corrections", body)["signatures"][0]
        self.assertEqual((found["holds"], found["later"], found["changed"]), (True, 1, True))
        self.assertEqual((found["results"], found["fingerprint"]), (before["results"], before["fingerprint"]))
        again = self.sign("Marl")["signatures"]
        self.assertEqual([row["later"] for row in again], [1, 0])
        self.assertNotEqual(again[0]["fingerprint"], again[1]["fingerprint"])
        self.assertEqual([row["holds"] for row in again], [True, True])

    def test_an_observation_afterwards_counts_as_an_entry(self) -> None:
        self.sign("Marl")
        body = {"uuid": str(uuid4()), "tag": "popping", "trial": "1"}
        found = self.post(f"/api/runs/{self.uuid}/observations", body)["signatures"][0]
        self.assertEqual((found["later"], found["changed"]), (1, False))

    def test_a_row_changed_past_the_log_is_found(self) -> None:
        self.sign("Marl")
        self.sign("Terra")
        self.alter("UPDATE reading SET text = '32.135' WHERE text = '32.134'")
        self.assertEqual([row["holds"] for row in self.signatures()], [False, False])

    def test_a_row_taken_away_is_found(self) -> None:
        self.sign("Marl")
        self.alter("DELETE FROM reading WHERE text = '32.134'")
        self.assertEqual([row["holds"] for row in self.signatures()], [False])

    def test_a_signature_rewritten_or_taken_away_is_found(self) -> None:
        for statement, left in (
            ("UPDATE signature SET name = 'Flint' WHERE name = 'Marl (kiln)'", [False, True]),
            ("DELETE FROM signature WHERE name = 'Flint'", [False]),
        ):
            with self.subTest(statement):
                if not self.signatures():
                    self.sign("Marl")
                    self.sign("Terra")
                self.alter(statement)
                self.assertEqual([row["holds"] for row in self.signatures()], left)

    def test_a_run_that_was_never_signed_holds_no_signature_after_a_reading(self) -> None:
        self.assertEqual(self.run_view["signatures"], [])

    def test_exports_say_who_signed_what_and_a_copy_bears_no_signature(self) -> None:
        signed = self.sign("Marl")["signatures"][0]
        document = self.get(f"/api/runs/{self.uuid}/run-file")
        seen = [row for row in document["observations"] if row["tag"] == "signed"]
        self.assertEqual([row["by"] for row in seen], ["Marl (kiln)"])
        self.assertIn(signed["fingerprint"].replace(" ", ""), seen[0]["text"])
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"/api/runs/{self.uuid}/csv").text)))
        self.assertEqual([row["by"] for row in rows if row["name"] == "signed"], ["Marl (kiln)"])
        copy = self.client.post("/api/runs/import", json=document).json
        self.assertEqual(copy["signatures"], [])
        tags = [row["tag"] for row in copy["observations"]]
        self.assertIn("signed elsewhere", tags)
        self.assertNotIn("signed", tags)

    def test_a_file_that_says_somebody_signed_makes_no_signature(self) -> None:
        document = self.get(f"/api/runs/{self.uuid}/run-file")
        at = "2026-11-24T18:00:00Z"
        row = {"text": "all of it", "by": "Marl", "at": at}
        document["observations"] = [{"tag": "signed", **row}, {"tag": " SIGNED ", **row}]
        copy = self.client.post("/api/runs/import", json=document).json
        again = self.get(f"/api/runs/{copy['uuid']}/run-file")
        self.assertEqual([row["tag"] for row in again["observations"]], ["signed elsewhere"] * 2)
        self.assertEqual([row["by"] for row in again["observations"]], ["Marl"] * 2)

    def test_an_observation_cannot_pose_as_a_signature(self) -> None:
        body = {"uuid": str(uuid4()), "tag": " Signed", "text": "by all", "by": "Marl"}
        fault = self.post(f"/api/runs/{self.uuid}/observations", body, 422)["faults"][0]
        self.assertEqual((fault["path"], fault["code"]), ("tag", "reserved"))

    def test_every_trial_stands_with_its_own_answer(self) -> None:
        self.post(f"/api/runs/{self.uuid}/trials", {"label": "2"})
        self.weigh(self.run_view, "vessel", "29.412", trial="2")
        results = self.sign("Marl")["signatures"][0]["results"]
        self.assertEqual(results[1], "2: no result yet")
        self.assertTrue(results[0].startswith("1: "), results)


class TwoAtOnce(AppCase):
    def test_a_partner_who_signs_at_the_same_moment_is_chained_behind_the_first(self) -> None:
        """Another process signed between: what this one remembered is old, and is read again under a lock."""
        run = self.weigh_all(self.start(), "32.151", "32.136", "32.134")
        path = f"/api/runs/{run['uuid']}/signatures"
        self.post(path, {"uuid": str(uuid4()), "name": "Marl"})
        with self.database.engine.begin() as connection:
            connection.execute(text("UPDATE run SET version = version + 1"))
        found = self.post(path, {"uuid": str(uuid4()), "name": "Terra"})["signatures"]
        self.assertEqual(
            [(row["name"], row["holds"]) for row in found], [("Marl (kiln)", True), ("Terra (kiln)", True)]
        )
