"""The calculation page as a class writes it: typeset, numbered, in its own units and by its own route."""

from __future__ import annotations

import unittest
from typing import Any
from xml.etree import ElementTree

from claykettle.service.views.typeset import mathml, symbol, typeset, words
from tests.support.server import AppCase

MATH = "{http://www.w3.org/1998/Math/MathML}"
LABELS = ("vessel", "vessel + sample", "mass of sample")


def read(latex: str) -> str:
    """What a formula says, fractions as (above)/(below)."""

    def said(node: ElementTree.Element) -> str:
        parts = [said(child) for child in node]
        if node.tag == f"{MATH}mfrac":
            return f"({parts[0]})/({parts[1]})"
        return (node.text or "").replace("\xa0", " ") + "".join(parts)

    return said(ElementTree.fromstring(mathml(latex)))


class Typeset(unittest.TestCase):
    def set_out(self, rule: str) -> str:
        return read(typeset(rule, LABELS, words))

    def test_divisions_become_fractions_and_keep_their_order(self) -> None:
        """By hand: a/b/c is (a/b)/c, a/b × c is (a/b) × c, and brackets within a sum stay."""
        for rule, said in (
            ("(mass of sample) / (vessel)", "(mass of sample)/(vessel)"),
            ("(vessel) / 2 × 100 %", "(vessel)/(2)×100%"),
            ("(vessel) / 2 / 4", "((vessel)/(2))/(4)"),
            ("((vessel) − 1) / ((vessel) + 1)", "(vessel−1)/(vessel+1)"),
            ("2 × ((vessel) − 1)", "2×(vessel−1)"),
            ("(vessel + sample) − (vessel)", "vessel + sample−vessel"),
            ("last of (vessel)", "last of vessel"),
        ):
            with self.subTest(rule):
                self.assertEqual(self.set_out(rule), said)

    def test_signs_of_a_page_or_of_the_typesetting_come_out_as_they_are(self) -> None:
        text = "<script>alert('x')</script> & 5 % of a_b {c} \\d #1 $2 ^3 ~"
        self.assertEqual(read(words(text)), text)
        self.assertNotIn("<script", mathml(words(text)))

    def test_symbols_are_those_of_the_trade(self) -> None:
        for label, dimension, said in (
            ("mass of sample", "mass", "msample"),
            ("molar mass of the salt", "molar_mass", "Msalt"),
            ("amount of water", "amount", "nwater"),
            ("pressure of the dry gas", "pressure", "pdry gas"),
            ("gas constant R", "gas_constant", "R"),
            ("percent water", "ratio", "percent water"),
        ):
            self.assertEqual(read(symbol(label, dimension)), said)


class Zinc(AppCase):
    def zinc(self) -> Any:
        equation = "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"
        tube = {"reading": "inverted_burette", "mark": "50 mL"}
        options = {"gas": "H2", "reagent": "Zn", "equation": equation, "tube": tube}
        run = self.start(title="Zinc", method="gas_over_water", options=options, schools={"tube": "burette"})
        for slot, text in (
            ("barometer", "952.4 hPa"),
            ("sample", "0.0982"),
            ("dead_volume", "2.40"),
            ("volume_end", "12.70"),
            ("level_difference", "62"),
            ("temperature", "21.2"),
        ):
            run = self.weigh(run, slot, text, confirmed=True)
        return run


class Page(Zinc):
    def worked(self, run: Any, pressure: str = "kPa") -> Any:
        return self.get(f"/api/runs/{run['uuid']}/working?pressure={pressure}")["trials"][0]

    def line(self, worked: Any, name: str) -> Any:
        return next(row for row in worked["lines"] if row["name"] == name)

    def hydrate(self) -> Any:
        return self.weigh_all(self.start(), "32.134", "32.134")

    def test_lines_are_numbered_on_from_the_readings_and_name_each_other(self) -> None:
        worked = self.worked(self.hydrate())
        self.assertEqual([row["number"] for row in worked["readings"]], [1, 2, 3])
        self.assertEqual([row["number"] for row in worked["lines"]], list(range(4, 4 + len(worked["lines"]))))
        self.assertEqual(self.line(worked, "sample_mass")["by_number"], "(2) − (1)")
        percent = self.line(worked, "water_percent")
        water, sample = (self.line(worked, name)["number"] for name in ("water_mass", "sample_mass"))
        self.assertEqual(percent["by_number"], f"({water}) / ({sample}) × 100 %")

    def test_no_line_only_repeats_a_reading(self) -> None:
        worked = self.worked(self.zinc())
        readings = {row["text"] for row in worked["readings"]}
        repeated = [row["name"] for row in worked["lines"] if row["result"] in readings and row["rule"][0] == "("]
        self.assertEqual(repeated, [])
        self.assertNotIn("sample_mass", {row["name"] for row in worked["lines"]})
        sample = next(row["number"] for row in worked["readings"] if row["name"] == "sample")
        self.assertIn(f"({sample}) /", self.line(worked, "sample_amount")["by_number"])

    def test_by_a_hundred_grams_to_the_formula(self) -> None:
        """By hand: 0.930 g ZnSO4 and 0.727 g water of 1.657 g; 161.44 and 18.015 g/mol."""
        salt, water = self.worked(self.hydrate())["route"]
        self.assertEqual((salt["part"], water["part"]), ("ZnSO4", "H2O"))
        for row, mass, molar in ((salt, 0.930, 161.44), (water, 0.727, 18.015)):
            grams = mass / 1.657 * 100
            self.assertAlmostEqual(float(row["grams"]), grams, delta=0.006)
            self.assertAlmostEqual(float(row["moles"]), grams / molar, delta=0.0006)
        self.assertEqual(salt["ratio"], "1.000")
        self.assertAlmostEqual(float(water["ratio"]), (0.727 / 18.015) / (0.930 / 161.44), delta=0.0006)

    def test_no_route_where_no_formula_is_sought(self) -> None:
        self.assertEqual(self.worked(self.zinc())["route"], [])

    def test_in_millimetres_of_mercury(self) -> None:
        """760 mmHg are an atmosphere; R is 62.364 L mmHg/(mol K); water at 21.2 °C has 18.9 mmHg (handbook tables:
        18.65 at 21 and 19.83 at 22 °C, from memory); 62 mm of water are 62 / 13.6 = 4.56 of mercury.
        """
        run = self.zinc()
        worked = self.worked(run, "mmHg")
        for name, value, delta in (
            ("standard_pressure", 760.0, 0.001),
            ("gas_constant", 62.364, 0.001),
            ("vapour_pressure", 18.65 + 0.2 * (19.83 - 18.65), 0.02),
            ("station_pressure", 952.4 / 1.33322, 0.01),
            ("head_pressure", 62 / 13.6, 0.02),
        ):
            with self.subTest(name):
                self.assertAlmostEqual(float(self.line(worked, name)["result"].split()[0]), value, delta=delta)
        self.assertIn("62.0 mm / 13.6 = 4.56 mmHg", self.line(worked, "head_pressure")["beside"])
        plain = self.worked(run)
        self.assertEqual(self.line(plain, "head_pressure")["beside"], "")
        self.assertEqual(self.line(worked, "gas_amount")["result"], self.line(plain, "gas_amount")["result"])

    def test_an_unknown_unit_is_refused(self) -> None:
        self.get(f"/api/runs/{self.hydrate()['uuid']}/working?pressure=psi", 422)


class Scale(Zinc):
    def test_a_gas_stands_on_its_scale_between_ideal_and_real(self) -> None:
        """22.414 L/mol is an ideal gas at 0 °C and 101.325 kPa; hydrogen's is 22.43 (handbook, from memory)."""
        scale = self.get(f"/api/runs/{self.zinc()['uuid']}")["answer"]["scale"]
        at = {row["label"]: row["value"] for row in scale["marks"]}
        self.assertAlmostEqual(at["ideal gas"], 22.414, delta=0.001)
        self.assertAlmostEqual(at["real H2"], 22.43, delta=0.003)
        self.assertAlmostEqual(scale["value"], 22.3, delta=0.1)
        self.assertGreater(scale["expanded"], 0)

    def test_a_hydrate_has_its_ruler_and_no_scale(self) -> None:
        run = self.weigh_all(self.start(), "32.134", "32.134")
        self.assertIsNone(run["answer"]["scale"])
        self.assertIsNotNone(run["answer"]["ruler"])
