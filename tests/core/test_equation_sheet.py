"""The equation desk: masses that go together, what runs out first, bad amounts at their place."""

from __future__ import annotations

import unittest

from claykettle.core.desks.equation_sheet import EquationSheet, SpeciesLine, equation_sheet
from claykettle.core.errors import Refusal


def line(sheet: EquationSheet, formula: str) -> SpeciesLine:
    """The line of a substance."""
    return next(row for row in sheet.lines if row.formula == formula)


class Amounts(unittest.TestCase):
    def test_one_amount_fixes_all_others(self) -> None:
        """4.86 g Mg with oxygen gives 8.06 g MgO (common worked example: 0.200 mol each)."""
        sheet = equation_sheet("Mg + O2 -> MgO", {"Mg": "4.86 g"})
        self.assertFalse(sheet.typed_is_balanced)
        self.assertAlmostEqual(float(line(sheet, "MgO").mass), 8.06, delta=0.01)
        self.assertAlmostEqual(float(line(sheet, "O2").amount), 0.1, delta=0.0005)

    def test_a_product_may_be_the_one_amount(self) -> None:
        sheet = equation_sheet("2 Mg + O2 -> 2 MgO", {"MgO": "0.2 mol"})
        self.assertTrue(sheet.typed_is_balanced)
        self.assertAlmostEqual(float(line(sheet, "Mg").mass), 4.861, delta=0.001)

    def test_the_reactant_that_runs_out_first(self) -> None:
        """N2 28.02 g with H2 5.00 g: hydrogen limits (0.827 of what 1 mol N2 needs); 4.85 g N2 are left."""
        sheet = equation_sheet("N2 + H2 -> NH3", {"N2": "28.02", "H2": "5.00"})
        self.assertTrue(line(sheet, "H2").is_limiting)
        self.assertAlmostEqual(float(line(sheet, "N2").left), 4.86, delta=0.03)
        self.assertIn("H2 runs out first", sheet.sentence)

    def test_mass_is_kept_whatever_is_given(self) -> None:
        sheet = equation_sheet("KMnO4 + HCl -> KCl + MnCl2 + Cl2 + H2O", {"KMnO4": "3.16 g"})
        left = sum(float(row.mass) for row in sheet.lines if row.is_reactant)
        right = sum(float(row.mass) for row in sheet.lines if not row.is_reactant)
        self.assertAlmostEqual(left, right, delta=0.003)


class Refused(unittest.TestCase):
    def test_amounts_are_refused_at_their_place(self) -> None:
        for given, path, code in (
            ({"Mg": "abc"}, "given.Mg", "not-a-number"),
            ({"Mg": "2 mL"}, "given.Mg", "wrong-dimension"),
            ({"Mg": "0 g"}, "given.Mg", "not-positive"),
            ({"Fe": "1 g"}, "given.Fe", "unknown-substance"),
            ({"Mg": "1 g", "MgO": "1 g"}, "given.MgO", "not-a-reactant"),
        ):
            with self.subTest(path=path, code=code), self.assertRaises(Refusal) as caught:
                equation_sheet("2 Mg + O2 -> 2 MgO", given)
            self.assertEqual((caught.exception.faults[0].path, caught.exception.faults[0].code), (path, code))

    def test_a_strange_unit_is_answered_with_both_that_are_taken(self) -> None:
        for text in ("2.5 apples", "2 mL"):
            with self.subTest(text), self.assertRaises(Refusal) as caught:
                equation_sheet("2 Mg + O2 -> 2 MgO", {"Mg": text})
            self.assertIn("2.5 g or 0.02 mol", caught.exception.faults[0].message)

    def test_every_faulty_amount_is_told_at_once(self) -> None:
        with self.assertRaises(Refusal) as caught:
            equation_sheet("2 Mg + O2 -> 2 MgO", {"Mg": "abc", "O2": "-1 g"})
        self.assertEqual([fault.path for fault in caught.exception.faults], ["given.Mg", "given.O2"])

    def test_mixed_reactions_are_said_to_be_mixed(self) -> None:
        with self.assertRaises(Refusal) as caught:
            equation_sheet("KClO3 + HCl -> KCl + H2O + Cl2 + ClO2", {})
        self.assertIn("2 independent reactions", caught.exception.faults[0].message)
