"""Plans over HTTP: the window for every method from its form, the class, solutions, and faults at their fields."""

from __future__ import annotations

from typing import Any

from tests.core.test_sizing import OPTIONS, SIZED
from tests.support.server import AppCase

ZINC = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2", "tube": {"mark": "50 mL"}}


class Plans(AppCase):
    def plan(self, status: int = 200, **more: Any) -> Any:
        """A plan of zinc over water."""
        return self.post("/api/plan", {"method": "gas_over_water", "options": ZINC, **more}, status)

    def test_every_method_can_be_planned(self) -> None:
        shelf = self.get("/api/plan")
        self.assertEqual({row["name"] for row in shelf["methods"]}, set(SIZED))
        for method, options in ((name, OPTIONS[name]) for name in SIZED):
            schools = {"tube": "burette"} if method == "gas_over_water" else {}
            found = self.plan(method=method, options=options, schools=schools, setting={"wanted": "3 %"})
            with self.subTest(method):
                self.assertIsNotNone(found["sizing"]["high"])
                self.assertTrue(found["kit"])
                self.assertIn("local rules", found["caution"])
        found = self.plan(method="precipitation", options=OPTIONS["precipitation"])
        self.assertEqual(found["totals"][1]["formula"], "Na2SO4")

    def test_a_method_with_nothing_to_size_is_refused(self) -> None:
        answer = self.plan(422, method="crystal_growth", options=OPTIONS["crystal_growth"])
        self.assertEqual([row["path"] for row in answer["faults"]], ["method"])

    def test_the_shelf_s_instruments_decide(self) -> None:
        coarse = self.plan(setting={"wanted": "5 %"})["sizing"]["low"]["amount"]
        self.post("/api/today/instruments", {"kind": "balance", "name": "Fine", "half_width": "0.0001 g"})
        shelf = self.get("/api/plan")["instruments"]
        number = next(row["id"] for row in shelf if row["name"] == "Fine")
        fine = self.plan(setting={"wanted": "5 %"}, instruments={"balance": number})["sizing"]["low"]["amount"]
        self.assertLess(fine, coarse / 2)

    def test_the_class_multiplies_what_a_trial_needs(self) -> None:
        found = self.plan(sample="0.1 g", benches=6, trials=2, spare="50 %", setting={"wanted": "5 %"})
        totals = {row["label"]: row["all"] for row in found["totals"]}
        self.assertEqual(totals["sample"], "1.80 g")
        # 0.1 g of zinc, 65.38 g/mol, takes 3.059 mmol of acid; twice that in 3 mol/L is 2.04 mL, times 18
        self.assertEqual(totals["HCl 3 mol/L"], "36.7 mL")
        cages = next(row for row in found["kit"] if "cage" in row["item"])
        self.assertEqual(cages["count"], 2)

    def test_the_room_of_the_day_is_offered(self) -> None:
        self.assertEqual(self.get("/api/plan")["room"], {})
        uuid = "00000000-0000-4000-8000-00000000000a"
        self.post("/api/today/room", {"uuid": uuid, "slot": "barometer", "text": "952.4"})
        self.assertEqual(self.get("/api/plan")["room"], {"barometer": "952.4 hPa"})

    def test_every_fault_of_the_form_is_said_at_its_field(self) -> None:
        problem = self.plan(422, options={"reagent": "Zn"}, setting={"wanted": "good", "barometer": "12"}, spare="some")
        paths = {fault["path"] for fault in problem["faults"]}
        self.assertEqual(paths, {"options.equation", "setting.wanted", "setting.barometer", "spare"})
        self.assertEqual(self.plan(422, sample="much")["faults"][0]["path"], "sample")
        self.assertEqual(self.plan(422, options={})["faults"][0]["path"], "options.reagent")
        for name, text in (
            ("wanted", "0 %"), ("temperature", "294 degC"), ("barometer", "12 hPa"), ("concentration", "0 mol/L"),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(self.plan(422, setting={name: text})["faults"][0]["path"], f"setting.{name}")
        self.assertEqual(self.plan(422, method="alchemy")["faults"][0]["path"], "method")
        self.assertEqual(self.plan(422, schools={"tube": "burette"})["faults"][0]["code"], "course")
        self.assertEqual(self.plan(422, setting={"mood": "1 %"})["faults"][0]["path"], "setting.mood")

    def test_a_solution_and_its_faults(self) -> None:
        wish = {"formula": "HCl", "concentration": "3 mol/L", "each": "25 mL", "source": "concentrate", "benches": 8}
        found = self.post("/api/plan/solution", {"wish": wish})["recipe"]
        self.assertEqual(found["make"], "250 mL")
        problem = self.post("/api/plan/solution", {"wish": wish | {"concentration": "20 mol/L", "spare": "-"}}, 422)
        self.assertEqual(problem["faults"][0]["path"], "spare")
        problem = self.post("/api/plan/solution", {"wish": wish | {"concentration": "20 mol/L"}}, 422)
        self.assertEqual(problem["faults"][0]["path"], "concentration")


class ReagentTables(AppCase):
    def table(self, status: int = 200, **options: Any) -> Any:
        """The reagent table of an acetylation."""
        equation = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
        return self.post(
            "/api/plan/reagents", {"method": "synthesis", "options": {"equation": equation} | options}, status
        )

    def test_what_is_planned_becomes_what_to_take(self) -> None:
        reagents = [{"formula": "C7H6O3", "planned": "2.0 g"}, {"formula": "C4H6O3", "planned": "1.5 eq"}]
        found = self.table(reagents=reagents)
        self.assertEqual([row["actual"] for row in found["table"]["columns"]], ["2.000 g", "2.217 g"])
        self.assertEqual(found["table"]["path"][0]["text"], "2.609 g")

    def test_every_fault_is_said_at_its_cell(self) -> None:
        reagents = [
            {"formula": "C7H6O3", "purity": "120 %"},
            {"formula": "C4H6O3", "planned": "5 mL"},
            {"formula": "H3PO4", "role": "catalyst", "planned": "a drop"},
        ]
        faults = self.table(422, reagents=reagents)["faults"]
        self.assertEqual(
            [(row["path"], row["code"]) for row in faults],
            [
                ("options.reagents[0].purity", "out-of-range"),
                ("options.reagents[1].density", "density-missing"),
                ("options.reagents[2].planned", "not-a-number"),
            ],
        )

    def test_an_equation_that_loses_water_is_proposed(self) -> None:
        (fault,) = self.table(422, equation="C7H6O3 + CH3OH -> C8H8O3")["faults"]
        self.assertEqual(fault["path"], "options.equation")
        self.assertIn("C7H6O3 + CH3OH -> C8H8O3 + H2O", fault["message"])

    def test_another_method_has_none(self) -> None:
        answer = self.post("/api/plan/reagents", {"method": "hydrate", "options": {"salt": "ZnSO4"}}, 422)
        self.assertEqual(answer["faults"][0]["code"], "plan-open")

    def test_a_run_started_with_it_shows_the_plan_at_each_reading(self) -> None:
        text = self.table(reagents=["C7H6O3 2.0 g", "C4H6O3 1.08 g/mL 1.5 eq"])["values"]["reagents"]
        options = {"equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2", "reagents": text.split("; ")}
        run = self.start(method="synthesis", options=options)
        hints = {row["slot"]: row["hint"] for row in run["upcoming"]}
        self.assertEqual((hints["reagent_1"], hints["reagent_2"]), ("Planned: 2.000 g", "Planned: 2.053 mL"))
