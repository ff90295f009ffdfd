"""Where a judgement turns: each limit from both sides, so that none can be moved unnoticed (`./kettle mutate`)."""

from __future__ import annotations

import math
import unittest
from types import SimpleNamespace
from typing import Any

from uncertainties import ufloat

from claykettle.core.errors import Refusal
from claykettle.core.judgement import replicates, suspect_case, suspect_words, suspects
from claykettle.core.judgement.constancy import settled_value
from claykettle.core.judgement.ratios import is_inside, judge_choice, judge_formula, said_of
from claykettle.core.judgement.replicates import (
    Agreement,
    Comparison,
    agreement,
    chi_squared_tail,
    judge_replicates,
    sample_deviation,
)
from claykettle.core.method import Cause, ReadingShifted
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import unit
from claykettle.core.verdict import candidate
from tests.core.test_crucible_methods import tin

METHOD = method_named("combination")
EDGE = 1e-9
"""As near to a limit as a figure is put on either side of it."""


class Candidates(unittest.TestCase):
    def test_a_candidate_is_inside_up_to_two_standard_uncertainties(self) -> None:
        self.assertTrue(is_inside(ufloat(1.0, 0.5), 0.0))
        self.assertFalse(is_inside(ufloat(1.0, 0.5), -EDGE))
        self.assertTrue(is_inside(ufloat(1.0, 0.5), 2.0))
        self.assertFalse(is_inside(ufloat(1.0, 0.5), 2.0 + EDGE))

    def test_what_is_said_of_it_turns_there_too(self) -> None:
        self.assertEqual(said_of(2.0), "inside the band")
        self.assertEqual(said_of(-2.0), "inside the band")
        self.assertEqual(said_of(2.04), "1.0 times the band above it")
        self.assertEqual(said_of(-3.1), "1.6 times the band below it")

    def test_match_near_and_no_turn_at_two_and_three(self) -> None:
        for misfit, status in ((2.0, "match"), (2.0 + EDGE, "near"), (3.0, "near"), (3.0 + EDGE, "no")):
            self.assertEqual((candidate("X", 1, misfit).status, candidate("X", 1, -misfit).status), (status, status))

    def test_four_of_many_that_fit_are_named(self) -> None:
        rows = [candidate(f"ZnSO4·{n}H2O", n, 0.1 * n) for n in range(1, 6)]
        _, four = judge_formula("x", "x = 7", rows[:4])
        self.assertIn("between 4 formulas", four.text)
        self.assertIn("ZnSO4·4H2O)", four.text)
        _, five = judge_formula("x", "x = 7", rows)
        self.assertIn("ZnSO4·4H2O, …)", five.text)
        self.assertNotIn("ZnSO4·5H2O", five.text)

    def test_one_equation_alone_has_no_others(self) -> None:
        rows = [candidate("A", None, 0.1), candidate("B", None, 9.0)]
        self.assertTrue(judge_choice("x", "x", rows[:1])[1].text.endswith("fits A."))
        self.assertIn("none of the other 1", judge_choice("x", "x", rows)[1].text)
        self.assertEqual(judge_choice("x", "x", rows[1:])[1].code, "formula-none")


class Constant(unittest.TestCase):
    def settled(self, step: float) -> str:
        options = HydrateOptions.model_validate({"constant_value": "mean"})
        return settled_value([0.032 + step, 0.032], 0.0, options).key

    def test_two_weighings_are_enough_and_the_binary_rounding_of_a_tolerance_is_absorbed(self) -> None:
        """5 mg and half a nanogram more, of a mass of 32 g."""
        self.assertEqual(self.settled(5e-6), "mean")
        self.assertEqual(self.settled(5e-6 + 4.5e-13), "mean")
        self.assertEqual(self.settled(5e-6 + 5.5e-13), "last")

    def test_one_weighing_is_not_constant(self) -> None:
        options = HydrateOptions.model_validate({"constant_value": "mean"})
        self.assertEqual(settled_value([0.032], 0.0, options).key, "last")


class Replicates(unittest.TestCase):
    def test_trials_agree_down_to_a_probability_of_one_in_twenty(self) -> None:
        self.assertTrue(Agreement(1, 1, 0.05).agrees)
        self.assertFalse(Agreement(1, 1, 0.0499).agrees)

    def test_two_values_are_the_least(self) -> None:
        self.assertIsNone(agreement([1.0], [0.1]))
        self.assertIsNotNone(agreement([1.0, 1.1], [0.1, 0.1]))
        self.assertIsNone(sample_deviation([1.0]))
        self.assertAlmostEqual(sample_deviation([1.0, 3.0]) or 0, math.sqrt(2))

    def said(self, degrees: int, **more: Any) -> str:
        usual: dict[str, Any] = {
            "labels": ("1", "2", "3")[: degrees + 1],
            "values": (1.0, 1.0, 1.0)[: degrees + 1],
            "uncertainties": (0.1,) * (degrees + 1),
            "mean": 1.0,
            "standard_uncertainty": 0.1,
            "agreement": Agreement(0.1, degrees, 0.9),
            "odd": None,
            "rest_agrees": False,
            "accepted": None,
        }
        found = Comparison(**usual | more)
        return " ".join(verdict.text for verdict in judge_replicates(found, "x", "ratio", unit("1")))

    def test_trials_that_stand_still_show_no_trend(self) -> None:
        for values, way in (((1, 2, 3), "rises"), ((3, 2, 1), "falls"), ((1, 1, 2), ""), ((2, 1, 1), ""), ((1, 2), "")):
            self.assertEqual(replicates._one_way(values), way, values)

    def test_no_scatter_at_all_is_certain(self) -> None:
        self.assertEqual(chi_squared_tail(0.0, 3), 1.0)
        self.assertEqual(chi_squared_tail(0.0, 4), 1.0)

    def test_the_mean_is_accurate_up_to_two_standard_uncertainties(self) -> None:
        self.assertIn("Precise and accurate", self.said(2, mean=1.5, accepted=1.0, standard_uncertainty=0.25))
        self.assertIn("Precise, not accurate", self.said(2, mean=1.5, accepted=0.99, standard_uncertainty=0.25))

    def test_a_trend_lies_beyond_what_the_first_and_the_last_trial_explain(self) -> None:
        """Their band is 2 × √(0.15² + 0.20²) = 0.5."""
        course = {"uncertainties": (0.15, 0.2, 0.2)}
        self.assertNotIn("rises", self.said(2, values=(1.0, 1.25, 1.5), **course))
        self.assertIn("rises", self.said(2, values=(1.0, 1.25, 1.501), **course))

    def test_degrees_of_freedom_are_counted_as_people_do(self) -> None:
        self.assertIn("for 1 degree of freedom", self.said(1))
        self.assertIn("for 2 degrees of freedom", self.said(2))

    def test_a_mean_is_accurate_within_its_band(self) -> None:
        self.assertIn("Precise and accurate", self.said(1, accepted=1.2 - EDGE))
        self.assertIn("Precise, not accurate", self.said(1, accepted=1.2 + EDGE))


def case(measured: float, expected: float = 1.0, spread: float = 0.1) -> Any:
    """What a suspect is held against."""
    return SimpleNamespace(measured=measured, expected=expected, spread=spread)


CAUSE = Cause("x", "x", ReadingShifted("vessel"), believable=1.0)


class Suspects(unittest.TestCase):
    def test_a_dose_is_believable_then_a_stretch_then_too_large(self) -> None:
        for dose, standing in (
            (1.0, "believable"), (1.0 + EDGE, "stretch"), (2.0, "stretch"), (2.0 + EDGE, "too-large"),
            (None, "too-large"),
        ):  # fmt: skip
            self.assertEqual(suspects._standing(case(2.0), CAUSE.believable, 0.5, dose), standing)
        self.assertEqual(suspects._standing(case(0.5), CAUSE.believable, 0.5, 1.0), "wrong-sign")
        self.assertEqual(suspects._standing(case(1.0), CAUSE.believable, 0.5, 1.0), "none")
        self.assertEqual(suspects._standing(case(2.0), CAUSE.believable, 0.0, 1.0), "none")

    def test_a_slip_explains_what_lies_within_two_standard_uncertainties_of_it(self) -> None:
        for measured, standing in (
            (1.8, "believable"), (1.8 - EDGE, "not-this"), (2.2, "believable"), (2.2 + 1e-6, "not-this"),
            (0.5, "wrong-sign"), (1.0, "none"),
        ):  # fmt: skip
            with self.subTest(measured):
                self.assertEqual(suspects._explains(case(measured, spread=0.1 + 1e-12), 2.0), standing)
        self.assertEqual(suspects._explains(case(2.0), 1.0), "none")

    def test_the_gap_is_counted_in_bands(self) -> None:
        self.assertIn("inside the band", suspect_words.said_of_gap(2.0, 0.5))
        self.assertIn("1 times the band", suspect_words.said_of_gap(2.0 + EDGE, 0.5))
        self.assertIn("1.5 times the band", suspect_words.said_of_gap(3.0, 0.5))
        self.assertIn("Something happened", suspect_words.said_of_gap(3.0, suspect_words.SMALL + EDGE))
        self.assertIn("small for a class", suspect_words.said_of_gap(3.0, suspect_words.SMALL))

    def root(self, *residues: float, guess: float = 0.5, most: float = math.inf) -> tuple[float | None, list[float]]:
        """What the search finds when the residues come in this order, the last for ever; and the doses it tried."""
        tried: list[float] = []

        def miss(dose: float) -> float:
            tried.append(dose)
            return residues[min(len(tried), len(residues)) - 1]

        return suspect_case._root(miss, guess, most), tried

    def test_the_search_begins_inside_what_can_be_and_ends_close_enough(self) -> None:
        self.assertEqual(self.root(1.0, 0.5, 0.0, guess=5.0, most=1.0)[1][1], 0.9)
        self.assertEqual(self.root(1.0, 0.99e-9), (0.5, [0.0, 0.5]))
        found, tried = self.root(1.0, 1.01e-9, 0.0)
        self.assertEqual((found, len(tried)), (tried[2], 3))
        self.assertEqual(self.root(1.0, 2.0)[0], None)  # it leads below zero
        self.assertEqual(self.root(1.0, 0.9, most=1.0)[0], None)  # it leads beyond all of it
        self.assertEqual(self.root(1.0, 1.0)[0], None)  # it leads nowhere

    def test_the_search_is_given_up_after_twelve_rounds(self) -> None:
        found, tried = self.root(*(0.999**n for n in range(40)))
        self.assertEqual((found, len(tried)), (None, 13))

    def test_what_is_expected_lies_above_zero_and_below_a_thousand_million(self) -> None:
        trial = tin("25.700 g", "25.700 g", product="SnS").trial
        for text, is_taken in (("0", False), ("0.001", True), ("999999999", True), ("1000000001", False)):
            with self.subTest(text):
                if is_taken:
                    suspects.suspicion(trial, METHOD, text)
                    continue
                with self.assertRaises(Refusal):
                    suspects.suspicion(trial, METHOD, text)

    def test_a_dose_of_nothing_changes_nothing(self) -> None:
        trial = tin("25.700 g", "25.700 g", product="SnS").trial
        self.assertAlmostEqual(suspects.result_at(trial, METHOD, "smoke", 0.0, "1").result, 1.0)
        with self.assertRaises(Refusal):
            suspects.result_at(trial, METHOD, "smoke", math.inf, "1")
