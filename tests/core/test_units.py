"""The list of units against an independent unit library."""

from __future__ import annotations

import unittest

import pint

from claykettle.core.quantity import si_symbol, typed_unit, typed_units, unit, units_of

REGISTRY = pint.UnitRegistry()
NAMES = {
    "ug": "microgram", "uL": "microliter", "cm3": "cm**3", "degC": "degC", "degF": "degF", "%": "percent",
    "g/cm3": "g/cm**3", "kg/m3": "kg/m**3", "m/s2": "m/s**2", "min": "minute", "h": "hour", "L": "liter",
    "mmHg": "mmHg", "inHg": "inHg", "Torr": "torr", "m3": "m**3", "mol/m3": "mol/m**3", "1": "dimensionless",
}  # fmt: skip


def quantity(value: float, symbol: str) -> pint.Quantity:
    return REGISTRY.Quantity(value, NAMES.get(symbol, symbol))


class AgainstPint(unittest.TestCase):
    def test_every_factor_and_offset(self) -> None:
        """pint's own definitions; conventional mmHg and inHg differ from pint's by less than 2 parts in a million."""
        for symbol in typed_units():
            with self.subTest(symbol):
                row = unit(symbol)
                for value in (1.0, 20.0):
                    ours = float(row.factor) * value + float(row.offset)
                    theirs = quantity(value, symbol).to(NAMES.get(si_symbol(row.dimension), si_symbol(row.dimension)))
                    self.assertAlmostEqual(ours / theirs.magnitude, 1, delta=2e-6 if "Hg" in symbol else 1e-12)

    def test_there_and_back(self) -> None:
        for symbol in typed_units():
            row = unit(symbol)
            self.assertAlmostEqual(row.from_si(float(row.factor) * 3.25 + float(row.offset)), 3.25, places=9)


class TheList(unittest.TestCase):
    def test_it_is_the_contracts(self) -> None:
        """The run file's closed list of units."""
        listed = (
            "g mg kg ug mL L uL cm3 degC degF K Pa hPa kPa mbar bar mmHg Torr inHg atm psi mm cm m mol mmol "
            "mol/L mmol/L g/mL g/cm3 kg/m3 g/cm mg/mm m/s2 % s min h"
        )
        self.assertEqual(set(typed_units()), set(listed.split()))

    def test_spellings_of_the_bench(self) -> None:
        self.assertEqual(typed_unit("µg", "mass").symbol, "ug")
        self.assertEqual(typed_unit("°C", "temperature").symbol, "degC")
        self.assertEqual(units_of("mass"), ("g", "mg", "kg", "ug"))
