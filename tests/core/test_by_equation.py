"""What precipitation and synthesis share: reagents by one equation, what limits, and what either refuses of them."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.errors import Refusal
from claykettle.core.methods.parts.by_equation import ByEquation, consumes, extents_of, portions, theoretical_kg
from claykettle.core.methods.registry import method_named
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import parse_options, run_from
from tests.support.runs import value

METHODS = ("precipitation", "synthesis")
BLANC_FIXE = "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)"
SULFATE = {"formula": "Na2SO4"}
MOLAR = {"BaCl2.2H2O": 244.26, "Na2SO4": 142.04, "BaSO4": 233.39}
"""g/mol, IUPAC 2021 abridged."""


def options(method: str, *reagents: Any, equation: str = BLANC_FIXE, **more: Any) -> ByEquation[Any]:
    """Options of one of the two."""
    given_: dict[str, Any] = {"equation": equation, "product": "BaSO4", "reagents": list(reagents)} | more
    found: Any = parse_options(method_named(method), given_)
    return found


def trial(method: str, *reagents: str, **readings: str) -> TrialEvaluation:
    """So much of each, as far as it is taken."""
    document = {
        "format": "clay-kettle/run", "version": 1, "method": method,
        "options": {"equation": BLANC_FIXE, "product": "BaSO4", "reagents": list(reagents)},
        "instruments": {"balance": {"half_width": "0.001 g"}, "liquid_volume": {"half_width": "0.05 mL"}},
        "trials": [{"label": "1", "readings": readings}],
    }  # fmt: skip
    return evaluate_run(run_from(document)).trials[0]


class Both(unittest.TestCase):
    def test_the_one_that_runs_out_and_what_can_come_are_the_same_in_both(self) -> None:
        """By hand: 1.000 g of the dihydrate are 4.094 mmol, 25 mL of 0.25 mol/L 6.25 mmol; 0.9555 g can come."""
        wanted = 1.000 / MOLAR["BaCl2.2H2O"] * MOLAR["BaSO4"]
        for method in METHODS:
            found = trial(method, "BaCl2.2H2O", "Na2SO4 0.250 mol/L", reagent_1="1.000 g", reagent_2="25.00 mL")
            with self.subTest(method):
                self.assertEqual(found.said["limiting"], "BaCl2·2H2O")
                self.assertAlmostEqual(value(found, "theoretical_yield"), wanted, places=4)

    def test_nothing_is_said_to_run_out_while_one_is_not_yet_taken(self) -> None:
        for method in METHODS:
            found = trial(method, "BaCl2.2H2O", "Na2SO4 0.250 mol/L", reagent_1="1.000 g")
            with self.subTest(method):
                self.assertEqual(found.said, {})
                self.assertIsNone(found.result("theoretical_yield"))

    def test_the_bars_say_what_is_left_and_what_is_not_yet_taken(self) -> None:
        for method in METHODS:
            found = trial(method, "BaCl2.2H2O", "Na2SO4 0.250 mol/L", reagent_1="1.000 g")
            picture = method_named(method).judging.pictures(found.trial).reacting
            assert picture is not None
            with self.subTest(method):
                self.assertEqual([bar.label for bar in picture.bars], ["BaCl2·2H2O"])
                self.assertEqual(picture.open, ("Na2SO4 solution",))
            both = trial(method, "BaCl2.2H2O", "Na2SO4 0.250 mol/L", reagent_1="1.000 g", reagent_2="25.00 mL")
            picture = method_named(method).judging.pictures(both.trial).reacting
            assert picture is not None
            with self.subTest(method, taken="both"):
                self.assertEqual([bar.is_limiting for bar in picture.bars], [True, False])
                self.assertEqual(picture.bars[1].left, "2.16 mmol left")
                self.assertEqual(picture.sentence, "BaCl2·2H2O runs out first.")

    def test_without_a_list_every_reactant_is_taken_as_the_equation_has_it(self) -> None:
        for method in METHODS:
            found = options(method)
            with self.subTest(method):
                self.assertEqual([row.formula.text for row in found.taken], ["BaCl2", "Na2SO4"])
                self.assertEqual([found.per_extent(n) for n in found.held], [1.0, 1.0])

    def test_a_hydrate_stands_for_its_salt(self) -> None:
        for method in METHODS:
            found = options(method, "BaCl2.2H2O", "Na2SO4.10H2O")
            with self.subTest(method):
                self.assertEqual([found.species(n).formula.text for n in (1, 2)], ["BaCl2", "Na2SO4"])


class Refused(unittest.TestCase):
    def test_each_is_refused_by_both_at_the_same_place(self) -> None:
        for reagents, more, code, path in (
            (["NaCl"], {}, "no-such-reagent", "options.reagents[0]"),
            (["BaCl2", "BaCl2.2H2O"], {}, "two-for-one", "options.reagents[1]"),
            (["BaCl2"], {"product": "BaCO3"}, "no-such-product", "options.product"),
            ([SULFATE | {"concentration": "0 mol/L"}], {}, "not-positive", "options.reagents[0].concentration"),
            ([SULFATE | {"concentration": "2 g"}], {}, "wrong-dimension", "options.reagents[0].concentration"),
            ([{"formula": "Xy"}], {}, "unknown-element", "options.reagents[0].formula"),
            ([{"formula": "BaCl2", "colour": "white"}], {}, "unknown-field", "options.reagents[0].colour"),
            ([7], {}, "", "options.reagents[0]"),
        ):  # fmt: skip
            for method in METHODS:
                with self.subTest(method, reagents=reagents), self.assertRaises(Refusal) as caught:
                    options(method, *reagents, **more)
                fault = caught.exception.faults[0]
                self.assertEqual(fault.path, path)
                if code:
                    self.assertEqual(fault.code, code)

    def test_more_reagents_than_a_method_takes(self) -> None:
        for method in METHODS:
            most = len(options(method).taken) and type(options(method)).most
            with self.subTest(method), self.assertRaises(Refusal) as caught:
                options(method, *["BaCl2"] * (most + 1))
            self.assertEqual(caught.exception.faults[0].path, "options.reagents")

    def test_a_reading_of_a_reagent_that_is_not_on_the_list(self) -> None:
        for method in METHODS:
            with self.subTest(method), self.assertRaises(Refusal) as caught:
                trial(method, "BaCl2.2H2O", reagent_1="1.000 g", reagent_2="1.000 g")
            self.assertEqual(caught.exception.faults[0].path, "trials[0].readings.reagent_2")

    def test_a_mass_of_what_is_measured_as_a_solution(self) -> None:
        for method in METHODS:
            with self.subTest(method), self.assertRaises(Refusal) as caught:
                trial(method, "BaCl2.2H2O", "Na2SO4 0.250 mol/L", reagent_1="1.000 g", reagent_2="5.0 g")
            fault = caught.exception.faults[0]
            self.assertEqual((fault.path, fault.code), ("trials[0].readings.reagent_2", "wrong-dimension"))


class Portions(unittest.TestCase):
    @given(st.floats(1e-4, 0.1), st.floats(0.0, 3.0))
    def test_what_goes_with_the_first_leaves_it_limiting_by_its_excess(self, first: float, excess: float) -> None:
        found = options("synthesis", "BaCl2.2H2O", "Na2SO4 0.250 mol/L")
        rows = portions(found, first, excess)
        one, other = extents_of(found, rows)
        self.assertAlmostEqual(other / one, 1 + excess, places=9)
        self.assertAlmostEqual(theoretical_kg(found, rows) / (one * MOLAR["BaSO4"] / 1000), 1, places=4)

    @given(st.floats(1e-4, 0.1))
    def test_a_kilogram_of_the_first_consumes_what_the_equation_says(self, first: float) -> None:
        """2 Al on 3 CuSO4: 1.5 mol of the salt for a mol of the metal."""
        equation = "2 Al + 3 CuSO4 -> 3 Cu + Al2(SO4)3"
        found = options("synthesis", "Al", "CuSO4.5H2O", equation=equation, product="Cu")
        self.assertAlmostEqual(consumes(found)["CuSO4·5H2O"] * first / (1.5 * first / 0.026982), 1, places=9)
