"""A gas weighed in a flask: by hand, the displaced air, sea level, humidity, verdicts and bad input."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.methods.registry import all_methods
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import codes, value

# 250.0 mL of argon at 20 °C and 1013.25 hPa, made by the formulas of the handbook (see ByHand)
READINGS: dict[str, Any] = {
    "flask_air": "82.3140 g",
    "flask_gas": ["82.4190 g", "82.4290 g", "82.4295 g"],
    "flask_water": "331.57 g",
    "temperature": "20.0 degC",
    "barometer": "1013.25 hPa",
}
INSTRUMENTS = {"balance": {"half_width": "0.0005 g"}, "coarse_balance": {"half_width": "0.01 g"}}
INSTRUMENTS |= {"thermometer": {"half_width": "0.5 degC"}, "barometer": {"half_width": "0.5 hPa"}}


def trial(readings: dict[str, Any] | None = None, **options: Any) -> TrialEvaluation:
    """The trial, evaluated."""
    document = {
        "format": "clay-kettle/run",
        "version": 1,
        "method": "gas_density",
        "options": options,
        "instruments": INSTRUMENTS,
        "trials": [{"label": "1", "readings": READINGS if readings is None else readings}],
    }
    return evaluate_run(run_from(document)).trials[0]


class ByHand(unittest.TestCase):
    def test_argon(self) -> None:
        """Water 0.99821 and air 0.001199 g/mL (handbook): 249.256 g / 0.99701 = 250.00 mL, holding 0.2998 g of air.

        Gas: 82.4295 − 82.3140 + 0.2998 = 0.4153 g; 0.4153 · 8.3145 · 293.15 / (101325 · 250.00e-6) = 39.96 g/mol.
        """
        found = trial(gas="Ar")
        self.assertAlmostEqual(value(found, "flask_volume"), 250.00, delta=0.02)
        self.assertAlmostEqual(value(found, "air_density"), 1.199, delta=0.001)
        self.assertAlmostEqual(value(found, "air_mass"), 0.2998, delta=0.0003)
        self.assertAlmostEqual(value(found, "gas_mass"), 0.4153, delta=0.0003)
        self.assertAlmostEqual(value(found, "molar_mass"), 39.96, delta=0.03)
        self.assertAlmostEqual(value(found, "gas_density"), 1.661, delta=0.002)
        self.assertAlmostEqual(value(found, "molar_volume"), 250.0e-3 * 39.95 / 0.4153, delta=0.03)
        self.assertEqual(found.words["formula"].text, "Ar")

    def test_without_the_air_put_back_the_molar_mass_is_absurd(self) -> None:
        """15 g/mol or so for carbon dioxide (common practice); 1.84 g/L at 20 °C."""
        readings = {**READINGS, "flask_gas": ["82.4716 g", "82.4716 g"]}
        found = trial(readings, gas="CO2")
        self.assertAlmostEqual(value(found, "gas_density"), 1.84, delta=0.015)
        cause = next(
            row
            for row in suspicion(found.trial, all_methods()["gas_density"], slips=True).suspects
            if row.code == "air-left-out"
        )
        self.assertAlmostEqual(cause.at_usual, 15, delta=0.7)
        self.assertIsNone(cause.dose)

    def test_the_slip_is_recognised_by_what_it_makes(self) -> None:
        found = suspicion(trial(gas="Ar").trial, all_methods()["gas_density"], "68.8", slips=True)
        cause = next(row for row in found.suspects if row.code == "air-left-out")
        self.assertEqual(cause.standing, "believable")
        self.assertIn("that is what was found", cause.text)

    def test_a_sea_level_figure_is_brought_to_the_bench_and_said(self) -> None:
        at_520 = {**READINGS, "barometer": "1013.25 hPa"}
        found = trial(at_520, gas="Ar", barometer="sea_level", elevation="520 m")
        self.assertIn("sea-level", codes(found))
        # 952.3 hPa at 520 m by the standard atmosphere: the difference to air, 39.96 − 28.85, grows by 1013.25 / 952.3
        self.assertAlmostEqual(value(found, "molar_mass"), 28.85 + (39.96 - 28.85) * 1013.25 / 952.3, delta=0.05)

    def test_humidity_matters_little_and_is_said_when_it_was_not_read(self) -> None:
        read = trial({**READINGS, "humidity": "80 %"}, gas="Ar")
        self.assertLess(abs(value(read, "molar_mass") - value(trial(gas="Ar"), "molar_mass")), 0.2)
        self.assertEqual(read.statements, ())
        self.assertIn("50 % is taken", trial(gas="Ar").statements[0].text)
        self.assertIn("humidity", {row.reading for row in trial(gas="Ar").budget})


class Judged(unittest.TestCase):
    def test_an_unknown_gas_is_held_against_the_gases_of_the_bench(self) -> None:
        found = trial()
        self.assertEqual(found.candidates[0].text, "Ar")
        self.assertEqual(found.words["formula"].text, "Ar")
        heavy = trial({**READINGS, "flask_gas": ["82.4716 g", "82.4716 g"]})
        self.assertEqual({row.text for row in heavy.candidates if row.status == "match"}, {"CO2", "N2O"})
        self.assertIn("formula-undecided", codes(heavy))

    def test_a_flask_that_still_gains_is_still_filling(self) -> None:
        still = trial({**READINGS, "flask_gas": ["82.4000 g", "82.4190 g"]})
        self.assertIn("still-gaining", codes(still))
        text = next(row.text for row in still.verdicts if row.code == "still-gaining")
        self.assertIn("Filling 2 gained 19 mg", text)
        self.assertIn("still filling", text)
        self.assertIn("constant-mass", codes(trial()))
        self.assertIn("provisional", codes(trial({**READINGS, "flask_gas": ["82.4190 g"]})))

    def test_a_barometer_in_another_unit_is_asked_about(self) -> None:
        for typed, meant in (("978 hPa", ""), ("760 kPa", "hPa or mmHg"), ("29.92 hPa", "inHg"), ("1.00 bar", "")):
            found = trial({**READINGS, "barometer": typed})
            texts = [row.text for row in found.verdicts if row.code == "suspect-unit"]
            with self.subTest(typed):
                self.assertEqual(bool(texts), bool(meant))
                self.assertTrue(not texts or f"Were {meant} meant?" in texts[0], texts)

    def test_a_flask_of_water_lighter_than_the_dry_one(self) -> None:
        self.assertIn("out-of-order", codes(trial({**READINGS, "flask_water": "82.00 g"})))

    def test_kelvin_typed_for_celsius_leaves_the_rest_uncomputed(self) -> None:
        found = trial({**READINGS, "temperature": "293 degC"})
        self.assertIsNone(found.result("molar_mass"))


class BadOptions(unittest.TestCase):
    def test_they_are_refused_at_their_place(self) -> None:
        for options, path in (
            ({"barometer": "sea_level"}, "options.elevation"),
            ({"barometer": "upstairs"}, "options.barometer"),
            ({"elevation": "520 g"}, "options.elevation"),
            ({"gas": "Zz"}, "options.gas"),
        ):
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                trial(**options)
            self.assertEqual(refused.exception.faults[0].path, path)
