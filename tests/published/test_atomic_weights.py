"""Atomic weights, molar masses and compositions against independent tables."""

from __future__ import annotations

import unittest
from decimal import Decimal

import molmass

from claykettle.core.chemistry.elements import atomic_weight, is_element
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.errors import Refusal

# IUPAC, Standard Atomic Weights 2021, abridged to five figures (Pure Appl. Chem. 94 (2022) 573), typed a second
# time from memory of the printed table, independently of the data file.
PRINTED = """
H 1.0080 Li 6.94 B 10.81 C 12.011 N 14.007 O 15.999 F 18.998 Na 22.990 Mg 24.305 Al 26.982 Si 28.085 P 30.974
S 32.06 Cl 35.45 Ar 39.95 K 39.098 Ca 40.078 Ti 47.867 Cr 51.996 Mn 54.938 Fe 55.845 Co 58.933 Ni 58.693 Cu 63.546
Zn 65.38 Br 79.904 Sr 87.62 Zr 91.224 Mo 95.95 Ag 107.87 Cd 112.41 Sn 118.71 Sb 121.76 I 126.90 Ba 137.33 W 183.84
Pt 195.08 Au 196.97 Hg 200.59 Tl 204.38 Pb 207.2 Bi 208.98
"""

# Our formula, and the same atoms in the other library's notation.
COMPOUNDS = {
    "H2O": "H2O", "NaCl": "NaCl", "KCl": "KCl", "MgO": "MgO", "CuO": "CuO", "Cu2S": "Cu2S", "CuS": "CuS", "SnS": "SnS",
    "SnS2": "SnS2", "SnO2": "SnO2", "ZnO": "ZnO", "ZnS": "ZnS", "Fe2O3": "Fe2O3", "Fe3O4": "Fe3O4",
    "CoFe2O4": "CoFe2O4",
    "CaCO3": "CaCO3", "NaHCO3": "NaHCO3", "Na2CO3": "Na2CO3", "Na2CO3.10H2O": "Na2CO3(H2O)10",
    "CuSO4.5H2O": "CuSO4(H2O)5", "ZnSO4.7H2O": "ZnSO4(H2O)7", "MgSO4.7H2O": "MgSO4(H2O)7", "FeSO4.7H2O": "FeSO4(H2O)7",
    "Na2B4O7.10H2O": "Na2B4O7(H2O)10", "CaSO4.2H2O": "CaSO4(H2O)2", "2CaSO4.H2O": "(CaSO4)2H2O",
    "BaCl2.2H2O": "BaCl2(H2O)2", "CoCl2.6H2O": "CoCl2(H2O)6", "Sr(NO3)2.4H2O": "Sr(NO3)2(H2O)4",
    "KAl(SO4)2.12H2O": "KAl(SO4)2(H2O)12", "Cu2(OH)2CO3": "Cu2(OH)2CO3", "K4[Fe(CN)6]": "K4Fe(CN)6",
    "Ca(OH)2": "Ca(OH)2", "Al(OH)3": "Al(OH)3", "BaSO4": "BaSO4", "Na2SO4": "Na2SO4", "AgNO3": "AgNO3",
    "H2SO4": "H2SO4",
    "HCl": "HCl", "NH3": "NH3", "CO2": "CO2", "H2O2": "H2O2", "C6H12O6": "C6H12O6", "C12H22O11": "C12H22O11",
    "CH3COOH": "CH3COOH", "KMnO4": "KMnO4", "PbI2": "PbI2", "(NH4)2SO4": "(NH4)2SO4",
}  # fmt: skip


class AtomicWeights(unittest.TestCase):
    def test_against_the_printed_table(self) -> None:
        cells = PRINTED.split()
        for symbol, weight in zip(cells[::2], cells[1::2], strict=True):
            with self.subTest(symbol):
                self.assertEqual(atomic_weight(symbol), Decimal(weight))

    def test_every_weight_against_molmass(self) -> None:
        """molmass's own table (isotope averages, full digits): ours differ by rounding to five figures and revision."""
        compared = 0
        for element in molmass.ELEMENTS:
            try:
                ours = float(atomic_weight(element.symbol))
            except Refusal:
                continue
            self.assertAlmostEqual(ours / element.mass, 1, delta=2e-4, msg=element.symbol)
            compared += 1
        self.assertEqual(compared, 84)

    def test_elements_without_a_standard_weight_are_refused(self) -> None:
        for symbol in ("Tc", "Pm", "Po", "Rn", "Og"):
            self.assertTrue(is_element(symbol))
            with self.assertRaises(Refusal):
                atomic_weight(symbol)
        self.assertFalse(is_element("D"))


class MolarMasses(unittest.TestCase):
    def test_molar_masses_and_compositions_against_molmass(self) -> None:
        self.assertGreaterEqual(len(COMPOUNDS), 40)
        for ours, theirs in COMPOUNDS.items():
            with self.subTest(ours):
                formula, other = parse_formula(ours), molmass.Formula(theirs)
                self.assertAlmostEqual(float(formula.molar_mass_g) / other.mass, 1, delta=1.5e-4)
                for symbol, percent in formula.mass_percent.items():
                    self.assertAlmostEqual(percent, 100 * other.composition()[symbol].fraction, delta=0.02)
                self.assertAlmostEqual(sum(formula.mass_percent.values()), 100, places=9)

    def test_molar_masses_of_the_handbook(self) -> None:
        """CRC Handbook of Chemistry and Physics, 97th ed., section 4 (values from memory), g/mol."""
        for text, mass in (
            ("CuSO4.5H2O", 249.685), ("ZnSO4.7H2O", 287.54), ("Na2B4O7.10H2O", 381.37), ("NaCl", 58.443),
            ("BaSO4", 233.390), ("CaCO3", 100.087), ("MgO", 40.304),
        ):  # fmt: skip
            self.assertAlmostEqual(float(parse_formula(text).molar_mass_g), mass, delta=0.02, msg=text)


class WaterFractions(unittest.TestCase):
    def test_crystal_water_of_common_salts(self) -> None:
        """Facts of the trade that anyone can recompute; percent of the hydrate's mass."""
        for text, percent, places in (
            ("MgSO4.7H2O", 51.2, 1), ("CuSO4.5H2O", 36.1, 1), ("Sr(NO3)2.4H2O", 25.4, 1), ("BaCl2.2H2O", 14.75, 2),
            ("Na2CO3.10H2O", 63.0, 1), ("Na2B4O7.10H2O", 47.2, 1), ("ZnSO4.7H2O", 43.9, 1), ("CaSO4.2H2O", 20.9, 1),
        ):  # fmt: skip
            with self.subTest(text):
                formula = parse_formula(text)
                water = float(formula.water) * 18.015 / float(formula.molar_mass_g)
                self.assertAlmostEqual(100 * water, percent, delta=0.6 * 10**-places)
