"""Facts of the data files, each with its source: published annex and handbook tables, from memory where so said."""

from __future__ import annotations

import unittest

from claykettle.core.chemistry.expectations import is_acid
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.hydrates import given_off, known_salt
from claykettle.core.chemistry.ion_tests import anion_test
from claykettle.core.chemistry.salts import solubility_of
from claykettle.core.chemistry.solubility import CELSIUS, curve_named
from claykettle.core.chemistry.substances import shipped_substances

# Harmonised classification, Regulation (EC) 1272/2008, annex VI, table 3; entered from memory. A word of the sentence
# that each hazard statement becomes here.
ANNEX = {
    "CoCl2.6H2O": ("may cause cancer", "may harm fertility", "allergy of skin and breathing"),  # H350i H360F H334 H317
    "NiSO4.6H2O": ("may cause cancer", "may harm the unborn", "allergy of skin and breathing"),  # H350i H360D H334 H317
    "Pb(NO3)2": ("may harm the unborn", "builds up in the body"),  # H360 H373
    "KMnO4": ("helps fire", "suspected to harm the unborn"),  # H272 H361d
    "C7H6O3": ("harmful if swallowed", "can damage the eyes", "suspected to harm the unborn"),  # H302 H318 H361d
    "AlCl3": ("burns skin", "reacts violently with water"),  # H314, EUH014
    "AgNO3": ("burns skin", "helps fire"),  # H314 H272
    "Ba(NO3)2": ("helps fire", "harmful if swallowed"),  # H272 H302
    "K2CrO4": ("may cause cancer",),  # H350i
    "HNO3": ("burns skin", "helps fire"),  # H314 H272
    "C4H6O3": ("burns skin", "catches fire"),  # H314 H226
}


class Hazards(unittest.TestCase):
    def test_the_most_dangerous_say_what_the_annex_says(self) -> None:
        for formula, words in ANNEX.items():
            wanted = parse_formula(formula).text
            substance = next(row for row in shipped_substances() if row.formula.text == wanted)
            said = "; ".join(substance.hazards)
            for word in words:
                with self.subTest(formula, word=word):
                    self.assertIn(word, said)


class Water(unittest.TestCase):
    def test_salts_at_the_edge_of_the_rules(self) -> None:
        """Solubility products of the CRC Handbook, from memory: LiF 1.8e-3, Li3PO4 2e-11, BiI3 8e-19."""
        for formula, dissolves in (
            ("LiF", "slight"), ("Li2CO3", "slight"), ("Li3PO4", "no"), ("LiCl", "yes"), ("Na3PO4", "yes"),
            ("CuF2", "slight"), ("AlF3", "slight"), ("FeF3", "slight"), ("BiI3", "no"), ("NaF", "yes"),
            ("BaO", "yes"), ("CaO", "slight"), ("MgO", "no"), ("CuO", "no"),
        ):  # fmt: skip
            found = solubility_of(parse_formula(formula))
            with self.subTest(formula):
                self.assertEqual(found.dissolves if found else None, dissolves)

    def test_curves_between_the_tens(self) -> None:
        """g of anhydrous salt per 100 g of water, handbook tables, from memory."""
        for name, celsius, grams in (("potash alum", 50, 17.0), ("potash alum", 70, 40.0), ("borax", 50, 10.5)):
            curve = curve_named(name)
            assert curve is not None
            with self.subTest(name, celsius=celsius):
                self.assertAlmostEqual(100 * curve.at(CELSIUS + celsius), grams, places=6)

    def test_a_chlorate_is_no_chloride(self) -> None:
        """Silver nitrate gives no curd with a chlorate (common practice)."""
        self.assertEqual(anion_test(parse_formula("KClO3")), "")
        self.assertIn("silver nitrate", anion_test(parse_formula("BaCl2.2H2O")))

    def test_what_begins_with_hydrogen_need_not_be_an_acid(self) -> None:
        for formula, acid in (("HCl", True), ("H2SO4", True), ("HC2H3O2", True), ("H2O2", False), ("H2O", False),
                              ("HgCl2", False), ("HoCl3", False)):  # fmt: skip
            with self.subTest(formula):
                self.assertEqual(is_acid(parse_formula(formula)), acid)

    def test_what_goes_off_with_the_water(self) -> None:
        """Chlorides of small, highly charged ions hydrolyse, most metal nitrates decompose (common practice)."""
        for formula, word in (
            ("MgCl2.6H2O", "chloride"), ("AlCl3.6H2O", "chloride"), ("FeCl3.6H2O", "chloride"), ("BaCl2.2H2O", ""),
            ("CoCl2.6H2O", ""), ("Cu(NO3)2.3H2O", "nitrogen"), ("Zn(NO3)2.6H2O", "nitrogen"), ("Sr(NO3)2.4H2O", ""),
            ("CuSO4.5H2O", ""), ("FeCl2.4H2O", ""),
        ):  # fmt: skip
            found = given_off(parse_formula(formula))
            with self.subTest(formula):
                self.assertEqual(bool(found), bool(word))
                self.assertIn(word, found)

    def test_cadmium_sulfate_holds_eight_thirds(self) -> None:
        """The usual hydrate of the jar, 3 CdSO4·8 H2O (handbook): 18.7 % water."""
        salt = known_salt(parse_formula("CdSO4"))
        assert salt is not None
        richest = salt.hydrates[0]
        self.assertAlmostEqual(float(richest.water) * 18.015 / 1000 / richest.molar_mass, 0.187, delta=0.001)
