"""A class's own figures, marked: the sheet of each that counts, with what went wrong first."""

from __future__ import annotations

from datetime import timedelta
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

    def choose(self, sheet: str, choice: str, status: int = 200) -> Any:
        """What an instructor chooses of a sheet."""
        body = {"uuid": str(uuid4()), "sheet": sheet, "choice": choice}
        return self.post(f"/api/classes/{self.number}/sheets", body, status)

    def give_back(self, sheet: str) -> Any:
        """A sheet returned."""
        return self.post(f"/api/classes/{self.number}/given-back", {"uuid": str(uuid4()), "sheets": [sheet]}, 200)

    def test_the_first_of_each_student_counts_until_another_version_is_chosen(self) -> None:
        self.settled("Flint")
        self.hand_in(student="Ada Quill", claims=OWN | {"water_ratio": "6.0"})
        self.hand_in(student="Bo Thrush")
        self.hand_in(student="Ada Quill")
        ada, bo = self.sheets()
        self.assertEqual(("Ada Quill", 2, 3), (ada["student"], ada["lines"][1]["of"], ada["marks"]))
        self.assertEqual(("Bo Thrush", 5, []), (bo["student"], bo["marks"], bo["versions"]))
        told = [(row["number"], row["marks"], row["counts"]) for row in ada["versions"]]
        self.assertEqual([(1, 3, True), (2, 5, False)], told)
        first, second = (row["uuid"] for row in ada["versions"])
        for chosen, marks in ((second, 5), (first, 3), (second, 5)):
            self.choose(chosen, "counts")
            self.assertEqual((chosen, marks), (self.sheets()[0]["uuid"], self.sheets()[0]["marks"]))
        self.assertEqual(2, len(self.sheets()))
        # once it went back neither a version nor a choice changes it
        self.give_back(second)
        self.assertEqual("returned", self.choose(first, "counts", 422)["faults"][0]["code"])
        self.assertEqual("returned", self.choose(second, "now", 422)["faults"][0]["code"])
        self.hand_in(student="Ada Quill", status=422)
        self.assertEqual(5, self.sheets()[0]["marks"])
        self.choose(str(uuid4()), "counts", 404)

    def test_a_sheet_is_marked_against_the_readings_that_its_student_had(self) -> None:
        """47.520 g becomes 47.250 g afterwards: 0.511 g of water are none of theirs."""
        self.settled("Flint")
        self.hand_in(student="Ada Quill")
        self.assertEqual((5, "then", []), tuple(self.sheets()[0][key] for key in ("marks", "against", "later")))
        self.clock.now += timedelta(minutes=3)
        run = self.get(f"/api/runs/{self.runs['Flint']}")
        loaded = next(row for row in run["readings"] if row["slot"] == "vessel_sample")
        body = {"uuid": str(uuid4()), "supersedes": loaded["uuid"], "text": "47.250", "reason": "digits swapped"}
        self.post(f"/api/runs/{self.runs['Flint']}/corrections", body | {"confirmed": True})
        (sheet,) = self.sheets()
        self.assertEqual((5, "then"), (sheet["marks"], sheet["against"]))
        (later,) = sheet["later"]
        self.assertIn("was corrected to 47.250 g after this sheet came in: digits swapped", later)
        # the instructor may hold it against the corrected ones, and go back
        self.choose(sheet["uuid"], "now")
        self.assertEqual(("wrong", "now"), (self.sheets()[0]["lines"][0]["status"], self.sheets()[0]["against"]))
        self.choose(sheet["uuid"], "then")
        self.assertEqual((5, "then"), (self.sheets()[0]["marks"], self.sheets()[0]["against"]))
        # a sheet that comes in after the correction is held against what stands then
        self.hand_in(student="Bo Thrush")
        self.assertEqual("wrong", self.sheets()[1]["lines"][0]["status"])

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
