"""A figure as a student writes it: its value, how far its rounding reaches, and what is said of its unit."""

from __future__ import annotations

import unittest
from decimal import Decimal

from claykettle.core.marking.claims import Claim, read_claim


class Figures(unittest.TestCase):
    def claim(self, text: str, line_unit: str = "g") -> Claim:
        found = read_claim("water_mass", text, line_unit)
        assert found is not None, text
        self.assertEqual((found.name, found.text), ("water_mass", text))
        return found

    def test_value_and_half_a_unit_in_the_last_digit(self) -> None:
        """In SI: kilograms. Worked out by hand."""
        for text, value, half in (
            ("0.725 g", 7.25e-4, 5e-7),
            ("725 mg", 7.25e-4, 5e-7),
            ("0,725 g", 7.25e-4, 5e-7),
            (".725 g", 7.25e-4, 5e-7),
            ("725. mg", 7.25e-4, 5e-7),
            ("7.25e-1 g", 7.25e-4, 5e-7),
            ("7.25E−1 g", 7.25e-4, 5e-7),
            ("7.25 x 10^-1 g", 7.25e-4, 5e-7),
            ("7.25 · 10-1 g", 7.25e-4, 5e-7),
            ("7.25 × 10^2 mg", 7.25e-4, 5e-7),
            ("72.5e1 mg", 7.25e-4, 5e-7),
            ("7.3e2 mg", 7.3e-4, 5e-6),
            ("730 mg", 7.3e-4, 5e-7),
            ("+0.725 g", 7.25e-4, 5e-7),
            ("-0.725 g", -7.25e-4, 5e-7),
            ("−0.725 g", -7.25e-4, 5e-7),
        ):
            with self.subTest(text):
                found = self.claim(text)
                self.assertAlmostEqual(found.value, value, places=12)
                self.assertAlmostEqual(found.half, half, places=15)
                self.assertEqual((found.amiss, found.is_other_kind), ("", False))

    def test_what_is_no_figure(self) -> None:
        for text in ("", " ", "none", "g 0.725", "-", ".", "1e61 g", "1e-61 g"):
            with self.subTest(text):
                self.assertIsNone(read_claim("water_mass", text, "g"))
        for text in ("1e60 g", "1e-60 g"):
            self.assertIsNotNone(read_claim("water_mass", text, "g"))

    def test_a_unit_that_is_missing_is_named_and_where_none_belongs_none_is(self) -> None:
        self.assertEqual(self.claim("0.725").amiss, "Its unit is missing, such as g.")
        self.assertAlmostEqual(self.claim("0.725").value, 7.25e-4)
        self.assertEqual(self.claim("6.99", "1").amiss, "")

    def test_a_unit_of_another_kind_is_told_and_marked_so(self) -> None:
        found = self.claim("0.725 mol")
        self.assertTrue(found.is_other_kind)
        self.assertIn("measures something else; this is told in g", found.amiss)
        self.assertIn("this is told in no unit at all", self.claim("6.99 g", "1").amiss)

    def test_a_word_that_is_no_unit_is_quoted_and_counts_as_the_line_s(self) -> None:
        found = self.claim("0.725 spoonfuls of the white powder")
        self.assertEqual(found.amiss, "‘spoonfuls of the whi’ is no unit of this; write it in g.")
        self.assertFalse(found.is_other_kind)
        self.assertAlmostEqual(found.value, 7.25e-4)
        self.assertEqual(self.claim("7 spoons", "1").amiss, "‘spoons’ is no unit of this; write it in 1.")

    def test_only_the_beginning_of_a_long_text_is_looked_at(self) -> None:
        self.assertEqual(self.claim("0.725 g" + " " * 300 + "x").amiss, "")


class Swapped(unittest.TestCase):
    def swapped(self, text: str) -> list[Decimal]:
        found = read_claim("x", text, "1")
        assert found is not None
        return [Decimal(f"{value:.6g}") for value in found.swapped()]

    def test_two_neighbouring_digits_the_other_way_round(self) -> None:
        self.assertEqual(self.swapped("123"), [213, 132])
        # across the point too
        self.assertEqual(self.swapped("1.23"), [Decimal("2.13"), Decimal("1.32")])
        self.assertEqual(self.swapped("12.3"), [Decimal("21.3"), Decimal("13.2")])

    def test_equal_digits_are_no_other_figure(self) -> None:
        self.assertEqual(self.swapped("11"), [])
        self.assertEqual(self.swapped("1.1"), [])

    def test_a_negative_figure_stays_so(self) -> None:
        self.assertEqual(self.swapped("-12"), [-21])
