"""Reading equations, and refusing those that cannot be."""

from __future__ import annotations

import unittest
from contextlib import suppress

from hypothesis import given, settings
from hypothesis import strategies as st

from claykettle.core.chemistry.equation import balance, balanced_equation, parse_equation
from claykettle.core.errors import Refusal


def fault(text: str, check: bool = False) -> tuple[str, str]:
    """Code and message of the refusal."""
    try:
        if check:
            balanced_equation(text)
        else:
            balance(parse_equation(text))
    except Refusal as refusal:
        return refusal.faults[0].code, refusal.faults[0].message
    raise AssertionError(f"{text} was taken")


class Reading(unittest.TestCase):
    def test_states_coefficients_and_arrows(self) -> None:
        for arrow in ("->", "→", "=", "-->", "⇌"):
            equation = parse_equation(f"Cu2(OH)2CO3(s) {arrow} 2CuO(s) + H2O(g)+CO2(g)")
            self.assertEqual(equation.text, "Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)")
        self.assertEqual(parse_equation("½O2 + H2 -> H2O").text, "1/2 O2 + H2 -> H2O")

    def test_a_plus_of_a_charge_is_no_plus_between_substances(self) -> None:
        equation = parse_equation("Ag^+ + Cl^-(aq) -> AgCl(s)")
        self.assertEqual([row.formula.charge for row in equation.reactants], [1, -1])
        self.assertEqual(parse_equation("Fe^3+ + 3 OH^- -> Fe(OH)3").reactants[1].coefficient, 3)

    def test_what_cannot_be_read_says_why(self) -> None:
        for text, code, words in (
            ("Mg + O2", "equation", "no arrow"),
            ("Mg -> MgO -> Mg", "equation", "2 arrows"),
            ("-> MgO", "equation", "before the arrow"),
            ("Mg + -> MgO", "equation", "missing"),
            ("Mg + Mg -> MgO", "equation", "twice"),
            ("0 Mg -> MgO", "equation", "above 0"),
            ("Mg + Ox -> MgO", "unknown-element", "'Ox' is not an element"),
            ("Fe^3+ + e^- -> Fe^2+", "equation", "half equations"),
            ("A" * 2000, "equation-too-large", "1000"),
        ):
            with self.subTest(text[:30]):
                found, message = fault(text)
                self.assertEqual(found, code)
                self.assertIn(words, message)
        many = " + ".join(f"C{n}H{n}" for n in range(1, 25))
        self.assertEqual(fault(f"{many} -> CO2")[0], "equation-too-large")

    @settings(max_examples=300, deadline=None)
    @given(st.text(alphabet="HONaCl2()[]+->=^ .·½/()sgq3", max_size=40))
    def test_it_never_crashes(self, text: str) -> None:
        with suppress(Refusal):
            balance(parse_equation(text))


class Refusing(unittest.TestCase):
    def test_an_unbalanced_one_is_answered_with_the_balanced_one(self) -> None:
        code, message = fault("Mg + O2 -> MgO", check=True)
        self.assertEqual(code, "unbalanced")
        self.assertIn("Balanced: 2 Mg + O2 -> 2 MgO", message)
        self.assertIn("1 O too few on the right", message)

    def test_one_that_balances_only_in_odd_numbers_is_asked_for_its_missing_product(self) -> None:
        """Aspirin without the acetic acid: 11 to 1, which is algebra and no chemistry."""
        _, message = fault("C7H6O3 + C4H6O3 -> C9H8O4", check=True)
        self.assertIn("only 11 C7H6O3 + C4H6O3 -> 9 C9H8O4 would balance: is a product missing?", message)
        self.assertNotIn("Balanced:", message)

    def test_what_burns_may_have_large_numbers(self) -> None:
        """Octane: 2, 25, 16, 18, as every textbook has it."""
        _, message = fault("C8H18 + O2 -> CO2 + H2O", check=True)
        self.assertIn("Balanced: 2 C8H18 + 25 O2 -> 16 CO2 + 18 H2O", message)

    def test_an_impossible_one_is_answered_with_the_reason(self) -> None:
        for text, words in (
            ("Mg + O2 -> MgO + N2", "N stands only behind the arrow"),
            ("H2O2 -> H2O", "No coefficients"),
            ("Fe^2+ -> Fe^3+", "No coefficients"),
            ("CO + CO2 -> O2", "C stands only before the arrow"),
            # the fewest substances that would have to change sides are named: 3 FeO -> Fe + Fe2O3
            ("Fe + FeO -> Fe2O3", "only with Fe on the other side"),
            ("NO + O2 -> N2O", "only with O2 on the other side"),
            # where several balances fit, none of them has a place for these
            ("Na + Cl2 + H2O -> NaCl + H2O + He", "He stands only behind the arrow"),
            ("C3H8 + O2 + CO2 + NaCl -> CO2 + H2O + CO + Na", "Cl stands only before the arrow"),
            ("H2 + O2 + Na^+ -> H2O + H2O2 + Na", "Na^+ and Na can take no part"),
        ):
            with self.subTest(text):
                self.assertIn(words, fault(text, check=True)[1])

    def test_several_independent_balances_are_said_to_be_several(self) -> None:
        found = balance(parse_equation("KClO3 + HCl -> KCl + H2O + Cl2 + ClO2"))
        self.assertEqual((found.equation, found.independent), (None, 2))
