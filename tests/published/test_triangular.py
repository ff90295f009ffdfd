"""Times are drawn from a triangular distribution: against scipy's, and against the closed form of its quantiles.

Closed form (any textbook of simulation): F(x) = (x − a)² / ((b − a)(c − a)) up to the mode c, from there
1 − (b − x)² / ((b − a)(b − c)); the mean is (a + b + c) / 3.
"""

from __future__ import annotations

import math
import unittest
from random import Random
from statistics import fmean

from scipy import stats

from claykettle.core.planning.timetable import Takes, spread

SHAPES = (Takes(6, 8, 12), Takes(1, 2, 4), Takes(10, 10, 15), Takes(0, 5, 5))
MANY = 20_000


class Drawn(unittest.TestCase):
    def rows(self, takes: Takes) -> list[float]:
        """Many times drawn, always the same."""
        random = Random(7)
        return [takes.drawn(random) for _ in range(MANY)]

    def test_they_are_distributed_as_scipy_says(self) -> None:
        """Kolmogorov and Smirnov's distance, below its bound at 1 % for so many: 1.63 / √n."""
        for takes in SHAPES:
            with self.subTest(takes=takes):
                width = takes.high - takes.low
                theirs = stats.triang((takes.usual - takes.low) / width, loc=takes.low, scale=width)
                self.assertLess(stats.kstest(self.rows(takes), theirs.cdf).statistic, 1.63 / math.sqrt(MANY))

    def test_their_quantiles_are_those_of_the_closed_form(self) -> None:
        """Of 6, 8, 12: 6 + √(0.1 · 6 · 2), 12 − √(0.5 · 6 · 4), 12 − √(0.1 · 6 · 4)."""
        found = spread(self.rows(Takes(6, 8, 12)))
        wanted = (6 + math.sqrt(1.2), 12 - math.sqrt(12), 12 - math.sqrt(2.4))
        for mine, theirs in zip((found.p10, found.median, found.p90), wanted, strict=True):
            self.assertAlmostEqual(mine, theirs, delta=0.04)

    def test_their_mean_is_a_third_of_the_sum(self) -> None:
        for takes in SHAPES:
            with self.subTest(takes=takes):
                mean = fmean(self.rows(takes))
                self.assertAlmostEqual(mean, (takes.low + takes.usual + takes.high) / 3, delta=0.04)

    def test_one_that_never_varies_is_never_drawn(self) -> None:
        self.assertEqual(set(self.rows(Takes(5, 5, 5))), {5})
