"""A reagent table before anything is weighed: grams, millilitres, moles and equivalents become what is to be taken."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.errors import Refusal
from claykettle.core.methods.synthesis.options import Reagent, SynthesisOptions, planned
from claykettle.formats.run_file import read_options

ASPIRIN = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"
SALICYLIC, ANHYDRIDE = 138.122, 102.089
"""g/mol, IUPAC 2021."""


def options(*reagents: Any, equation: str = ASPIRIN) -> SynthesisOptions:
    """The options of a synthesis with these reagents."""
    return read_options(SynthesisOptions, {"equation": equation, "reagents": list(reagents)}, "options")


class ToTake(unittest.TestCase):
    def test_grams_are_taken_as_they_are(self) -> None:
        self.assertEqual(planned(options("C7H6O3 2.0 g", "C4H6O3")), {"reagent_1": 0.002})

    def test_moles_become_grams_with_the_purity(self) -> None:
        """0.02 mol of 138.122 g/mol, 97 %: 2.848 g."""
        found = planned(options("C7H6O3 97 % 0.02 mol", "C4H6O3"))
        self.assertAlmostEqual(1000 * found["reagent_1"], 0.02 * SALICYLIC / 0.97, places=4)

    def test_moles_of_a_solution_become_its_volume(self) -> None:
        """0.01 mol of 0.5 mol/L: 20 mL."""
        found = planned(options("NaOH 0.5 mol/L 0.01 mol", "HCl", equation="NaOH + HCl -> NaCl + H2O"))
        self.assertAlmostEqual(1e6 * found["reagent_1"], 20.0, places=9)

    def test_grams_of_a_liquid_become_its_volume(self) -> None:
        """5.40 g of 1.08 g/mL: 5 mL."""
        found = planned(options("C7H6O3", "C4H6O3 1.08 g/mL 5.40 g"))
        self.assertAlmostEqual(1e6 * found["reagent_2"], 5.0, places=9)

    def test_equivalents_count_from_the_first_that_is_planned_otherwise(self) -> None:
        """2.000 g are 14.480 mmol; 1.5 equivalents 21.72 mmol, 2.2174 g, 2.0531 mL; 0.05 of the acid 0.724 mmol."""
        found = planned(options("C7H6O3 2.000 g", "C4H6O3 1.08 g/mL 1.5 eq", "H3PO4 0.05 eq catalyst"))
        mol = 2.000 / SALICYLIC
        self.assertAlmostEqual(1e6 * found["reagent_2"], 1.5 * mol * ANHYDRIDE / 1.08, places=4)
        self.assertAlmostEqual(1000 * found["reagent_3"], 0.05 * mol * 97.994, places=5)

    def test_a_catalyst_in_grams_is_no_measure_for_equivalents(self) -> None:
        self.assertEqual(planned(options("C7H6O3 1 eq", "C4H6O3", "H3PO4 1.0 g catalyst")), {"reagent_3": 0.001})

    def test_a_decimal_comma_is_taken(self) -> None:
        found = planned(options("C7H6O3 0,01 mol", "C4H6O3 1,5 eq"))
        self.assertAlmostEqual(1000 * found["reagent_2"], 0.015 * ANHYDRIDE, places=5)

    @given(st.floats(0.01, 50), st.floats(0.1, 5), st.floats(20, 100))
    def test_what_is_planned_in_equivalents_comes_out_as_such(self, grams: float, times: float, purity: float) -> None:
        """The way back: the amount taken over the first's is the equivalents that were asked for."""
        found = options(f"C7H6O3 {grams:.4f} g", f"C4H6O3 {purity:.2f} % 1.08 g/mL {times:.4f} eq")
        taken = planned(found)
        ratio = found.reagent(2).mol_in(taken["reagent_2"]) / found.reagent(1).mol_in(taken["reagent_1"])
        self.assertAlmostEqual(ratio / float(f"{times:.4f}"), 1, places=9)


class AsText(unittest.TestCase):
    def test_a_reagent_written_is_read_again_as_itself(self) -> None:
        for text in (
            "C7H6O3",
            "C7H6O3 97 % 2.0 g",
            "C4H6O3 98 % 1.08 g/mL 1.5 eq",
            "NaOH 2 mol/L 25 mL",
            "H3PO4 85 % 1.69 g/mL 0.5 mL catalyst",
            "H2O 1.00 g/mL solvent",
        ):
            with self.subTest(text):
                reagent = Reagent.model_validate(text)
                self.assertEqual(reagent.as_text, text)
                self.assertEqual(Reagent.model_validate(reagent.as_text), reagent)


class Refused(unittest.TestCase):
    def test_each_at_its_field(self) -> None:
        for reagent, code, field in (
            ({"formula": "C4H6O3", "planned": "5 mL"}, "density-missing", "density"),
            ({"formula": "C4H6O3", "planned": "0 g"}, "not-a-number", "planned"),
            ({"formula": "C4H6O3", "planned": "0 eq"}, "not-a-number", "planned"),
            ({"formula": "C4H6O3", "planned": "5 K"}, "not-a-number", "planned"),
            ({"formula": "C4H6O3", "planned": "two eq"}, "not-a-number", "planned"),
            ({"formula": "C4H6O3", "concentration": "2 mol/L", "planned": "5 g"}, "not-measured", "planned"),
            ({"formula": "C4H6O3", "concentration": "2 mol/L", "purity": "98 %"}, "both-forms", "purity"),
            ({"formula": "C4H6O3", "concentration": "2 mol/L", "density": "1.1 g/mL"}, "both-forms", "density"),
            ({"formula": "C4H6O3", "purity": "0 %"}, "out-of-range", "purity"),
            ({"formula": "C4H6O3", "role": "bystander"}, "pattern", "role"),
        ):
            with self.subTest(reagent), self.assertRaises(Refusal) as caught:
                options("C7H6O3", reagent)
            (fault,) = caught.exception.faults
            self.assertEqual(fault.path, f"options.reagents[1].{field}")
            if code != "pattern":
                self.assertEqual(fault.code, code)

    def test_a_figure_without_a_unit_says_what_units_there_are(self) -> None:
        with self.assertRaises(Refusal) as caught:
            options("C7H6O3", "C4H6O3 5 spoons")
        self.assertIn("has no unit known here", caught.exception.faults[0].message)
