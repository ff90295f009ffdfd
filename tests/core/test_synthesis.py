"""Synthesis: the reagent table by hand, roles, what limits, melting ranges in words, and what is refused."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.run import Evaluation, TrialEvaluation, evaluate_run
from claykettle.formats.run_file import read_run, run_from, write_run
from tests.support.runs import value

ASPIRIN = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
TABLE: list[Any] = ["C7H6O3", "C4H6O3 1.08 g/mL", "H3PO4 85 % 1.69 g/mL catalyst"]
TAKEN = {"reagent_1": "2.000 g", "reagent_2": "5.00 mL", "reagent_3": "0.25 mL", "crude": "2.200 g", "pure": "1.800 g"}


def document(readings: Any = None, **options: Any) -> dict[str, Any]:
    """A run of acetylsalicylic acid, or of what the options say."""
    return {
        "format": "clay-kettle/run", "version": 1, "method": "synthesis",
        "options": {"equation": ASPIRIN, "product": "C9H8O4", "reagents": TABLE} | options,
        "instruments": {
            "balance": {"half_width": "0.001 g"}, "liquid_volume": {"half_width": "0.05 mL"},
            "thermometer": {"half_width": "0.5 degC"}, "clock": {"half_width": "1 s"},
        },
        "trials": [{"label": "1", "readings": dict(TAKEN if readings is None else readings)}],
    }  # fmt: skip


def evaluation(readings: Any = None, **options: Any) -> Evaluation:
    """That run, evaluated."""
    return evaluate_run(run_from(document(readings, **options)))


def trial(readings: Any = None, **options: Any) -> TrialEvaluation:
    """Its first trial."""
    return evaluation(readings, **options).trials[0]


class Table(unittest.TestCase):
    def test_the_whole_table_by_hand(self) -> None:
        """Molar masses 138.12, 102.09, 97.99 and 180.16 g/mol (IUPAC 2021)."""
        found = trial()
        for name, wanted in (
            ("amount_1", 2.000 / 138.122), ("amount_2", 5.40 / 102.089), ("amount_3", 0.25 * 1.69 * 0.85 / 97.994),
            ("equivalents_2", 3.653), ("supply_2", 3.653), ("catalyst_mol_percent", 25.31),
            ("theoretical_yield", 2.000 / 138.122 * 180.159), ("crude_percent_yield", 84.33),
            ("pure_percent_yield", 69.00), ("recovery_percent", 81.818),
            ("e_factor", (2.000 + 5.40 + 0.4225 - 1.800) / 1.800), ("atom_economy", 75.0),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertAlmostEqual(value(found, name) / wanted, 1, places=3)
        self.assertEqual(found.said, {"limiting": "C7H6O3"})
        self.assertEqual(value(found, "equivalents_1"), 1.0)

    def test_purity_counts_for_a_solid_and_a_liquid(self) -> None:
        reagents = [
            {"formula": "C7H6O3", "purity": "97 %"},
            {"formula": "C4H6O3", "density": "1.08 g/mL", "purity": "98 %"},
        ]
        found = trial({**TAKEN, "reagent_3": "0.1 mL"}, reagents=[*reagents, TABLE[2]])
        self.assertAlmostEqual(value(found, "amount_1"), 0.97 * 2.000 / 138.122, places=6)
        self.assertAlmostEqual(value(found, "amount_2"), 0.98 * 5.40 / 102.089, places=6)

    def test_magnetite_wants_two_irons_to_one_and_eight_ammonia(self) -> None:
        """Common practice. The water that the equation consumes is there without limit."""
        found = trial(
            {"reagent_1": "5.00 mL", "reagent_2": "5.00 mL", "reagent_3": "25.0 mL", "crude": "0.500 g",
             "addition_volume": "50 mL", "addition_time": "6 min"},
            equation="FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl", product="Fe3O4",
            reagents=["FeCl2 0.5 mol/L", "FeCl3 1 mol/L", "NH3 1 mol/L"],
        )  # fmt: skip
        self.assertAlmostEqual(value(found, "supply_1"), 1.0)
        self.assertAlmostEqual(value(found, "supply_3"), 25.0 / 8 / 2.5, places=9)
        self.assertAlmostEqual(value(found, "drip_rate"), 50 / 6, places=6)
        self.assertAlmostEqual(value(found, "theoretical_yield"), 2.5e-3 * 231.53, places=3)

    def test_too_little_base_is_what_limits(self) -> None:
        found = trial(
            {"reagent_1": "5.00 mL", "reagent_2": "5.00 mL", "reagent_3": "15.0 mL"},
            equation="FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl", product="Fe3O4",
            reagents=["FeCl2 0.5 mol/L", "FeCl3 1 mol/L", "NH3 1 mol/L"],
        )  # fmt: skip
        self.assertEqual(found.said["limiting"], "NH3")

    def test_the_key_is_the_pure_yield_where_there_is_one_else_the_crude(self) -> None:
        self.assertEqual(evaluation().key, "pure_percent_yield")
        crude = {name: text for name, text in TAKEN.items() if name != "pure"}
        self.assertEqual(evaluation(crude).key, "crude_percent_yield")
        self.assertEqual(evaluation(crude).key_line.label, "crude percent yield")

    def test_a_run_file_survives_being_written(self) -> None:
        table = [{"formula": "C7H6O3", "name": "salicylic acid", "planned": "2.0 g"}, *TABLE[1:]]
        run = run_from(document(reagents=table, literature_melting=["135 degC", "136 degC"]))
        again = read_run(write_run(run).encode())
        self.assertEqual(again.options, run.options)


class Shown(unittest.TestCase):
    def table(self, readings: Any = None, **options: Any) -> Any:
        """The reagent table of the run."""
        run = evaluation(readings, **options)
        return run.run.method.judging.pictures(run.trials[0].trial).table

    def test_planned_stands_beside_actual_and_the_limiting_one_says_why(self) -> None:
        planned = {"formula": "C7H6O3", "name": "salicylic acid", "planned": "2.0 g"}
        first, second, third = self.table(reagents=[planned, *TABLE[1:]]).columns
        self.assertEqual((first.planned, first.actual, first.amount), ("2.0 g", "2.000 g", "14.48 mmol"))
        self.assertEqual((first.is_limiting, first.why), (True, "14.5 mmol over 1 is the least"))
        self.assertEqual((second.equivalents, second.supply, second.is_limiting), ("3.65", "3.65", False))
        self.assertEqual((third.role, third.supply), ("catalyst", ""))

    def test_it_grows_with_every_reading(self) -> None:
        table = self.table({"reagent_1": "2.000 g"})
        self.assertEqual([row.actual for row in table.columns], ["2.000 g", "", ""])
        self.assertEqual(table.path, ())

    def test_the_yield_path_names_each_loss(self) -> None:
        path = self.table().path
        self.assertEqual([row.label for row in path], ["can come", "dry crude", "dry pure"])
        self.assertEqual([row.lost for row in path][1:], [
            "0.409 g not formed, or lost in work-up", "0.400 g kept by the mother liquor, or lost",
        ])  # fmt: skip
        self.assertAlmostEqual(path[2].percent, 69.0, places=1)

    def test_a_reagent_weighed_with_its_boat_shows_its_net_mass(self) -> None:
        split = {name: row for name, row in TAKEN.items() if name != "reagent_1"}
        table = self.table(split | {"reagent_1_tare": "1.200 g", "reagent_1_gross": "3.200 g"})
        self.assertEqual(table.columns[0].actual, "2 g")


class Textbooks(unittest.TestCase):
    """Atom economies as printed in green chemistry texts: B. M. Trost, Science 254, 1471 (1991) for the idea; values of
    M. Lancaster, Green Chemistry (2nd ed.), chapter 1, and of common exercises; typed from memory."""

    def test_atom_economies(self) -> None:
        for equation, product, percent in (
            ("C2H4 + H2O -> C2H5OH", "C2H5OH", 100.0),
            ("C6H12O6 -> 2 C2H5OH + 2 CO2", "C2H5OH", 51.1),
            ("C4H9OH + NaBr + H2SO4 -> C4H9Br + NaHSO4 + H2O", "C4H9Br", 50.0),
            ("CaCO3 -> CaO + CO2", "CaO", 56.0),
            ("2 C7H6O3 + 2 C4H6O3 -> 2 C9H8O4 + 2 HC2H3O2", "C9H8O4", 75.0),
            ("C6H6 + HNO3 -> C6H5NO2 + H2O", "C6H5NO2", 87.2),
            ("N2 + 3 H2 -> 2 NH3", "NH3", 100.0),
            ("Fe2O3 + 3 CO -> 2 Fe + 3 CO2", "Fe", 45.8),
            ("CH4 + H2O -> CO + 3 H2", "H2", 17.8),
            ("C2H5OH + HC2H3O2 -> C4H8O2 + H2O", "C4H8O2", 83.0),
        ):
            found = trial({}, equation=equation, product=product, reagents=[])
            with self.subTest(equation):
                self.assertAlmostEqual(value(found, "atom_economy"), percent, delta=0.25)


class Melting(unittest.TestCase):
    def melted(self, start: str, end: str, stage: str = "pure") -> TrialEvaluation:
        """A product that melts so, whose literature says 135 to 136 °C."""
        readings = TAKEN | {f"{stage}_melting_start": start, f"{stage}_melting_end": end}
        return trial(readings, literature_melting=["135 degC", "136 degC"])

    def said(self, found: TrialEvaluation, code: str) -> str:
        """The text of the verdict with this code."""
        return next((row.text for row in found.verdicts if row.code == code), "")

    def test_width_and_depression(self) -> None:
        found = self.melted("130 degC", "134 degC")
        self.assertAlmostEqual(value(found, "melting_width"), 4.0)
        self.assertAlmostEqual(value(found, "melting_depression"), 5.0)
        self.assertIn("may need a week", self.said(found, "melting-low"))

    def test_sharp_and_right(self) -> None:
        self.assertIn("as pure as this can tell", self.said(self.melted("134.5 degC", "135.5 degC"), "melting-sharp"))

    def test_of_the_crude_where_the_pure_was_not_melted(self) -> None:
        self.assertAlmostEqual(value(self.melted("120 degC", "128 degC", "crude"), "melting_width"), 8.0)

    def test_a_range_reversed_stops(self) -> None:
        self.assertIn("exchange the two", self.said(self.melted("136 degC", "134 degC"), "out-of-order"))

    def test_more_pure_than_crude_stops(self) -> None:
        self.assertIn("cannot be", self.said(trial(TAKEN | {"pure": "2.300 g"}), "out-of-order"))


class Refused(unittest.TestCase):
    def test_each_at_its_field(self) -> None:
        for options, code, path in (
            ({"reagents": ["C7H6O3", "NaCl"]}, "no-such-reagent", "options.reagents[1]"),
            ({"reagents": ["C7H6O3", "C7H6O3"]}, "two-for-one", "options.reagents[1]"),
            ({"reagents": ["H3PO4 catalyst"]}, "no-reactant", "options.reagents"),
            ({"product": "C6H6"}, "no-such-product", "options.product"),
            ({"reagents": ["C7H6O3 120 %"]}, "out-of-range", "options.reagents[0].purity"),
            ({"reagents": ["C7H6O3 0 g/mL"]}, "not-positive", "options.reagents[0].density"),
            ({"reagents": [{"formula": "C7H6O3", "planned": "some"}]}, "not-a-number", "options.reagents[0].planned"),
            ({"literature_melting": ["136 degC", "135 degC"]}, "reversed", "options.literature_melting"),
            ({"equation": "C7H6O3 + C4H6O3 -> 2 C9H8O4"}, "unbalanced", "options.equation"),
        ):
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                run_from(document({"crude": "1.0 g"}, **options))
            self.assertEqual([(row.code, row.path) for row in refused.exception.faults], [(code, path)])

    def test_a_question_ends_with_its_mark(self) -> None:
        with self.assertRaises(Refusal) as refused:
            run_from(document({}, reagents=["C7H6O3", "NaCl"]))
        self.assertTrue(refused.exception.faults[0].message.endswith("Is it a catalyst or a solvent?"))

    def test_a_volume_without_a_density(self) -> None:
        with self.assertRaises(Refusal) as refused:
            run_from(document({"reagent_1": "2.0 mL"}))
        (row,) = refused.exception.faults
        self.assertEqual(row.path, "trials[0].readings.reagent_1")
        self.assertIn("density", row.message)

    def test_an_equation_that_loses_water_is_proposed(self) -> None:
        """Methyl salicylate from salicylic acid: a condensation. An ester taken apart takes water up."""
        for typed, balanced in (
            ("C7H6O3 + CH3OH -> C8H8O3", "C7H6O3 + CH3OH -> C8H8O3 + H2O"),
            ("C8H8O3 -> C7H6O3 + CH3OH", "C8H8O3 + H2O -> C7H6O3 + CH3OH"),
        ):
            with self.subTest(typed), self.assertRaises(Refusal) as refused:
                run_from(document({}, equation=typed, product="C8H8O3" if "-> C8" in typed else "C7H6O3", reagents=[]))
            self.assertIn(balanced, refused.exception.faults[0].message)
