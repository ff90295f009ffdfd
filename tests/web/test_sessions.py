"""A class that goes on on another day: the same runs where they stood, nothing counted for the days between."""

from __future__ import annotations

import re
from typing import Any

from tests.web.test_lab import LabCase

THURSDAY, NEXT = "2026-11-24", "2026-12-01"


class Again(LabCase):
    def again(self, date: str = NEXT, status: int = 200, **more: str) -> Any:
        """Let the class go on."""
        body = {"date": date, "starts": "18:30", "length": "90 min"} | more
        return self.post(f"/api/classes/{self.number}/sessions", body, status)

    def next_week(self, hours: float = 0.75) -> None:
        """A week later, the class has begun so long ago."""
        self.clock.move(days=7, hours=hours)
        self.client = self.signed_in(self.app)

    def test_board_code_and_benches_are_those_of_the_class_and_no_day_between_counts(
        self,
    ) -> None:
        self.loaded("Flint")
        self.done("Flint", "heat#1", "started")
        self.again()
        self.next_week()
        found = self.get("/api/classes/0/changes")
        self.assertEqual((self.number, NEXT), (found["head"]["id"], found["head"]["date"]))
        told = (found["head"]["begins"], found["head"]["ends"])
        self.assertEqual(("2026-12-01T18:30:00Z", "2026-12-01T20:00:00Z"), told)
        # its hour has come only now: nobody is called for a week of heating before it
        self.assertEqual("The class begins at 18:30.", found["calls"]["said"])
        self.clock.move(minutes=20)
        flint = self.tablet("Flint")
        self.typed("Flint", "vessel_residue", "46.739")
        self.assertEqual(3, len(flint.get(f"/api/runs/{self.runs['Flint']}").json["readings"]))
        reasons = [row["reason"] for row in self.get("/api/classes/0/changes")["calls"]["go"]]
        self.assertEqual([], [text for text in reasons if re.search(r"\d{3,} min", text)])

    def test_without_a_further_session_the_next_week_has_a_day_of_its_own(self) -> None:
        self.next_week()
        self.assertNotEqual(self.number, self.get("/api/classes/0/changes")["head"]["id"])

    def test_it_is_seen_with_the_class_and_taken_out_again(self) -> None:
        found = self.again()
        self.assertEqual([{"date": NEXT, "starts": "18:30", "length_min": 90}], found["sessions"])
        self.assertEqual(200, self.client.delete(f"/api/classes/{self.number}/sessions/{NEXT}").status_code)
        self.assertEqual([], self.get(f"/api/classes/{self.number}")["sessions"])
        for day in (NEXT, "2026-99-99"):
            with self.subTest(day):
                self.assertEqual(404, self.client.delete(f"/api/classes/{self.number}/sessions/{day}").status_code)

    def test_a_closed_class_is_opened_by_its_next_code(self) -> None:
        self.again()
        self.post("/api/class/closed", {"closed": True})
        self.next_week()
        self.assertEqual("Flint", self.tablet("Flint").get("/api/session").json["bench"])

    def test_more_time_is_given_to_the_session_that_is_held_and_to_no_other(self) -> None:
        self.post(f"/api/classes/{self.number}/end", {"minutes": 30})
        first = self.board()["head"]["ends"]
        self.again()
        self.again("2026-12-08")
        head = self.board()["head"]
        self.assertEqual((30, first), (head["more_min"], head["ends"]))
        self.next_week()
        self.assertEqual("2026-12-01T20:00:00Z", self.board()["head"]["ends"])
        head = self.post(f"/api/classes/{self.number}/end", {"minutes": 20})["head"]
        self.assertEqual((20, "2026-12-01T20:20:00Z"), (head["more_min"], head["ends"]))
        self.next_week(0.25)
        self.assertEqual(0, self.board()["head"]["more_min"])

    def test_days_hours_and_lengths_that_cannot_be(self) -> None:
        for more, path in (
            ({"date": THURSDAY}, "date"), ({"date": "2026-11-20"}, "date"), ({"date": "soon"}, "date"),
            ({"date": "2031-01-01"}, "date"), ({"starts": "half past six"}, "starts"), ({"length": "long"}, "length"),
            ({"length": "0 min"}, "length"), ({"length": "3 d"}, "length"),
        ):  # fmt: skip
            with self.subTest(more):
                body = {"date": NEXT, "starts": "18:30", "length": "90 min"} | more
                problem = self.post(f"/api/classes/{self.number}/sessions", body, 422)
                self.assertEqual([path], [row["path"] for row in problem["faults"]])
        self.again()
        self.assertEqual("date", self.again(status=422)["faults"][0]["path"])
