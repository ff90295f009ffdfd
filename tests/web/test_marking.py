"""A class's own figures, marked: the latest sheet of each, with what went wrong first."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from tests.web.test_revealing import OWN, RevealCase


class Marked(RevealCase):
    def marking(self, number: int | None = None, status: int = 200) -> Any:
        """The class, marked."""
        return self.get(f"/api/classes/{self.number if number is None else number}/marking", status)

    def sheets(self, bench: str = "Flint") -> Any:
        """The sheets of a bench."""
        return next(row for row in self.marking()["benches"] if row["name"] == bench)["sheets"]

    def test_every_bench_in_the_order_of_the_room_and_its_sheet_marked(self) -> None:
        """1.780 g to 0.999 g: 0.781 g of water are 43.35 mmol, over 0.999/161.43 = 6.188 mmol 7.005."""
        self.settled("Flint")
        self.hand_in(student="Ada Quill")
        found = self.marking()
        self.assertEqual(["Bench 1", "China", "Flint", "Grog"], [row["name"] for row in found["benches"]])
        self.assertEqual((1, "Zinc"), (found["handed"], found["title"]))
        (sheet,) = self.sheets()
        self.assertEqual(("Ada Quill", 5, 5, ""), (sheet["student"], sheet["marks"], sheet["of"], sheet["first_wrong"]))
        self.assertEqual(
            [("water_mass", 3, "right"), ("water_ratio", 7, "right"), ("formula", 0, "right")],
            [(row["name"], row["number"], row["status"]) for row in sheet["lines"]],
        )

    def test_a_slip_is_told_where_it_first_went_wrong(self) -> None:
        self.settled("Flint")
        self.hand_in(claims=OWN | {"water_mass": "0.871 g", "water_ratio": "7.81"})
        (sheet,) = self.sheets()
        self.assertEqual(("water_mass", 4), (sheet["first_wrong"], sheet["marks"]))
        lines = {row["name"]: row for row in sheet["lines"]}
        self.assertEqual(("wrong", "digits-swapped"), (lines["water_mass"]["status"], lines["water_mass"]["slip"]))
        self.assertEqual("follows", lines["water_ratio"]["status"])

    def test_the_latest_of_each_student_counts_and_a_corrected_reading_marks_anew(self) -> None:
        self.settled("Flint")
        self.hand_in(student="Ada Quill", claims=OWN | {"water_ratio": "6.0"})
        self.hand_in(student="Bo Thrush")
        self.hand_in(student="Ada Quill")
        found = self.sheets()
        self.assertEqual([("Bo Thrush", 5), ("Ada Quill", 5)], [(row["student"], row["marks"]) for row in found])
        run = self.get(f"/api/runs/{self.runs['Flint']}")
        loaded = next(row for row in run["readings"] if row["slot"] == "vessel_sample")
        body = {"uuid": str(uuid4()), "supersedes": loaded["uuid"], "text": "47.250", "reason": "digits swapped"}
        self.post(f"/api/runs/{self.runs['Flint']}/corrections", body | {"confirmed": True})
        self.assertEqual({"wrong"}, {row["lines"][0]["status"] for row in self.sheets()})

    def test_a_trial_that_was_taken_back_and_nothing_handed_in(self) -> None:
        self.assertEqual([[], [], [], []], [row["sheets"] for row in self.marking()["benches"]])
        self.marking(99999, 404)

    def test_figures_of_a_bench_s_other_run_of_the_class_are_not_lost(self) -> None:
        self.settled("Flint")
        self.hand_in(student="Ada Quill")
        first = self.runs["Flint"]
        benches = {row["name"]: row["id"] for row in self.get("/api/shelf")["benches"]}
        self.runs["Flint"] = self.start(bench_id=benches["Flint"])["uuid"]
        self.settled("Flint", "46.800")
        self.hand_in(
            self.client,
            student="Ada Quill",
            claims={"water_mass": "0.720 g", "water_ratio": "6.4", "formula": "ZnSO4.6.5H2O"},
        )
        found = [(row["run"], row["lines"][0]["true"], row["lines"][0]["status"]) for row in self.sheets()]
        self.assertEqual([(first, "0.78100 g", "right"), (self.runs["Flint"], "0.72000 g", "right")], found)
        self.assertEqual(2, self.marking()["handed"])

    def test_only_for_who_teaches_the_section(self) -> None:
        path = f"/api/classes/{self.number}/marking"
        self.assertEqual(403, self.flint.get(path).status_code)
        self.assertEqual(401, self.app.test_client().get(path).status_code)
        self.assertEqual(403, self.projector(True).get(path).status_code)
