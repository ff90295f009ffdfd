"""A reading that was declared not taken: the run goes on the other way, or says what cannot be had."""

from __future__ import annotations

import math
import unittest
from statistics import mean, stdev
from typing import Any, ClassVar

from claykettle.core.errors import Refusal
from claykettle.core.run import Evaluation, evaluate_run
from claykettle.formats.run_file import run_document, run_from
from tests.support.runs import codes, value

ZINC: dict[str, Any] = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
BURETTE: dict[str, Any] = {"reading": "inverted_burette", "mark": "50 mL"}


def left(reason: str) -> dict[str, Any]:
    return {"not_taken": True, "reason": reason}


def file(method: str, readings: dict[str, Any], **options: Any) -> dict[str, Any]:
    half_widths = {"balance": "0.001 g", "volume": "0.05 mL", "thermometer": "0.2 K", "barometer": "0.5 hPa"}
    return {
        "format": "clay-kettle/run", "version": 1, "method": method, "options": options,
        "instruments": {name: {"half_width": width} for name, width in half_widths.items()},
        "trials": [{"label": "1", "readings": readings}],
    }  # fmt: skip


def run(method: str, readings: dict[str, Any], **options: Any) -> Evaluation:
    return evaluate_run(run_from(file(method, readings, **options)))


def said(found: Evaluation, about: str) -> str:
    return next(row.text for row in found.trials[0].verdicts if row.code == "not-taken" and row.about == about)


class AForgottenPaper(unittest.TestCase):
    PAPERS = ("0.912", "0.905", "0.918", "0.910", "0.921", "0.903", "0.915", "0.908", "0.911", "0.907")

    def test_ten_others_stand_for_it_with_their_scatter(self) -> None:
        """The mean of the ten, and u² = s²(1 + 1/n) of it (RUNFILE), by the standard library."""
        grams = [float(text) for text in self.PAPERS]
        readings = {"paper": left("forgotten"), "papers": [f"{text} g" for text in self.PAPERS], "collected": "1.849 g"}
        found = run("filtration", readings)
        self.assertAlmostEqual(value(found.trials[0], "solid_mass"), 1.849 - mean(grams), places=9)
        result = found.trials[0].result("solid_mass")
        assert result is not None
        u = math.hypot(stdev(grams) * math.sqrt(1 + 1 / len(grams)), 0.001 / math.sqrt(3))
        self.assertAlmostEqual(result.standard_uncertainty, u, places=9)
        self.assertIn("the mean of ten others", said(found, "paper"))
        self.assertLessEqual({"papers-weighed", "not-taken"}, codes(found.trials[0]))

    def test_it_is_the_very_run_that_meant_to_weigh_others(self) -> None:
        others = {"papers": [f"{text} g" for text in self.PAPERS], "collected": "1.849 g"}
        meant = run("filtration", others, collector="papers_mean")
        forgotten = run("filtration", {"paper": left("forgotten"), **others})
        self.assertEqual(meant.trials[0].results, forgotten.trials[0].results)

    def test_before_others_are_weighed_the_run_asks_for_them(self) -> None:
        found = run("filtration", {"paper": left("forgotten"), "collected": "1.849 g"})
        self.assertIn("missing-reading", codes(found.trials[0]))
        self.assertEqual([], [row for row in found.trials[0].results if row.name == "solid_mass"])

    def test_a_box_that_ends_ends_the_series(self) -> None:
        rows: list[Any] = [f"{text} g" for text in self.PAPERS[:6]]
        found = run("filtration", {"paper": left("forgotten"), "papers": [*rows, left("the box is empty")]})
        self.assertEqual(said(found, "papers"), "No more of 'papers' after 6 (the box is empty).")
        self.assertIn("papers-few", codes(found.trials[0]))

    def test_other_papers_have_no_place_while_its_own_is_weighed(self) -> None:
        with self.assertRaises(Refusal):
            run_from(file("filtration", {"paper": "0.908 g", "papers": ["0.912 g"]}))


class TheTube(unittest.TestCase):
    READ: ClassVar[dict[str, Any]] = {
        "sample": "0.100 g", "volume_end": "14.20 mL", "temperature": "21.0 degC", "barometer": "1013.0 hPa",
    }  # fmt: skip

    def test_levels_that_nobody_looked_at_are_equal_within_five_centimetres(self) -> None:
        """The same amount of gas as at equal levels; ρ g h of 50 mm, rectangular, is 0.282 kPa of its pressure."""
        readings = {**self.READ, "dead_volume": "3.1 mL"}
        equal = run("gas_over_water", readings, **ZINC, tube=BURETTE)
        unknown = run("gas_over_water", {**readings, "level_difference": left("no ruler")}, **ZINC, tube=BURETTE)
        self.assertAlmostEqual(value(equal.trials[0], "gas_amount"), value(unknown.trials[0], "gas_amount"), places=12)
        one, other = (row.trials[0].result("dry_gas_pressure") for row in (equal, unknown))
        assert one is not None and other is not None
        head = 0.9980 * 9.80665 * 0.050 / math.sqrt(3)
        self.assertAlmostEqual(
            math.sqrt(other.standard_uncertainty**2 - one.standard_uncertainty**2), head, delta=0.0005
        )
        self.assertIn("taken as equal, within 50 mm", said(unknown, "level_difference"))

    def test_without_a_dead_volume_it_says_what_cannot_be_had_and_whom_to_ask(self) -> None:
        found = run("gas_over_water", {**self.READ, "dead_volume": left("poured out")}, **ZINC, tube=BURETTE)
        self.assertIsNone(found.trials[0].result("molar_volume_standard"))
        self.assertRegex(said(found, "dead_volume"), r"there is no gas volume.*Ask for the burette's own")
        self.assertNotIn("missing-reading", codes(found.trials[0]))

    def test_the_burettes_own_dead_volume_stands_in_for_it(self) -> None:
        """(50 − 14.20) + 3.1 = 38.90 mL."""
        tube = {**BURETTE, "dead_volume": "3.1 mL"}
        found = run("gas_over_water", {**self.READ, "dead_volume": left("poured out")}, **ZINC, tube=tube)
        self.assertAlmostEqual(value(found.trials[0], "gas_volume"), 38.90, places=9)
        self.assertNotIn("there is no", said(found, "dead_volume"))
        measured = run("gas_over_water", {**self.READ, "dead_volume": "2.8 mL"}, **ZINC, tube=tube)
        self.assertAlmostEqual(value(measured.trials[0], "gas_volume"), 38.60, places=9)

    def test_it_is_not_called_missing_while_other_readings_are_still_to_come(self) -> None:
        tube = {**BURETTE, "dead_volume": "3.1 mL"}
        found = run("gas_over_water", {"sample": "0.0982 g", "dead_volume": left("poured out")}, **ZINC, tube=tube)
        self.assertIsNone(found.trials[0].result("gas_volume"))
        self.assertNotIn("there is no", said(found, "dead_volume"))
        self.assertIn("3.1 mL", said(found, "dead_volume"))


class WaterByDifference(unittest.TestCase):
    READ: ClassVar[dict[str, Any]] = {
        "vessel": "41.217 g", "vessel_sample": "42.330 g", "vessel_residue": left("dissolved at once"),
        "paper": "0.874 g", "collected": ["1.150 g", "1.149 g"],
    }  # fmt: skip

    def test_halogen_as_on_the_label_and_water_as_what_is_left(self) -> None:
        """Co 58.933, Cl 35.45, H2O 18.015 g/mol: 0.275 g of cobalt, twice as much chlorine, the rest is water."""
        found = run("composition", self.READ, metal="Co", accepted="CoCl2.6H2O")
        cobalt = 0.275 / 58.933
        water = (1.113 - 0.275 - 2 * cobalt * 35.45) / 18.015
        self.assertAlmostEqual(value(found.trials[0], "water_ratio"), water / cobalt, places=6)
        self.assertLessEqual({"circular", "not-taken"}, codes(found.trials[0]))

    def test_without_a_label_there_is_metal_and_no_water(self) -> None:
        found = run("composition", self.READ, metal="Co")
        self.assertAlmostEqual(value(found.trials[0], "metal_percent"), 100 * 0.275 / 1.113, places=9)
        self.assertIsNone(found.trials[0].result("water_percent"))
        self.assertIn("water driven off", said(found, "vessel_residue"))


class WhatIsSaid(unittest.TestCase):
    def test_the_only_reading(self) -> None:
        found = run("hydrate", {"vessel": left("broken")}, salt="ZnSO4")
        self.assertRegex(said(found, "vessel"), r"^'vessel' was not taken \(broken\): without it there is no .*percent")
        self.assertEqual(found.trials[0].results, ())

    def test_a_weighing_left_out_of_a_series_is_named_and_the_others_count(self) -> None:
        rows = ["32.151 g", left("spilled"), "32.136 g", "32.134 g"]
        found = run(
            "hydrate", {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": rows}, salt="ZnSO4"
        )
        without = [row for row in rows if isinstance(row, str)]
        same = run(
            "hydrate", {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": without}, salt="ZnSO4"
        )
        self.assertEqual(found.trials[0].results, same.trials[0].results)
        self.assertIn("number 2 was left out (spilled)", said(found, "vessel_residue"))

    def test_the_file_keeps_it_in_its_place(self) -> None:
        document = file("hydrate", {"vessel": "31.204 g", "vessel_residue": ["32.151 g", left("spilled"), "32.134 g"]})
        document["options"] = {"salt": "ZnSO4"}
        again = run_document(run_from(document))
        self.assertEqual(again["trials"], document["trials"])

    def test_every_method_goes_on_whatever_was_not_taken(self) -> None:
        """Each single reading of a run, declared not taken in its turn: an evaluation, and a word on it."""
        whole = {
            "hydrate": (
                {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": "32.134 g"},
                {"salt": "ZnSO4"},
            ),
            "gas_over_water": ({**TheTube.READ, "dead_volume": "3.1 mL"}, {**ZINC, "tube": BURETTE}),
            "gas_density": (
                {
                    "flask_air": "87.104 g", "flask_gas": "87.199 g", "flask_water": "337.2 g",
                    "temperature": "21 degC", "humidity": "45 %", "barometer": "1013 hPa",
                },
                {"gas": "Ar"},
            ),
        }  # fmt: skip
        for method, (readings, options) in whole.items():
            for name in readings:
                with self.subTest(method, reading=name):
                    found = run(method, {**readings, name: left("forgotten")}, **options)
                    self.assertIn(name, {row.about for row in found.trials[0].verdicts if row.code == "not-taken"})


class Refused(unittest.TestCase):
    def test_without_a_reason_or_for_an_unknown_reading(self) -> None:
        for value_, path in (
            ({"not_taken": True}, "trials[0].readings.vessel.reason"),
            ({"not_taken": False, "reason": "x"}, "trials[0].readings.vessel.not_taken"),
            ({"not_taken": True, "reason": ""}, "trials[0].readings.vessel.reason"),
            ({"not_taken": True, "reason": "x", "text": "1 g"}, "trials[0].readings.vessel.text"),
        ):
            with self.subTest(path), self.assertRaises(Refusal) as refused:
                run_from(file("hydrate", {"vessel": value_}, salt="ZnSO4"))
            self.assertEqual([row.path for row in refused.exception.faults], [path])
        with self.assertRaises(Refusal):
            run_from(file("hydrate", {"pan": left("x")}, salt="ZnSO4"))


class Changes(unittest.TestCase):
    ROW: ClassVar[dict[str, Any]] = {
        "at": "2026-03-05T18:42:10+01:00", "by": "Marl", "what": "options.accepted", "from": None, "to": "ZnSO4.7H2O",
        "reason": "the label was found",
    }  # fmt: skip

    def test_they_come_back_as_they_were(self) -> None:
        document = file("hydrate", {"vessel": "31.204 g"}, salt="ZnSO4", accepted="ZnSO4.7H2O") | {
            "changes": [self.ROW]
        }
        self.assertEqual(run_document(run_from(document))["changes"], [self.ROW])

    def test_they_change_nothing_of_the_result(self) -> None:
        plain = file("hydrate", {"vessel": "31.204 g"}, salt="ZnSO4")
        one, other = (evaluate_run(run_from(plain | more)) for more in ({}, {"changes": [self.ROW]}))
        self.assertEqual(one.trials[0].verdicts, other.trials[0].verdicts)

    def test_unknown_fields_are_refused(self) -> None:
        with self.assertRaises(Refusal) as refused:
            run_from(file("hydrate", {}, salt="ZnSO4") | {"changes": [{**self.ROW, "who": "x"}]})
        self.assertEqual(refused.exception.faults[0].path, "changes[0].who")
