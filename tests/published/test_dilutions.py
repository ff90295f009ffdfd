"""Solutions as an open textbook works them out: P. Flowers and others, Chemistry 2e (OpenStax, 2019; memory)."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.planning.stock import FLASKS_ML, Recipe, Wish, recipe


def made(**wish: Any) -> Recipe:
    """One bench, one trial, nothing to spare."""
    return recipe(Wish.model_validate({"benches": 1, "spare": "0 %", **wish}))


class Worked(unittest.TestCase):
    def test_potassium_hydroxide_from_a_stronger_one(self) -> None:
        """What volume of 1.59 mol/L KOH makes 5.00 L of 0.100 mol/L? 0.314 L."""
        found = made(formula="KOH", concentration="0.100 mol/L", each="5 L", source="solution", stronger="1.59 mol/L")
        self.assertEqual(found.make, "5 L")
        self.assertTrue(found.take.startswith("314 mL of 1.59 mol/L"), found.take)

    def test_calcium_chloride_by_weighing(self) -> None:
        """How many grams of CaCl2 (110.98 g/mol) are in 250.0 mL of 0.200 mol/L? 5.55 g."""
        found = made(formula="CaCl2", concentration="0.200 mol/L", each="250.0 mL")
        self.assertEqual(found.take, "5.549 g CaCl2")

    def test_the_rule_is_the_sum_that_was_done(self) -> None:
        found = made(formula="CaCl2", concentration="0.200 mol/L", each="250.0 mL")
        self.assertEqual(found.rule, "0.200 mol/L × 250 mL × 110.98 g/mol = 5.549 g CaCl2")


class Flasks(unittest.TestCase):
    def test_the_next_one_up_is_taken_and_a_full_one_is_enough(self) -> None:
        for size in FLASKS_ML:
            shown = f"{size} mL" if size < 1000 else f"{size // 1000} L"
            with self.subTest(size):
                self.assertEqual(made(formula="NaCl", concentration="1 mol/L", each=f"{size} mL").make, shown)
                below = made(formula="NaCl", concentration="1 mol/L", each=f"{size * 0.9:.1f} mL")
                self.assertEqual(below.make, shown)

    def test_concentration_times_volume_is_kept_from_bottle_to_flask(self) -> None:
        """Mol poured and mol in the flask, read off the recipe's own figures to three of them."""
        for formula in ("HCl", "H2SO4", "NH3", "CH3COOH"):
            found = made(formula=formula, concentration="0.5 mol/L", each="1 L", source="concentrate")
            volume, strength = float(found.take.split()[0]), float(found.take.split()[3])
            with self.subTest(formula):
                self.assertAlmostEqual(volume / 1000 * strength, 0.5, delta=0.005)
