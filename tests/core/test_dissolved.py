"""How much gas stays dissolved: Henry's law by hand, and what lies outside the tables."""

from __future__ import annotations

import math
import unittest

from claykettle.core.errors import Refusal
from claykettle.core.methods.parts.dissolved import saturation_mol


class Saturation(unittest.TestCase):
    def test_carbon_dioxide_in_a_decilitre_at_25_celsius(self) -> None:
        """Sander 2015: 3.3e-4 mol/(m3 Pa) at 298.15 K; water's vapour there 3.169 kPa (IAPWS, as printed)."""
        by_hand = 3.3e-4 * (101_325 - 3_169) * 1e-4
        self.assertAlmostEqual(saturation_mol("CO2", 1e-4, 298.15) / by_hand, 1, places=3)

    def test_cold_water_holds_more(self) -> None:
        """d ln k / d(1/T) = 2400 K: at 5 °C 1.78 times as much as at 25 °C, and a little less vapour in the way."""
        ratio = saturation_mol("CO2", 1e-4, 278.15) / saturation_mol("CO2", 1e-4, 298.15)
        by_hand = math.exp(2400 * (1 / 278.15 - 1 / 298.15)) * (101_325 - 872) / (101_325 - 3_169)
        self.assertAlmostEqual(ratio / by_hand, 1, places=3)

    def test_twice_the_water_holds_twice_the_gas(self) -> None:
        self.assertAlmostEqual(saturation_mol("CO2", 2e-4, 293.15), 2 * saturation_mol("CO2", 1e-4, 293.15), places=12)

    def test_what_is_in_no_table_is_no_number(self) -> None:
        for gas, temperature in (("Xe", 298.15), ("CO2", 500.0), ("CO2", 200.0)):
            with self.subTest(gas, temperature=temperature), self.assertRaises(Refusal):
                saturation_mol(gas, 1e-4, temperature)
