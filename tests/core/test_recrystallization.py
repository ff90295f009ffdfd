"""Recrystallization: solubility by its curve, crystal water in the balance, what can come back, and refusals."""

from __future__ import annotations

import unittest
from math import hypot, sqrt
from typing import Any

from hypothesis import given, settings
from hypothesis.strategies import floats, sampled_from

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.solubility import CELSIUS, built_in_curves, curve_for, curve_named
from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.methods.recrystallization.method import METHOD
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import read_run, run_from, write_run
from tests.support.runs import value

# g per 100 g of water at 20 and 60 °C, as printed in Lange's Handbook of Chemistry (16th ed., table 1.68); from memory.
PRINTED = {
    "KNO3": (31.6, 110), "NaCl": (36.0, 37.3), "KCl": (34.2, 45.8), "NH4Cl": (37.2, 55.2), "KClO3": (7.3, 23.8),
    "K2SO4": (11.1, 18.2), "KAl(SO4)2": (5.90, 24.8), "CuSO4": (20.7, 40.0), "BaCl2": (35.8, 46.2),
    "Pb(NO3)2": (54.3, 91.6), "H3BO3": (5.04, 14.8), "Ba(NO3)2": (9.02, 20.4),
}  # fmt: skip
FINE = {"balance": {"half_width": "0.005 g"}, "thermometer": {"half_width": "0.05 degC"}}
NITRE = {
    "crude": "10.00 g", "solvent": "10.00 g", "hot_temperature": "60 degC", "cold_temperature": "20 degC",
    "crystals": "6.50 g",
}  # fmt: skip


def document(readings: Any = None, **options: Any) -> dict[str, Any]:
    """A run of potassium nitrate, or of what the options say."""
    return {
        "format": "clay-kettle/run", "version": 1, "method": "recrystallization",
        "options": {"solute": "KNO3"} | options,
        "instruments": {"balance": {"half_width": "0.005 g"}, "thermometer": {"half_width": "0.5 degC"}},
        "trials": [{"label": "1", "readings": dict(NITRE if readings is None else readings)}],
    }  # fmt: skip


def trial(readings: Any = None, **options: Any) -> TrialEvaluation:
    """Its first trial."""
    return evaluate_run(run_from(document(readings, **options))).trials[0]


class Curves(unittest.TestCase):
    def test_there_are_twenty_five_and_each_rises_in_temperature(self) -> None:
        rows = built_in_curves()
        self.assertGreaterEqual(len(rows), 25)
        for curve in rows:
            with self.subTest(curve.name):
                self.assertEqual(sorted(curve.temperatures), list(curve.temperatures))
                self.assertTrue(all(row > 0 for row in curve.values))
                self.assertIs(curve_named(curve.name), curve)

    def test_they_go_through_the_printed_figures(self) -> None:
        for formula, (cold, hot) in PRINTED.items():
            curve = curve_for(parse_formula(formula))
            assert curve is not None
            with self.subTest(formula):
                self.assertAlmostEqual(100 * curve.at(CELSIUS + 20), cold, places=6)
                self.assertAlmostEqual(100 * curve.at(CELSIUS + 60), hot, places=6)

    def test_between_two_points_lies_a_straight_line_and_beyond_them_nothing(self) -> None:
        curve = curve_named("potassium nitrate")
        assert curve is not None
        self.assertAlmostEqual(curve.at(CELSIUS + 50), (0.639 + 1.10) / 2, places=9)
        for celsius in (-1, 101):
            with self.assertRaisesRegex(Refusal, "from 0 to 100 °C"):
                curve.at(CELSIUS + celsius)

    def test_a_hydrate_is_found_by_its_salt(self) -> None:
        curve = curve_for(parse_formula("KAl(SO4)2.12H2O"))
        assert curve is not None
        self.assertAlmostEqual(curve.salt_share(parse_formula("KAl(SO4)2.12H2O")), 258.19 / 474.37, places=4)
        self.assertIsNone(curve_for(parse_formula("CsCl")))


class Chain(unittest.TestCase):
    def test_the_whole_chain_by_hand(self) -> None:
        """10 g need 10 / 1.10 = 9.09 g of water at 60 °C; 10 g of water keep 3.16 g at 20 °C: 6.84 g can come back."""
        found = trial()
        for name, wanted in (
            ("least_solvent", 9.0909), ("dissolved_hot", 10.0), ("kept_cold", 3.16), ("greatest_recovery", 6.84),
            ("greatest_recovery_percent", 68.4), ("recovery_percent", 65.0), ("recovery_of_possible", 95.029),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertAlmostEqual(value(found, name) / wanted, 1, places=4)

    def test_crystal_water_joins_the_solvent_and_leaves_it_again(self) -> None:
        """10 g of alum bring 5.443 g of salt and 4.557 g of water. At 60 °C the salt wants 5.443 / 0.248 = 21.95 g of
        water, 17.39 g beside its own; with 20 g, 5.9 g per 100 g at 20 °C leave x g where 0.5443 x = 0.059 (20 +
        0.4557 x), 2.28 g."""
        readings = NITRE | {"solvent": "20.00 g", "crystals": "7.10 g"}
        found = trial(readings, solute="KAl(SO4)2.12H2O")
        self.assertAlmostEqual(value(found, "least_solvent"), 17.39, places=2)
        self.assertAlmostEqual(value(found, "kept_cold"), 0.059 * 20 / (0.54428 - 0.059 * 0.45572), places=3)

    def test_a_hydrate_may_dissolve_in_its_own_water(self) -> None:
        found = trial(NITRE | {"hot_temperature": "78 degC"}, solute="KAl(SO4)2.12H2O")
        self.assertGreater(value(found, "least_solvent"), 0)
        soda = trial(NITRE | {"hot_temperature": "30 degC", "cold_temperature": "5 degC"}, solute="Na2CO3.10H2O")
        self.assertGreater(value(soda, "least_solvent"), 0)
        melts = trial(NITRE, solute="Na2SO4.10H2O", solubility=[["20 degC", 19.5], ["60 degC", 90.0]])
        self.assertGreater(value(melts, "least_solvent"), 0)  # points given are of the form weighed

    def test_the_solvent_may_be_measured(self) -> None:
        found = trial(NITRE | {"solvent": "10.0 mL"}, solvent_density="0.998 g/mL")
        self.assertAlmostEqual(value(found, "kept_cold"), 0.316 * 9.98, places=6)

    def test_points_of_ones_own_count(self) -> None:
        found = trial(solute="C8H9NO", solubility=[["20 degC", 0.5], ["60 degC", 2.0]])
        self.assertAlmostEqual(value(found, "least_solvent"), 500, places=6)

    def test_a_thermometer_counts_in_the_uncertainty(self) -> None:
        """At 20 °C the curve rises by 1.42 g per 100 g and degree on the warm side: half a degree is 0.07 g of 10 g."""
        shares = {row.reading: row.share for row in trial().shares("kept_cold")}
        self.assertGreater(shares["cold_temperature"], 0.9)

    def test_a_run_file_survives_being_written(self) -> None:
        for solubility in (None, "potassium nitrate", [["20 degC", 31.6], ["60 degC", 110.0]]):
            run = run_from(document(solubility=solubility))
            again = read_run(write_run(run).encode())
            with self.subTest(solubility):
                self.assertEqual(again.options, run.options)

    @settings(deadline=None, max_examples=60)
    @given(sampled_from(["KNO3", "KAl(SO4)2.12H2O", "CuSO4.5H2O", "K2Cr2O7"]), floats(1.05, 3), floats(1, 25))
    def test_nothing_comes_back_that_was_not_there(self, solute: str, times: float, cold: float) -> None:
        least = value(trial({**NITRE, "crystals": "1.00 g"}, solute=solute), "least_solvent")
        readings = {**NITRE, "solvent": f"{times * least:.4f} g", "cold_temperature": f"{cold:.2f} degC"}
        found = trial(readings | {"crystals": "0.10 g"}, solute=solute)
        self.assertLess(value(found, "greatest_recovery"), 10.0)
        self.assertAlmostEqual(value(found, "greatest_recovery") + value(found, "kept_cold"), 10.0, places=6)


class Judgements(unittest.TestCase):
    def codes(self, found: TrialEvaluation) -> dict[str, str]:
        """Texts of the verdicts by code."""
        return {row.code: row.text for row in found.verdicts}

    def test_more_crystals_than_crude_stop(self) -> None:
        self.assertIn("cannot be", self.codes(trial(NITRE | {"crystals": "10.50 g"}))["out-of-order"])

    def test_more_than_can_come_back_has_named_suspects(self) -> None:
        self.assertIn("still wet", self.codes(trial(NITRE | {"crystals": "7.80 g"}))["yield-over-100"])

    def test_a_temperature_beyond_the_curve_is_off_scale_and_nothing_is_made_up(self) -> None:
        found = trial(NITRE | {"hot_temperature": "104 degC"})
        self.assertIn("0 to 100 °C", self.codes(found)["off-scale"])
        self.assertIn("no hot solubility", self.codes(found)["out-of-range"])
        self.assertIsNone(found.result("least_solvent"))
        self.assertIsNotNone(found.result("recovery_percent"))

    def test_hot_and_cold_exchanged_stop(self) -> None:
        exchanged = {"hot_temperature": "20 degC", "cold_temperature": "60 degC"}
        self.assertIn("wrong line", self.codes(trial(NITRE | exchanged))["out-of-order"])

    def test_too_little_solvent_is_said(self) -> None:
        self.assertIn("does not dissolve", self.codes(trial(NITRE | {"solvent": "8.00 g"}))["undissolved"])


class Suspects(unittest.TestCase):
    def test_what_was_possible_is_only_known_as_surely_as_the_temperature(self) -> None:
        """By hand: half a degree at 25 °C (rectangular), where the curve rises by 1.42 g per 100 g and degree, and
        three weighings to 5 mg; 3.87 g stay, 61.3 % can come."""
        readings = NITRE | {"cold_temperature": "25 degC", "crystals": "5.90 g"}
        suspects = suspicion(trial(readings).trial, METHOD)
        temperature, weighing = 0.5 / sqrt(3) * 0.0142 * 10.0, 0.005 / sqrt(3)
        by_hand = 100 * hypot(temperature, weighing, weighing * 0.387, weighing * 0.977) / 10.0
        self.assertAlmostEqual((61.3 - 59.0) / by_hand, suspects.gap, delta=0.02)
        narrow = evaluate_run(run_from(document(readings) | {"instruments": FINE})).trials[0]
        self.assertGreater(suspicion(narrow.trial, METHOD).gap, 4 * suspects.gap)

    def test_a_figure_that_somebody_expects_is_taken_as_exact(self) -> None:
        found = trial(NITRE | {"crystals": "6.60 g"})
        band = found.trial.uncertainty("recovery_percent")
        self.assertAlmostEqual(suspicion(found.trial, METHOD, "68.4").gap, (0.684 - 0.66) / band, places=6)


class Refused(unittest.TestCase):
    def test_options_that_leave_the_solubility_open_or_say_it_wrongly(self) -> None:
        for options, code, path in (
            ({"solute": "CsCl"}, "no-curve", "options.solubility"),
            ({"solvent": "ethanol"}, "no-curve", "options.solubility"),
            ({"solubility": "kryptonite"}, "unknown-curve", "options.solubility"),
            ({"solubility": "sodium chloride"}, "other-curve", "options.solubility"),
            ({"solubility": [["20 degC", 31.6]]}, "points", "options.solubility"),
            ({"solubility": [["20 degC", 31.6], ["20 degC", 33.0]]}, "points", "options.solubility"),
            ({"solubility": [["20 degC", 31.6], ["60 degC", -1]]}, "not-positive", "options.solubility"),
            ({"solubility": "20 degC 31.6; 60"}, "points", "options.solubility"),
            ({"solubility": 7}, "points", "options.solubility"),
            ({"solubility": [["twenty", 31.6], ["60 degC", 110]]}, "not-a-number", "options.solubility"),
        ):
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                run_from(document(**options))
            self.assertEqual([(row.code, row.path) for row in refused.exception.faults], [(code, path)])

    def test_points_may_be_typed_into_one_field(self) -> None:
        found = trial(solubility="20 degC 31,6; 60 degC 110")
        self.assertAlmostEqual(value(found, "kept_cold"), 3.16, places=6)
