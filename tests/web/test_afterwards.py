"""Drying, substances and waste over HTTP."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from tests.core.test_sizing import OPTIONS
from tests.support.server import AppCase, scene

ADDED = {"formula": "RuCl3.3H2O", "name": "ruthenium(III) chloride trihydrate", "hazards": "May cause cancer\nAllergy"}


class Substances(AppCase):
    def add(self, status: int = 200, **more: Any) -> Any:
        """Add ruthenium chloride, or what `more` says of it."""
        return self.post("/api/substances", {"uuid": str(uuid4())} | ADDED | more, status)

    def row(self, register: Any, formula: str = "RuCl3·3H2O") -> Any:
        """One row of the register."""
        return next(row for row in register["substances"] if row["formula"] == formula)

    def test_an_addition_stands_in_the_register(self) -> None:
        before = len(self.get("/api/substances")["substances"])
        found = self.row(self.add(density="1,92 g/mL", source="label of the jar"))
        self.assertEqual(found["hazards"], ["May cause cancer", "Allergy"])
        self.assertEqual((found["dissolved"], found["own"], found["density"]), ("", True, "1.92"))
        self.assertEqual(len(self.get("/api/substances")["substances"]), before + 1)

    def test_the_same_number_twice_adds_one(self) -> None:
        number = str(uuid4())
        self.add(uuid=number)
        self.add(uuid=number)
        self.add(409, uuid=number, name="something else")
        rows = [row for row in self.get("/api/substances")["substances"] if row["own"]]
        self.assertEqual([row["name"] for row in rows], [ADDED["name"]])

    def test_the_latest_of_a_formula_counts_and_nothing_is_changed(self) -> None:
        self.add()
        self.assertEqual(self.row(self.add(dissolved="heavy_metal"))["dissolved"], "Bottle for heavy-metal solutions")

    def test_every_fault_at_once_and_at_its_field(self) -> None:
        answer = self.add(
            422, formula="NiCx2", name=" ", hazards="  ; ", density="heavy", dissolved="sink", solid="OPEN"
        )
        paths = [row["path"] for row in answer["faults"]]
        self.assertEqual(sorted(paths), ["density", "dissolved", "formula", "hazards", "name", "solid"])
        self.assertIn("none known", next(row["message"] for row in answer["faults"] if row["path"] == "hazards"))

    def test_a_run_says_what_it_works_with_and_what_is_not_known(self) -> None:
        run = self.start(options={"salt": "RuCl3", "accepted": "RuCl3.3H2O"})
        found = self.get(f"/api/runs/{run['uuid']}/substances")
        self.assertEqual((found["substances"], found["unknown"]), ([], ["RuCl3", "RuCl3·3H2O"]))
        self.add()
        found = self.get(f"/api/runs/{run['uuid']}/substances")
        self.assertEqual([row["formula"] for row in found["substances"]], ["RuCl3"])
        self.assertEqual(found["unknown"], [])

    def test_the_plan_and_the_stock_desk_say_what_it_does(self) -> None:
        plan = {"method": "precipitation", "options": OPTIONS["precipitation"]}
        self.assertIn(
            "barium chloride dihydrate: poisonous if swallowed, harmful as dust",
            self.post("/api/plan", plan)["hazards"],
        )
        self.add()
        wish = {"formula": "RuCl3.3H2O", "concentration": "0.1 mol/L", "each": "25 mL"}
        steps = self.post("/api/plan/solution", {"wish": wish})["recipe"]["steps"]
        self.assertTrue(any("May cause cancer" in step["caution"] for step in steps))


class Waste(AppCase):
    def containers(self, path: str) -> dict[str, list[str]]:
        """What goes where."""
        found = self.get(path)
        return {row["name"]: [line["what"] for line in row["lines"]] for row in found["sheet"]["containers"]}

    def lines(self, run: Any) -> dict[str, list[tuple[str, str]]]:
        """Container and amount of everything that a run leaves, by what it is; of a liquid what it holds."""
        found: dict[str, list[tuple[str, str]]] = {}
        for row in self.get(f"/api/runs/{run['uuid']}/waste")["sheet"]["containers"]:
            for line in row["lines"]:
                for held in line["holds"] or [line]:
                    found.setdefault(held["what"], []).append((row["name"], held["amount"]))
        return found

    def test_of_a_run_and_of_its_day(self) -> None:
        first, second = self.start(), self.start(title="Another")
        for run in (first, second):
            self.weigh_all(run, "32.136", "32.134")
        self.assertEqual(self.containers(f"/api/runs/{first['uuid']}/waste")["heavy_metal_solid"], ["ZnSO4"])
        day = self.get("/api/waste")
        self.assertEqual(len(day["runs"]), 2)
        line = next(row for row in day["sheet"]["containers"] if row["name"] == "heavy_metal_solid")["lines"][0]
        self.assertEqual(line["amount"], "1.86 g")
        self.assertEqual(self.get("/api/waste?day=2020-01-01")["runs"], [])

    def test_a_synthesis_sorts_its_product_what_is_left_over_and_its_catalyst(self) -> None:
        """By hand: 14.48 mmol of 52.90 mmol anhydride react; 38.42 mmol, 3.922 g, are left, with as much acid made."""
        reagents = ["C7H6O3", "C4H6O3 1.08 g/mL", "H3PO4 85 % 1.69 g/mL catalyst"]
        equation = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
        run = self.start(method="synthesis", options={"equation": equation, "reagents": reagents})
        for slot, text in (("reagent_1", "2.000"), ("reagent_2", "5.00"), ("reagent_3", "0.25"), ("crude", "2.200")):
            self.weigh(run, slot, text)
        rows = self.lines(run)
        self.assertEqual(rows["C9H8O4"], [("organic_solid", "2.20 g")])
        self.assertEqual(rows["C4H6O3"], [("flammable", "3.92 g")])
        self.assertNotIn("C7H6O3", rows)
        # one liquor, and it burns: its acid goes with it, and stands on the label
        self.assertEqual([place for place, _ in rows["H3PO4"]], ["flammable"])

    def test_a_recrystallization_sorts_crystals_and_liquor(self) -> None:
        run = self.start(method="recrystallization", options={"solute": "KNO3"})
        for slot, text in (("crude", "10.000"), ("solvent", "10.000"), ("crystals", "6.500")):
            self.weigh(run, slot, text)
        self.assertEqual(sorted(amount for _, amount in self.lines(run)["KNO3"]), ["3.50 g", "6.50 g"])

    def test_what_nobody_weighed_is_listed_without_an_amount(self) -> None:
        run = self.start(method="crystal_growth", options={"solute": "KAl(SO4)2.12H2O"})
        self.weigh(run, "volume_1", "25.0")
        ((_, amount),) = self.lines(run)["KAl(SO4)2·12H2O"]
        self.assertNotRegex(amount, r"\d")

    def test_an_unknown_run_is_not_found(self) -> None:
        self.get(f"/api/runs/{uuid4()}/waste", 404)
        self.get("/api/waste?day=yesterday", 422)


class Drying(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        self.run_ = self.start(method="precipitation", options=OPTIONS["precipitation"], title="Blanc fixe")
        for slot, text in (("reagent_1", "1.000"), ("reagent_2", "25.0"), ("paper", "0.912")):
            self.clock.move(minutes=2)
            self.weigh(self.run_, slot, text)

    def finish(self, *steps: str) -> Any:
        """Mark steps done, a minute each."""
        answer: Any = None
        for step in steps:
            self.clock.move(minutes=1)
            body = {"uuid": str(uuid4()), "step": step, "kind": "finished"}
            answer = self.post(f"/api/runs/{self.run_['uuid']}/steps", body)
        return answer

    def see(self, tag: str, text: str = "") -> Any:
        """Note something."""
        self.clock.move(seconds=20)
        body = {"uuid": str(uuid4()), "tag": tag, "text": text, "trial": "1"}
        return self.post(f"/api/runs/{self.run_['uuid']}/observations", body)

    def into_the_oven(self) -> Any:
        """All that comes before the oven."""
        self.finish("fold_quarter", "set_up_gravity", "pour")
        for tag in ("rinse, beaker", "rinse, paper"):
            for _ in range(3):
                self.see(tag)
        return self.finish("wash_test", "lift")

    def test_rinses_are_counted_and_the_third_ends_the_step(self) -> None:
        run = self.finish("fold_quarter", "set_up_gravity", "pour")
        for count in range(3):
            now = next(step for step in run["steps"] if step["state"] == "now")
            self.assertEqual((now["key"], now["counts"]["counted"]), ("rinse_beaker", count))
            run = self.see("rinse, beaker")
        self.assertEqual(next(step for step in run["steps"] if step["state"] == "now")["key"], "rinse_paper")

    def test_what_stands_in_the_oven_is_found_with_since_when_and_where(self) -> None:
        run = self.into_the_oven()
        self.assertEqual(next(step for step in run["steps"] if step["state"] == "now")["key"], "dry_oven#1")
        since = self.clock.now
        self.see("place", "shelf 3, place 2")
        self.clock.move(hours=17)
        (row,) = self.get("/api/drying")["resting"]
        self.assertEqual(row["rest"]["waits_in"], "oven")
        self.assertEqual(row["rest"]["since"], since.isoformat().replace("+00:00", "Z"))
        self.assertEqual(row["rest"]["place"], "shelf 3, place 2")
        self.assertLess(row["due"], self.clock.now.isoformat())
        (listed,) = self.get("/api/runs")["runs"]
        self.assertEqual(listed["rest"], row["rest"])
        # on the board of the day it was laid on, whichever day it is now
        (card,) = self.get(f"/api/classes/{self.run_['day']}/changes")["benches"]
        self.assertEqual(("oven", "shelf 3, place 2", "rests"), (card["rests"], card["place"], card["doing"]))
        self.finish("dry_oven#1")
        self.assertEqual(self.get("/api/drying")["resting"], [])
        self.assertIsNone(self.get("/api/runs")["runs"][0]["rest"])

    def test_the_names_for_papers_say_whether_they_are_weighed(self) -> None:
        self.start(method="precipitation", options=OPTIONS["precipitation"], title="Another")
        names = {row["title"]: row for row in self.get("/api/drying")["names"]}
        self.assertEqual((names["Blanc fixe"]["weighed"], names["Another"]["weighed"]), (True, False))
        self.assertIn("24 Nov", names["Another"]["label"])

    def test_a_method_that_collects_nothing_has_no_paper_to_name(self) -> None:
        self.start(title="Zinc sulfate")
        self.assertEqual([row["title"] for row in self.get("/api/drying")["names"]], ["Blanc fixe"])

    def test_what_was_seen_reaches_the_verdicts(self) -> None:
        run = self.see("still cloudy")
        self.assertIn("unwashed", {row["code"] for row in run["trial"]["verdicts"]})
        run = self.see("washings clear")
        self.assertNotIn("unwashed", {row["code"] for row in run["trial"]["verdicts"]})

    def test_the_last_rinse_counted_starts_the_timer_that_begins_by_itself(self) -> None:
        """Filtered by gravity nothing lies between the last rinse of a recrystallization and its drying."""
        schools = {"filter": "gravity", "drying": "oven"}
        self.run_ = self.start(method="recrystallization", options={"solute": "KNO3"}, title="Nitre", schools=schools)
        for slot, text in (
            ("crude", "10.000"), ("solvent", "10.000"), ("hot_temperature", "60"), ("cold_temperature", "20"),
        ):  # fmt: skip
            self.clock.move(minutes=2)
            self.weigh(self.run_, slot, text)
        self.finish("fold_quarter", "set_up_gravity", "pour")
        self.see("rinse, ice-cold")
        self.assertEqual(self.get("/api/drying")["resting"], [])
        self.see("rinse, ice-cold")
        (row,) = self.get("/api/drying")["resting"]
        self.assertEqual(row["rest"]["since"], self.clock.now.isoformat().replace("+00:00", "Z"))
        self.assertIsNotNone(row["due"])
