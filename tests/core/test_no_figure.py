"""Where a table ends or a formula divides by nothing: a sentence with the range, no crash, no NaN, no silent gap."""

from __future__ import annotations

import json
import unittest
from contextlib import suppress
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.run import evaluate_run
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.formats.run_file import run_from

ZINC = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
TUBE = {"sample": "0.1012 g", "volume_end": "36.90 mL", "temperature": "21.0 degC", "barometer": "997.7 hPa"}
ARGON = {"flask_air": "142.310 g", "flask_gas": ["142.402 g", "142.402 g"], "flask_water": "395.1 g",
         "temperature": "21.0 degC", "barometer": "997.7 hPa"}  # fmt: skip


def evaluated(method: str, options: dict[str, Any], readings: dict[str, Any]) -> Any:
    """The evaluation as JSON values: NaN and infinity are refused on the way."""
    document = {"format": "clay-kettle/run", "version": 1, "method": method, "options": options,
                "trials": [{"label": "1", "readings": readings}]}  # fmt: skip
    run = run_from(document)
    evaluation = evaluate_run(run)
    with suppress(Refusal):
        suspicion(evaluation.trials[0].trial, run.method)
    return json.loads(json.dumps(evaluation_document(evaluation), allow_nan=False))["trials"][0]


def said(trial: Any, code: str) -> str:
    return " ".join(row["text"] for row in trial["verdicts"] if row["code"] == code)


class OutsideATable(unittest.TestCase):
    def test_the_table_and_its_range_are_named_and_what_does_not_need_it_stays(self) -> None:
        acid = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"]}
        lost = {"vessel_before": "95.12 g", "sample": "2.03 g", "vessel_after": "96.37 g"}
        for method, options, readings, words, kept in (
            ("gas_density", {"gas": "Ar"}, ARGON | {"temperature": "40.1 degC"}, "0 to 40 °C, not at 40.1 °C", ""),
            ("gas_density", {"gas": "Ar"}, ARGON | {"humidity": "101 %"}, "0 and 100 %, not at 101 %", ""),
            ("gas_over_water", ZINC, TUBE | {"volume_start": "1.00 mL", "temperature_start": "-1.0 degC"},
             "0 to 100 °C, not at -1.0 °C", "sample_amount"),
            ("gas_by_mass_loss", acid | {"dissolved": {"volume": "50 mL", "temperature": "65 degC"}}, lost,
             "0 to 60 °C, not at 65.0 °C", "gas_mass"),
            ("gas_by_mass_loss",
             acid | {"headspace_volume": "200 mL", "dissolved": {"volume": "50 mL", "temperature": "45 degC"}}, lost,
             "0 to 40 °C, not at 45.0 °C", "gas_mass"),
            ("recrystallization", {"solute": "KNO3"},
             {"crude": "9.00 g", "solvent": "20.0 g", "hot_temperature": "104 degC", "cold_temperature": "5 degC",
              "crystals": "7.00 g"}, "0 to 100 °C, not to 104.0 °C", "recovery_percent"),
        ):  # fmt: skip
            with self.subTest(method=method, words=words):
                found = evaluated(method, options, readings)
                self.assertIn(words, said(found, "out-of-range"))
                self.assertTrue(
                    all(row["level"] == "stop" for row in found["verdicts"] if row["code"] == "out-of-range")
                )
                self.assertTrue(not kept or kept in found["results"], found["results"].keys())

    def test_the_ends_themselves_are_inside(self) -> None:
        for method, options, readings in (
            ("gas_density", {"gas": "Ar"}, ARGON | {"temperature": "40.0 degC", "humidity": "100 %"}),
            ("gas_density", {"gas": "Ar"}, ARGON | {"temperature": "0.0 degC", "humidity": "0 %"}),
            ("gas_over_water", ZINC, TUBE | {"temperature": "0.0 degC", "level_difference": "5 mm"}),
        ):
            with self.subTest(readings=readings):
                found = evaluated(method, options, readings)
                self.assertEqual(said(found, "out-of-range"), "")
                self.assertTrue(all(row["standard_uncertainty"] > 0 for row in found["results"].values()
                                    if row.get("unit") == "g/mol"))  # fmt: skip


class DividedByNothing(unittest.TestCase):
    def test_a_product_of_nothing_is_said_and_the_rest_stays(self) -> None:
        options = {"equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2", "product": "C9H8O4"}
        taken = {"reagent_1": "2.004 g", "reagent_2": "3.050 g"}
        for crude, pure in (("0.000 g", "0.000 g"), ("2.100 g", "0.000 g"), ("0.000 g", "1.900 g")):
            with self.subTest(crude=crude, pure=pure):
                found = evaluated("synthesis", options, taken | {"crude": crude, "pure": pure})
                self.assertIn("theoretical_yield", found["results"])
                self.assertTrue(any(row["level"] == "stop" for row in found["verdicts"]))

    def test_a_reagent_of_nothing(self) -> None:
        options = {"equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2", "product": "C9H8O4"}
        found = evaluated("synthesis", options, {"reagent_1": "0.000 g", "reagent_2": "3.050 g", "crude": "1.000 g"})
        self.assertIn("comes to 0 mol", said(found, "unphysical"))

    def test_a_line_that_came_to_less_than_nothing_is_named(self) -> None:
        found = evaluated("gas_by_mass_loss", {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"]},
                          {"vessel_before": "95.12 g", "sample": "2.03 g", "vessel_after": "97.15 g"})  # fmt: skip
        self.assertTrue(any(row["level"] == "stop" for row in found["verdicts"]), found["verdicts"])


class AtTheStart(unittest.TestCase):
    def test_a_level_that_was_not_read_at_the_start_was_as_at_the_end(self) -> None:
        """As the run file says of an absent level: equal to reading the same figure twice."""
        readings = TUBE | {"volume_start": "8.20 mL", "level_difference": "62 mm"}
        once = evaluated("gas_over_water", ZINC, readings)
        twice = evaluated("gas_over_water", ZINC, readings | {"level_difference_start": "62 mm"})
        never = evaluated("gas_over_water", ZINC, {k: v for k, v in readings.items() if k != "level_difference"})
        values = [row["results"]["gas_amount"]["value"] for row in (once, twice, never)]
        self.assertAlmostEqual(values[0], values[1], delta=1e-12)
        self.assertGreater(abs(values[0] - values[2]), 1e-6)
