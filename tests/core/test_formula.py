"""Formulas: every notation people type, and errors that point at the place."""

from __future__ import annotations

import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.errors import Refusal


class Notations(unittest.TestCase):
    def test_one_hydrate_in_all_its_spellings(self) -> None:
        for text in (
            "Na2B4O7.10H2O",
            "Na2B4O7·10H2O",
            "Na2B4O7•10H2O",
            "Na2B4O7*10H2O",
            "Na2B4O7 · 10 H2O",
            "Na₂B₄O₇·10H₂O",
        ):
            with self.subTest(text):
                formula = parse_formula(text)
                self.assertEqual(formula.text, "Na2B4O7·10H2O")
                self.assertEqual(formula.counts, {"Na": 2, "B": 4, "O": 17, "H": 20})
                self.assertEqual(formula.water_ratio, 10)

    def test_half_hydrates(self) -> None:
        for text in ("CaSO4·0.5H2O", "CaSO4.0.5H2O", "CaSO4·½H2O", "CaSO4·1/2H2O", "2CaSO4·H2O"):
            with self.subTest(text):
                formula = parse_formula(text)
                self.assertEqual(formula.water_ratio, Fraction(1, 2))
                self.assertEqual(formula.anhydrous.text, "CaSO4")

    def test_brackets_of_every_kind_nest(self) -> None:
        self.assertEqual(parse_formula("K4[Fe(CN)6]").counts, {"K": 4, "Fe": 1, "C": 6, "N": 6})
        self.assertEqual(parse_formula("{[(H2)2]2}2").counts, {"H": 16})
        self.assertEqual(parse_formula("Cu2(OH)2CO3").counts, {"Cu": 2, "O": 5, "H": 2, "C": 1})

    def test_charges(self) -> None:
        for text, charge, spelled in (
            ("Fe^3+", 3, "Fe^3+"), ("SO4^2-", -2, "SO4^2-"),
            ("Na^+", 1, "Na^+"), ("Cl⁻", -1, "Cl^-"), ("SO₄²⁻", -2, "SO4^2-"),
        ):  # fmt: skip
            with self.subTest(text):
                formula = parse_formula(text)
                self.assertEqual((formula.charge, formula.text), (charge, spelled))

    def test_a_salt_takes_on_water(self) -> None:
        salt = parse_formula("ZnSO4")
        self.assertEqual(salt.hydrate(Fraction(7)).text, "ZnSO4·7H2O")
        self.assertEqual(salt.hydrate(Fraction(1, 2)).text, "ZnSO4·0.5H2O")
        self.assertEqual(salt.hydrate(Fraction(0)).text, "ZnSO4")

    def test_simplicity_counts_the_smallest_whole_formula(self) -> None:
        self.assertEqual(parse_formula("CaSO4·0.5H2O").sum_of_indices, parse_formula("2CaSO4·H2O").sum_of_indices)
        self.assertLess(parse_formula("ZnSO4·7H2O").sum_of_indices, parse_formula("ZnSO4·6.5H2O").sum_of_indices)


class Errors(unittest.TestCase):
    def test_each_error_names_its_place(self) -> None:
        for text, code, place, word in (
            ("", "formula", "", "empty"),
            ("Znso4", "unknown-element", "character 3", "capital"),
            ("Xx2", "unknown-element", "▸Xx2", "not an element"),
            ("Cu(OH", "formula", "Cu▸(OH", "never closed"),
            ("Cu(OH]2", "formula", "Cu(OH▸]2", "would close"),
            ("Cu()2", "formula", "Cu▸()2", "empty"),
            ("H2O.", "formula", "H2O.▸", "behind the dot"),
            ("2H2O", "formula", "▸2H2O", "equation"),
            ("Fe3+", "formula", "Fe3▸+", "Fe^3+"),
            ("SO4^2", "formula", "SO4^2▸", "sign"),
            ("H0", "formula-too-large", "H▸0", "between 1 and 9999"),
            ("H10000", "formula-too-large", "H▸10000", "9999"),
            ("H2O!", "formula", "H2O▸!", "no meaning"),
            ("(" * 5000, "formula-too-large", "", "200 characters"),
            ("(" * 50 + "H" + ")" * 50, "formula-too-large", "character 11", "10 deep"),
        ):
            with self.subTest(text[:20]):
                with self.assertRaises(Refusal) as caught:
                    parse_formula(text)
                fault = caught.exception.faults[0]
                self.assertEqual(fault.code, code)
                self.assertIn(place, fault.message)
                self.assertIn(word, fault.message)

    def test_an_element_without_an_atomic_weight_has_no_molar_mass(self) -> None:
        with self.assertRaises(Refusal) as caught:
            _ = parse_formula("Tc2O7").molar_mass_g
        self.assertEqual(caught.exception.faults[0].code, "no-atomic-weight")


class Properties(unittest.TestCase):
    @given(st.text(max_size=220))
    def test_no_text_breaks_the_reader(self, text: str) -> None:
        try:
            formula = parse_formula(text)
        except Refusal as refusal:
            self.assertTrue(refusal.faults[0].message)
        else:
            self.assertTrue(formula.counts)

    @given(st.text(alphabet="HCONaClZn()[]{}0123456789.·^+-½/ ", max_size=40))
    def test_what_is_read_reads_again_as_the_same(self, text: str) -> None:
        try:
            formula = parse_formula(text)
        except Refusal:
            return
        again = parse_formula(formula.text)
        self.assertEqual((again.counts, again.charge, again.text), (formula.counts, formula.charge, formula.text))
