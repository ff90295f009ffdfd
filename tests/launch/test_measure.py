"""`kettle bench` itself: a ratio is what it says, and the chain by hand gives the application's own figures."""

from __future__ import annotations

import unittest
from unittest.mock import patch

from claykettle.core.run import figures_of
from claykettle.formats.run_file import read_run
from claykettle.launch.measure.evaluating import RUN_FILE, by_hand
from claykettle.launch.measure.page import measured
from claykettle.launch.measure.ratios import Ratio, compare, table


class Ratios(unittest.TestCase):
    def test_a_ratio_is_that_of_the_medians_and_one_slow_round_does_not_count(self) -> None:
        """On a clock that only the work moves."""
        clock = [0.0]
        hiccup = iter([3.0, 3.0, 90.0, 3.0, 3.0, 3.0])

        def work(seconds: float) -> None:
            clock[0] += seconds

        with patch("claykettle.launch.measure.ratios.time.perf_counter", lambda: clock[0]):
            row = compare("long", lambda: work(next(hiccup)), "short", lambda: work(1.0), 2, rounds=5)
        self.assertAlmostEqual(row.value, 3.0)
        self.assertFalse(row.holds)

    def test_the_table_names_what_is_over_its_limit(self) -> None:
        text = table([Ratio("fine", "x", 1.0, 1.0, 2), Ratio("slow", "y", 5.0, 1.0, 2)])
        self.assertEqual([line.endswith("OVER") for line in text.splitlines()], [False, False, True])

    def test_the_chain_by_hand_is_the_worksheets(self) -> None:
        """So that the ratio compares like with like; the exact theoretical percent is left out of both."""
        ours = [row for row in figures_of(read_run(RUN_FILE))[0] if row.line.name != "theoretical_water_percent"]
        for row, (value, spread) in zip(ours, by_hand(), strict=True):
            with self.subTest(row.line.name):
                self.assertAlmostEqual(row.value, value, delta=2e-4 * abs(value) + 1e-9)
                self.assertAlmostEqual(row.standard_uncertainty / spread, 1, delta=1e-3)

    def test_the_page_is_light_enough_to_measure(self) -> None:
        for name, kilobytes, limit in measured():
            with self.subTest(name):
                self.assertGreater(kilobytes, 1)
                self.assertLessEqual(kilobytes, limit)
