"""Solubility rules and electrode potentials against printed tables; what they make of equations."""

from __future__ import annotations

import unittest

from claykettle.core.chemistry.equation import balanced_equation
from claykettle.core.chemistry.expectations import expectations
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.potentials import couple_of_metal, couples, displacement, gives_hydrogen
from claykettle.core.chemistry.salts import Salt, salt_of, solubility_of
from claykettle.core.errors import Refusal

# Which salts dissolve, as tables of general chemistry print it: R. H. Petrucci and others, General Chemistry (11th ed.,
# 2017), ch. 5, and the solubilities of the CRC Handbook, section 5, the line at a tenth of a gram in 100 mL (memory).
PRINTED = {
    "yes": "NaCl KBr NH4Cl Na2CO3 (NH4)2S K3PO4 AgNO3 Pb(NO3)2 Ca(C2H3O2)2 CuSO4 ZnSO4 FeCl3 CoCl2 HgCl2 BaCl2 Na2S "
    "Ba(OH)2 NaOH MgSO4 Al2(SO4)3 KClO3 MgCrO4 NH4NO3 Na2C2O4",
    "no": "AgCl AgBr AgI Hg2Cl2 PbI2 BaSO4 SrSO4 PbSO4 CaCO3 BaCO3 CuCO3 Cu(OH)2 Fe(OH)3 Al(OH)3 Mg(OH)2 CuS PbS ZnS "
    "Ag2S Ca3(PO4)2 BaCrO4 PbCrO4 CaF2 CaC2O4 CuI",
    "slight": "CaSO4 Ag2SO4 PbCl2 Ca(OH)2 AgC2H3O2",
}
SERIES = (
    "Li", "K", "Ba", "Ca", "Na", "Mg", "Al", "Mn", "Zn", "Cr", "Fe", "Cd", "Co", "Ni", "Sn", "Pb", "H2", "Cu", "Ag",
    "Hg", "Pt", "Au",
)  # fmt: skip
"""The activity series of general chemistry, hydrogen between lead and copper (common practice)."""


class Salts(unittest.TestCase):
    def test_every_salt_of_the_printed_table(self) -> None:
        for answer, texts in PRINTED.items():
            for text in texts.split():
                found = solubility_of(parse_formula(text))
                with self.subTest(text):
                    self.assertIsNotNone(found)
                    assert found is not None
                    self.assertEqual(found.dissolves, answer)

    def test_cation_charge_and_anion_are_told_apart(self) -> None:
        rows = {
            "Fe2(SO4)3": Salt("Fe", 3, "SO4"), "(NH4)2SO4": Salt("NH4", 1, "SO4"), "CoCl2.6H2O": Salt("Co", 2, "Cl"),
            "Hg2Cl2": Salt("Hg", 1, "Cl"), "HgCl2": Salt("Hg", 2, "Cl"), "NH4NO3": Salt("NH4", 1, "NO3"),
        }  # fmt: skip
        for text, salt in rows.items():
            with self.subTest(text):
                self.assertEqual(salt_of(parse_formula(text)), salt)

    def test_what_is_no_salt_is_not_judged(self) -> None:
        for text in ("H2O", "CO2", "HCl", "C6H12O6", "SO4^2-", "KAl(SO4)2.12H2O", "Zn", "NaCl2"):
            with self.subTest(text):
                self.assertIsNone(solubility_of(parse_formula(text)))


class Potentials(unittest.TestCase):
    def test_the_series_is_that_of_the_printed_tables(self) -> None:
        found = [couple_of_metal(symbol) for symbol in SERIES]
        volts = [row.volt for row in found if row is not None]
        self.assertEqual(len(volts), len(SERIES))
        self.assertEqual(volts, sorted(volts))

    def test_at_least_thirty_are_listed_and_each_ion_is_one(self) -> None:
        self.assertGreaterEqual(len(couples()), 30)
        for ion in couples():
            self.assertGreater(parse_formula(ion).charge, 0)

    def test_cells_that_every_book_prints(self) -> None:
        """Zinc and copper 1.10 V, copper and silver 0.46 V: textbook cells, from memory."""
        self.assertAlmostEqual(displacement("Zn", "Cu^2+").volt, 1.10, delta=0.01)
        self.assertAlmostEqual(displacement("Cu", "Ag^+").volt, 0.46, delta=0.01)

    def test_who_gases_in_acid(self) -> None:
        for metal in ("Mg", "Al", "Zn", "Fe"):
            self.assertTrue(gives_hydrogen(metal).happens)
        for metal in ("Cu", "Ag", "Au"):
            self.assertFalse(gives_hydrogen(metal).happens)

    def test_too_close_is_not_decided_and_the_unlisted_refused(self) -> None:
        self.assertIsNone(displacement("Sn", "Pb^2+").happens)
        with self.assertRaises(Refusal) as caught:
            displacement("U", "Cu^2+")
        self.assertEqual(caught.exception.faults[0].code, "no-potential")


class Equations(unittest.TestCase):
    def said(self, text: str) -> list[tuple[str, str]]:
        """Level and text of what is expected."""
        return [(row.level, row.text) for row in expectations(balanced_equation(text))]

    def test_the_solid_is_named_with_its_rule(self) -> None:
        rows = self.said("BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)")
        self.assertEqual([level for level, _ in rows], ["good", "good"])
        self.assertIn("BaSO4 comes out: sulfates dissolve, but not those of barium", rows[0][1])

    def test_a_state_that_speaks_against_the_rule_is_watched(self) -> None:
        rows = self.said("BaCl2(aq) + Na2SO4(aq) -> BaSO4(aq) + 2 NaCl(s)")
        self.assertEqual([level for level, _ in rows], ["watch", "watch"])

    def test_displacement_names_its_side_reaction(self) -> None:
        rows = self.said("Zn(s) + CoCl2(aq) -> ZnCl2(aq) + Co(s)")
        self.assertEqual(rows[0], ("good", "Zn drives Co out of Co^2+: +0.48 V."))
        self.assertIn("Bubbles are hydrogen", rows[1][1])
        self.assertEqual(len(self.said("2 AgNO3 + Cu -> Cu(NO3)2 + 2 Ag")), 1)

    def test_what_does_not_happen_is_said(self) -> None:
        self.assertIn("does not drive Zn out", self.said("Cu + ZnSO4 -> CuSO4 + Zn")[0][1])
        self.assertIn("sets no hydrogen free", self.said("Cu + 2 HCl -> CuCl2 + H2")[0][1])

    def test_aluminium_s_skin_and_nitric_acid_are_not_forgotten(self) -> None:
        self.assertIn("oxide skin", self.said("2 Al + 3 CuCl2 -> 2 AlCl3 + 3 Cu")[0][1])
        rows = self.said("3 Cu + 8 HNO3 -> 3 Cu(NO3)2 + 2 NO + 4 H2O")
        self.assertIn("in the hood", rows[0][1])

    def test_of_what_it_does_not_know_it_is_silent(self) -> None:
        self.assertEqual(self.said("CH4 + 2 O2 -> CO2 + 2 H2O"), [])
        self.assertEqual(self.said("Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"), [])
