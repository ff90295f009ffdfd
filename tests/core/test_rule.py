"""Rule texts: labels matched whole, words for series, units as factors."""

from __future__ import annotations

import unittest
from typing import ClassVar

from claykettle.core.errors import WorksheetError
from claykettle.core.sheet import compute, written

VALUES = {"vessel": 30.0, "vessel + sample": 32.0, "vessel + residue": 31.0, "sample": 2.0}


class Computed(unittest.TestCase):
    def test_labels_are_matched_whole_and_longest_first(self) -> None:
        self.assertEqual(compute("(vessel + sample) − (vessel)", VALUES), 2.0)
        self.assertEqual(compute("(vessel) + (sample)", VALUES), 32.0)

    def test_multiplication_binds_more_than_addition(self) -> None:
        self.assertEqual(compute("2 + 3 × (sample) / 4", VALUES), 3.5)
        self.assertEqual(compute("(2 + 3) × (sample)", VALUES), 10.0)

    def test_a_unit_multiplies(self) -> None:
        self.assertAlmostEqual(compute("(sample) / (vessel) × 100 %", VALUES), 2 / 30)
        self.assertAlmostEqual(compute("(2 × 1.0080 + 15.999) g/mol", {}), 0.018015)

    def test_words_take_a_series(self) -> None:
        series = {"weighings": [3.0, 1.0, 2.0]}
        self.assertEqual(compute("last of (weighings)", series), 2.0)
        self.assertEqual(compute("lowest of (weighings)", series), 1.0)
        self.assertEqual(compute("mean of the last two of (weighings)", series), 1.5)

    def test_nonsense_is_refused(self) -> None:
        for rule in ("(vessel", "vessel − nothing", "vessel vessel", "+", "× vessel", "vessel −"):
            with self.subTest(rule), self.assertRaises(WorksheetError):
                compute(rule, VALUES)


class Substituted(unittest.TestCase):
    SHOWN: ClassVar[dict[str, str]] = {
        "vessel": "31.204 g",
        "vessel + sample": "32.861 g",
        "molar mass": "18.015 g/mol",
    }

    def put(self, rule: str) -> str:
        return written(rule, tuple(self.SHOWN)).put(self.SHOWN)

    def test_numbers_and_units_take_the_place_of_labels(self) -> None:
        self.assertEqual(self.put("(vessel + sample) − (vessel)"), "32.861 g − 31.204 g")

    def test_a_compound_unit_below_a_fraction_bar_keeps_its_bracket(self) -> None:
        self.assertEqual(self.put("(vessel) / (molar mass)"), "31.204 g / (18.015 g/mol)")

    def test_brackets_round_sums_stay(self) -> None:
        text = self.put("2 × ((vessel + sample) − (vessel))")
        self.assertEqual(text, "2 × (32.861 g − 31.204 g)")
