"""The formula desk's sheet: every printed line can be followed and recomputed."""

from __future__ import annotations

import re
import unittest
from decimal import Decimal

import molmass

from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.desks.formula_sheet import formula_sheet
from claykettle.core.errors import Refusal


class Sheet(unittest.TestCase):
    def test_the_lines_add_up(self) -> None:
        for text in ("ZnSO4.7H2O", "CaSO4.½H2O", "K4[Fe(CN)6]", "Cu2(OH)2CO3", "SO4^2-", "C12H22O11"):
            sheet = formula_sheet(text)
            with self.subTest(text):
                for line in sheet.lines:
                    self.assertEqual(Decimal(line.count) * Decimal(line.weight), Decimal(line.mass))
                whole = sum(Decimal(line.mass) for line in sheet.lines)
                self.assertAlmostEqual(whole, Decimal(sheet.molar_mass), delta=Decimal("0.0051"))
                self.assertAlmostEqual(sum(Decimal(line.percent) for line in sheet.lines), 100, delta=Decimal("0.03"))

    def test_crystal_water_of_every_listed_hydrate_against_molmass(self) -> None:
        """At least 40 hydrates; the other library knows its own atomic weights and no dot: water as a group."""
        compared = 0
        for hydrate in all_hydrates():
            sheet = formula_sheet(hydrate.text)
            assert sheet.water is not None
            salt, ratio = hydrate.anhydrous.text, float(hydrate.water_ratio)
            water = ratio * molmass.Formula("H2O").mass
            other = 100 * water / (molmass.Formula(salt).mass + water)
            with self.subTest(hydrate.text):
                self.assertAlmostEqual(float(sheet.water.percent), other, delta=0.02)
            compared += 1
        self.assertGreaterEqual(compared, 40)

    def test_the_worked_line_of_the_water_is_true(self) -> None:
        sheet = formula_sheet("Na2B4O7.10H2O")
        assert sheet.water is not None
        match = re.fullmatch(r"(\S+) × (\S+) / (\S+) × 100 % = (\S+) %", sheet.water.rule)
        assert match is not None
        count, water, whole, percent = (float(figure) for figure in match.groups())
        self.assertAlmostEqual(100 * count * water / whole, percent, delta=0.006)
        self.assertEqual(sheet.relatives, ("Na2B4O7·5H2O",))
        self.assertEqual(sheet.name, "sodium tetraborate (borax)")

    def test_what_cannot_be_read_is_refused_with_its_place(self) -> None:
        for text, code in (("", "formula"), ("Xy2", "unknown-element"), ("Tc", "no-atomic-weight"), ("(", "formula")):
            with self.assertRaises(Refusal) as caught:
                formula_sheet(text)
            self.assertEqual(caught.exception.faults[0].code, code)
