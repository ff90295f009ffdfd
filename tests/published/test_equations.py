"""Balancing, against textbooks' standard sets and against sympy's null space.

The skeleton equations are the usual exercises of general chemistry texts: Petrucci, Herring, Madura, Bissonnette,
General Chemistry (11th ed.), ch. 4 and 5, and Atkins, Jones, Laverman, Chemical Principles (7th ed.), fundamentals H
and K. They and the coefficients below were typed from memory.
"""

from __future__ import annotations

import unittest
from fractions import Fraction

import sympy

from claykettle.core.chemistry.equation import Equation, balance, parse_equation

# Skeleton, and the coefficients as the books print them.
BOOKS = {
    "H2 + O2 -> H2O": "2 1 2", "N2 + H2 -> NH3": "1 3 2", "P4 + O2 -> P4O10": "1 5 1", "Fe + O2 -> Fe2O3": "4 3 2",
    "Al + O2 -> Al2O3": "4 3 2", "CH4 + O2 -> CO2 + H2O": "1 2 1 2", "C3H8 + O2 -> CO2 + H2O": "1 5 3 4",
    "C8H18 + O2 -> CO2 + H2O": "2 25 16 18", "C2H5OH + O2 -> CO2 + H2O": "1 3 2 3",
    "C6H12O6 + O2 -> CO2 + H2O": "1 6 6 6", "NH3 + O2 -> NO + H2O": "4 5 4 6", "NO2 + H2O -> HNO3 + NO": "3 1 2 1",
    "KClO3 -> KCl + O2": "2 2 3", "NaHCO3 -> Na2CO3 + H2O + CO2": "2 1 1 1", "CaCO3 -> CaO + CO2": "1 1 1",
    "NH4NO3 -> N2O + H2O": "1 1 2", "(NH4)2Cr2O7 -> N2 + Cr2O3 + H2O": "1 1 1 4",
    "Pb(NO3)2 -> PbO + NO2 + O2": "2 2 4 1",
    "H2O2 -> H2O + O2": "2 2 1", "HgO -> Hg + O2": "2 2 1", "Zn + HCl -> ZnCl2 + H2": "1 2 1 1",
    "Al + HCl -> AlCl3 + H2": "2 6 2 3", "Na + H2O -> NaOH + H2": "2 2 2 1", "Mg + N2 -> Mg3N2": "3 1 1",
    "Mg3N2 + H2O -> Mg(OH)2 + NH3": "1 6 3 2", "Ca3(PO4)2 + H2SO4 -> CaSO4 + H3PO4": "1 3 3 2",
    "Al2(SO4)3 + Ca(OH)2 -> Al(OH)3 + CaSO4": "1 3 2 3", "Fe2O3 + CO -> Fe + CO2": "1 3 2 3",
    "Fe2O3 + Al -> Fe + Al2O3": "1 2 2 1", "FeS2 + O2 -> Fe2O3 + SO2": "4 11 2 8", "SiO2 + C -> Si + CO": "1 2 1 2",
    "SiO2 + HF -> SiF4 + H2O": "1 4 1 2", "PCl5 + H2O -> H3PO4 + HCl": "1 4 1 5", "P4O10 + H2O -> H3PO4": "1 6 4",
    "BaCl2 + Na2SO4 -> BaSO4 + NaCl": "1 1 1 2", "AgNO3 + Cu -> Cu(NO3)2 + Ag": "2 1 1 2",
    "Cu + HNO3 -> Cu(NO3)2 + NO + H2O": "3 8 3 2 4", "Cu + H2SO4 -> CuSO4 + SO2 + H2O": "1 2 1 1 2",
    "MnO2 + HCl -> MnCl2 + Cl2 + H2O": "1 4 1 1 2", "KMnO4 + HCl -> KCl + MnCl2 + Cl2 + H2O": "2 16 2 2 5 8",
    "K2Cr2O7 + HCl -> KCl + CrCl3 + Cl2 + H2O": "1 14 2 2 3 7", "KOH + H3PO4 -> K3PO4 + H2O": "3 1 1 3",
    "CaO + C -> CaC2 + CO": "1 3 1 1", "CaC2 + H2O -> Ca(OH)2 + C2H2": "1 2 1 1", "B2O3 + Mg -> MgO + B": "1 3 3 2",
    "TiCl4 + Mg -> Ti + MgCl2": "1 2 1 2", "WO3 + H2 -> W + H2O": "1 3 1 3", "Sn + S -> SnS2": "1 2 1",
    "Cu2(OH)2CO3 -> CuO + H2O + CO2": "1 2 1 1", "CuSO4.5H2O -> CuSO4 + H2O": "1 1 5",
    "Na2B4O7.10H2O -> Na2B4O7 + H2O": "1 1 10", "CaSO4.½H2O + H2O -> CaSO4.2H2O": "2 3 2",
    "KAl(SO4)2.12H2O -> KAl(SO4)2 + H2O": "1 1 12", "Al + KOH + H2O -> KAl(OH)4 + H2": "2 2 6 2 3",
    "MnO4^- + Fe^2+ + H^+ -> Mn^2+ + Fe^3+ + H2O": "1 5 8 1 5 4",
    "Cr2O7^2- + Fe^2+ + H^+ -> Cr^3+ + Fe^3+ + H2O": "1 6 14 2 6 7",
    "MnO4^- + C2O4^2- + H^+ -> Mn^2+ + CO2 + H2O": "2 5 16 2 10 8", "I2 + S2O3^2- -> I^- + S4O6^2-": "1 2 2 1",
    "Cu + NO3^- + H^+ -> Cu^2+ + NO + H2O": "3 2 8 3 2 4", "Ba^2+ + SO4^2- -> BaSO4": "1 1 1",
    "Al + OH^- + H2O -> Al(OH)4^- + H2": "2 2 6 2 3", "ClO3^- + I^- + H^+ -> Cl^- + I2 + H2O": "1 6 6 1 3 3",
    "K4[Fe(CN)6] + H2SO4 + H2O -> K2SO4 + FeSO4 + (NH4)2SO4 + CO": "1 6 6 2 1 3 6",
    "Fe^3+ + Fe^2+ + NH3 + H2O -> Fe3O4 + NH4^+": "2 1 8 4 1 8",
}  # fmt: skip


def null_space(equation: Equation) -> list[Fraction]:
    """The smallest whole coefficients by sympy's exact null space, which must have one dimension."""
    names = sorted({name for row in equation.species for name in (*row.formula.counts, "charge")})
    signs = [1] * len(equation.reactants) + [-1] * len(equation.products)

    def count(row: object, name: str) -> sympy.Rational:
        formula = row.formula  # type: ignore[attr-defined]
        value = Fraction(formula.charge) if name == "charge" else formula.counts.get(name, Fraction(0))
        return sympy.Rational(value.numerator, value.denominator)

    matrix = sympy.Matrix(
        [[sign * count(row, name) for row, sign in zip(equation.species, signs, strict=True)] for name in names]
    )
    (vector,) = matrix.nullspace()
    scale = sympy.ilcm(*(value.q for value in vector))
    whole = [value * scale for value in vector]
    divisor = sympy.igcd(*whole)
    return [Fraction(int(abs(value) // divisor)) for value in whole]


class Balancing(unittest.TestCase):
    def test_as_the_books_print_it_and_as_sympy_finds_it(self) -> None:
        self.assertGreaterEqual(len(BOOKS), 60)
        for text, printed in BOOKS.items():
            with self.subTest(text):
                equation = parse_equation(text)
                found = balance(equation).equation
                assert found is not None
                coefficients = [row.coefficient for row in found.species]
                self.assertEqual(coefficients, [Fraction(value) for value in printed.split()])
                self.assertEqual(coefficients, null_space(equation))
                self.assertTrue(found.is_balanced)
                self.assertEqual(parse_equation(found.text), found)
