"""What one more heating is likely to change, and what a better balance or a larger sample would buy."""

from __future__ import annotations

import unittest
from decimal import Decimal

from claykettle.core.judgement.advice import advise
from claykettle.core.judgement.next_heating import what_follows
from claykettle.core.methods.hydrate.method import METHOD
from claykettle.core.run import TrialEvaluation
from tests.support.runs import ZINC, codes, evaluated, run

WIDTHS = {"balance": Decimal("0.000001")}


def said(trial: TrialEvaluation) -> str:
    """The sentence on the next heating, empty without one."""
    return next((row.text for row in trial.verdicts if row.code == "next-heating"), "")


class NextHeating(unittest.TestCase):
    def test_a_series_that_shrinks_by_a_tenth_each_time(self) -> None:
        """100, 10, 1 lost: 0.1 next, and 0.1 + 0.01 + … = 1/9 altogether (the geometric series)."""
        found = what_follows([Decimal(n) for n in (1000, 990, 989)])
        assert found is not None
        for value, expected in zip(found, (-0.1, -1 / 9, -1 / 9), strict=True):
            self.assertAlmostEqual(float(value), expected)

    def test_what_the_balance_leaves_open_is_counted_in(self) -> None:
        """10 and 1 lost, each give or take 1: at most 2 of 9, and 2 · (2/9)/(1 − 2/9) = 4/7 altogether."""
        found = what_follows([Decimal(n) for n in (1000, 990, 989)], Decimal(1))
        assert found is not None
        self.assertAlmostEqual(float(found[2]), -4 / 7)
        self.assertIsNone(what_follows([Decimal(n) for n in (1000, 997, 995)], Decimal(1)))

    def test_two_heatings_tell_nothing_yet(self) -> None:
        """The first loss is of all the water: beside it any second one looks like the last."""
        self.assertEqual(said(evaluated({**ZINC, "vessel_residue": ["32.151 g", "32.140 g"]})), "")

    def test_nothing_is_told_of_a_wavering_or_short_series(self) -> None:
        for masses in ((5, 4), (5, 4, 5), (5, 4, 2), (5, 4, 4), (5, 5, 4)):
            with self.subTest(masses):
                self.assertIsNone(what_follows([Decimal(n) for n in masses]))

    def test_it_says_whether_it_matters_beside_the_band(self) -> None:
        # 15 mg and 2 mg lost: 0.3 mg may follow, and 1.8 mg for all that a milligram tells: neither is said
        self.assertEqual(said(evaluated()), "")
        fine = {**ZINC, "vessel_residue": ["32.3510 g", "32.1510 g", "32.1360 g", "32.1349 g"]}
        self.assertIn("little beside the band", said(evaluated(fine)))
        losing = evaluated({**ZINC, "vessel_residue": ["32.300 g", "32.220 g", "32.180 g"]})
        self.assertIn("Once more", said(losing))
        self.assertEqual(said(evaluated({**ZINC, "vessel_residue": ["32.151 g"]})), "")


class Tolerance(unittest.TestCase):
    def test_a_limit_below_the_balance_is_said_not_refused(self) -> None:
        trial = evaluated(options={"salt": "ZnSO4", "tolerance": "0.0001 g"})
        self.assertIn("tolerance-below-balance", codes(trial))
        self.assertNotIn("tolerance-below-balance", codes(evaluated()))


class Choices(unittest.TestCase):
    def bands(self, readings: dict[str, object] | None = None) -> dict[str, float]:
        trial = evaluated(readings)
        return {row.choice: row.share for row in advise(trial.trial, METHOD, run().half_widths)}

    def test_twice_the_sample_halves_the_band(self) -> None:
        """Every uncertainty here is one of a weighing, so the ratio's band goes with one over the sample mass."""
        self.assertAlmostEqual(self.bands()["twice the sample"], 0.5, delta=0.02)

    def test_what_helps_depends_on_what_limits(self) -> None:
        still = {**ZINC, "vessel_residue": ["32.150 g", "32.139 g", "32.134 g"]}
        flat = {**ZINC, "vessel_residue": ["32.134 g", "32.134 g"]}
        self.assertLess(self.bands(still)["a last heating that changes nothing more"], 0.5)
        self.assertNotIn("a last heating that changes nothing more", self.bands(flat))
        self.assertAlmostEqual(self.bands(flat)["a balance ten times finer"], 0.1, delta=0.01)

    def test_nothing_is_advised_without_a_result(self) -> None:
        self.assertEqual(self.bands({"vessel": "31.204 g"}), {})
