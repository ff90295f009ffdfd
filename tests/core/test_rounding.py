"""The one rounding place: cases of published rules, and properties."""

from __future__ import annotations

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.quantity import exact, intermediate, round_significant, round_to_place, with_uncertainty


class PublishedRules(unittest.TestCase):
    def test_iso_80000_1_annex_b(self) -> None:
        """ISO 80000-1:2009, B.2 and B.3 rule A (examples quoted from memory): halves go to the even digit."""
        for number, rounded in (
            ("12.223", "12.2"),
            ("12.251", "12.3"),
            ("12.275", "12.3"),
            ("12.25", "12.2"),
            ("12.35", "12.4"),
        ):
            with self.subTest(number):
                self.assertEqual(round_to_place(Decimal(number), -1), Decimal(rounded))

    def test_gum_7_2_6(self) -> None:
        """JCGM 100:2008, 7.2.6: y = 10.05762 ohm with u = 27 mohm is rounded to 10.058 ohm."""
        self.assertEqual(with_uncertainty(10.05762, 0.027, "Ω"), "10.058 ± 0.054 Ω")

    def test_gum_h_1_3_1(self) -> None:
        """JCGM 100:2008, 7.2.2: m = 100.02147 g with u = 0.35 mg; its k = 2 band is 0.70 mg."""
        self.assertEqual(with_uncertainty(100.02147, 0.00035, "g"), "100.02147 ± 0.00070 g")


class Shown(unittest.TestCase):
    def test_value_and_band_end_at_the_same_place(self) -> None:
        for value, u, text in (
            (43.874, 0.086, "43.87 ± 0.17"),
            (6.97, 0.0498, "6.97 ± 0.10"),
            (6.97, 0.04998, "6.97 ± 0.10"),
            (123456.0, 600.0, "123500 ± 1200"),
            (-0.001, 0.02, "−0.001 ± 0.040"),
            (-0.0001, 0.02, "0.000 ± 0.040"),
            (0.0057608, 8.76e-6, "0.005761 ± 0.000018"),
        ):
            with self.subTest(text):
                self.assertEqual(with_uncertainty(value, u), text)

    def test_an_exact_figure_stands_alone(self) -> None:
        self.assertEqual(exact(161.436), "161.44")
        self.assertEqual(exact(7.0), "7")
        self.assertEqual(exact(43.856354), "43.856")

    def test_an_intermediate_keeps_a_figure_more_but_no_empty_zeros(self) -> None:
        self.assertEqual(intermediate(1.657, 0.00082, 3), "1.657")
        self.assertEqual(intermediate(43.874472, 0.0818), "43.874")
        self.assertEqual(intermediate(32.135, 0.0011, 2), "32.135")


class Properties(unittest.TestCase):
    @given(st.decimals(min_value="1e-9", max_value="1e9", places=9), st.integers(1, 6))
    def test_significant_figures(self, number: Decimal, figures: int) -> None:
        if number <= 0:
            return
        rounded = round_significant(number, figures)
        self.assertEqual(len(rounded.as_tuple().digits), figures)
        self.assertLessEqual(abs(rounded - number), Decimal(1).scaleb(number.adjusted() - figures + 1) / 2)

    @given(st.floats(-1e6, 1e6), st.floats(1e-6, 1e3))
    def test_the_text_says_the_value_within_half_a_place(self, value: float, u: float) -> None:
        number, band = with_uncertainty(value, u).replace("−", "-").split(" ± ")
        self.assertLessEqual(abs(Decimal(number) - Decimal(repr(value))), Decimal(band) / 10)
        self.assertIn(len(Decimal(band).normalize().as_tuple().digits), (1, 2))
