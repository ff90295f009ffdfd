"""The middle of a class, its band, who lies outside; and when the last bench will be done."""

from __future__ import annotations

import math
import unittest
from random import Random
from statistics import NormalDist

import numpy as np
from scipy import stats

from claykettle.core.lab.remaining import Rest, minutes_left
from claykettle.core.lab.scale import middle, outside, spreads
from claykettle.core.planning.timetable import PlannedStep, Takes


class TheMiddle(unittest.TestCase):
    def test_it_is_the_scaled_median_deviation_of_scipy(self) -> None:
        random = Random(11)
        for count in range(3, 20):
            values = [random.gauss(7, 0.05) for _ in range(count)]
            found = middle(values, [0.0] * count)
            assert found is not None
            self.assertAlmostEqual(float(np.median(values)), found.value, 12)
            # scale="normal" divides by the 75 % point, 0.67449 = 1/1.4826; the standard rounds it to 1.483
            ours = float(stats.median_abs_deviation(values, scale="normal"))
            self.assertAlmostEqual(ours, found.spread, delta=4e-4 * ours)
            self.assertAlmostEqual(2.5 * found.spread / math.sqrt(count), found.expanded, 12)

    def test_a_published_example(self) -> None:
        """Seven results, one far out, of a technical brief of the Analytical Methods Committee (Royal Society of
        Chemistry) on robust statistics (No. 6, 2001; from memory): median 5.2, scaled median deviation 1.04.
        """
        results = [4.5, 4.9, 5.6, 4.2, 6.2, 5.2, 9.9]
        found, both = middle(results, [0.0] * 7), spreads(results, [0.1] * 7)
        assert found is not None and both is not None
        self.assertEqual(5.2, found.value)
        self.assertAlmostEqual(1.04, found.spread, places=2)
        self.assertAlmostEqual(1.04, both[0], places=2)
        self.assertEqual(0.1, both[1])
        self.assertIsNone(spreads([7.0, 7.1], [0.01, 0.01]))

    def test_fewer_than_three_have_none(self) -> None:
        self.assertIsNone(middle([], []))
        self.assertIsNone(middle([7.0, 7.1], [0.01, 0.01]))

    def test_one_strange_bench_does_not_move_it(self) -> None:
        honest = [6.998, 6.992, 7.010, 6.985, 7.004]
        for strange in (6.0, 16.0, 1e6):
            for count in (2, 3, 4, 5):
                found = middle([*honest[:count], strange], [0.02] * (count + 1))
                assert found is not None
                self.assertAlmostEqual(7.0, found.value, delta=0.02)
                self.assertTrue(outside(strange, 0.02, found))
                self.assertFalse(any(outside(value, 0.02, found) for value in honest[:count]))

    def test_equal_benches_make_no_outlier_of_one_within_its_instruments(self) -> None:
        found = middle([7.0, 7.0, 7.0, 7.02], [0.01] * 4)
        assert found is not None
        self.assertEqual(0.01, found.spread)
        self.assertFalse(outside(7.02, 0.01, found))
        self.assertTrue(outside(7.06, 0.01, found))

    def test_the_band_holds_the_truth_about_as_often_as_it_says(self) -> None:
        """Of normal benches; the factor 1.25 is that of large classes, so that small ones are somewhat below 95 %."""
        random, hits, times = Random(5), 0, 2000
        for _ in range(times):
            values = [NormalDist(7, 0.05).inv_cdf(random.random()) for _ in range(16)]
            found = middle(values, [0.0] * 16)
            assert found is not None
            hits += abs(found.value - 7) <= found.expanded
        self.assertGreater(hits / times, 0.90)
        self.assertLess(hits / times, 0.98)


def step(name: str, minutes: float, at: str = "", attended: bool = True) -> PlannedStep:
    """A step that always takes so long."""
    return PlannedStep(name, Takes(minutes, minutes, minutes), at, attended)


class TheLastBench(unittest.TestCase):
    def test_two_that_need_one_balance_by_hand(self) -> None:
        rests = [Rest([[step("heat", 3), step("weigh", 2, "balance")]]), Rest([[step("weigh", 4, "balance")]])]
        # the second has the balance until 4, the first is done at 6; with two balances at 5
        self.assertEqual((6.0, 4.0), minutes_left(rests, {"balance": 1}))
        self.assertEqual((5.0, 4.0), minutes_left(rests, {"balance": 2}))

    def test_what_is_spent_counts_for_the_step_of_now_only(self) -> None:
        rests = [Rest([[step("heat", 8), step("cool", 10)], [step("heat", 8)]], spent=5)]
        self.assertEqual((21.0,), minutes_left(rests, {}))
        self.assertEqual((18.0,), minutes_left([Rest(rests[0].trials, spent=60)], {}))

    def test_who_is_done_is_done_now(self) -> None:
        self.assertEqual((0.0,), minutes_left([Rest([])], {"balance": 1}))
        self.assertEqual((), minutes_left([], {}))


if __name__ == "__main__":
    unittest.main()
