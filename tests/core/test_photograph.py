"""Lengths read off a photograph: plane geometry, and the uncertainty of a ratio of two distances."""

from __future__ import annotations

import unittest
from math import sqrt

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.desks.photograph import Ends, measured
from claykettle.core.errors import Refusal

BAR: Ends = ((100.0, 650.0), (300.0, 650.0))


def faults(refusal: Refusal) -> list[tuple[str, str]]:
    return [(fault.path, fault.code) for fault in refusal.faults]


class Lengths(unittest.TestCase):
    def test_a_thing_as_long_as_the_bar_has_the_bar_s_length(self) -> None:
        sheet = measured("10 mm", BAR, [((0.0, 0.0), (0.0, 200.0)), ((500.0, 80.0), (300.0, 80.0))], 2.0)
        self.assertEqual([row.text for row in sheet.lengths], ["10.0 mm", "10.0 mm"])

    def test_a_slanting_edge_is_the_hypotenuse(self) -> None:
        """3, 4, 5: 120 px and 160 px are 200 px across."""
        sheet = measured("1 cm", BAR, [((40.0, 60.0), (160.0, 220.0))], 2.0)
        self.assertEqual(sheet.lengths[0].text, "10.0 mm")

    def test_the_scale_is_told_in_words(self) -> None:
        self.assertEqual(measured("10 mm", BAR, [], 2.0).scale, "10 mm over 200 pixels, 0.0500 mm each")

    def test_the_half_width_is_that_of_both_distances(self) -> None:
        """By hand (GUM 5.1.6, relative uncertainties of a ratio add in squares): L = 8 mm of 160 px, bar 200 px.

        u(d) = √2 · 2 / √3 = 1.633 px; u(L) = 8 mm · √((1.633/160)² + (1.633/200)²) = 0.1046 mm; half-width √3 u = 0.18.
        """
        by_hand = 8 * sqrt((sqrt(2) * 2 / sqrt(3) / 160) ** 2 + (sqrt(2) * 2 / sqrt(3) / 200) ** 2)
        self.assertAlmostEqual(by_hand, 0.1046, 4)
        row = measured("10 mm", BAR, [((0.0, 0.0), (160.0, 0.0))], 2.0).lengths[0]
        self.assertEqual((row.text, row.half_width, row.shown), ("8.0 mm", "0.2 mm", "8.00 ± 0.21 mm"))

    def test_a_finer_picture_gives_one_more_digit(self) -> None:
        """Ten times the pixels for the same things, the same clicks: the half-width falls below a tenth."""
        bar: Ends = ((0.0, 0.0), (2000.0, 0.0))
        row = measured("10 mm", bar, [((0.0, 0.0), (1600.0, 0.0))], 2.0).lengths[0]
        self.assertEqual((row.text, row.half_width), ("8.00 mm", "0.02 mm"))

    @given(st.floats(0.2, 5), st.floats(20, 900), st.floats(0.5, 50))
    def test_the_same_picture_taken_larger_tells_the_same(self, larger: float, across: float, bar: float) -> None:
        things: list[Ends] = [((0.0, 0.0), (across, 30.0))]
        text = f"{bar:.3f} mm"
        one = measured(text, BAR, things, 2.0).lengths[0]
        scaled: Ends = ((0.0, 0.0), (200.0 * larger, 0.0))
        more = measured(text, scaled, [((0.0, 0.0), (across * larger, 30.0 * larger))], 2.0 * larger).lengths[0]
        self.assertEqual(one, more)


class BadInput(unittest.TestCase):
    def test_a_bar_that_is_no_length_is_said_at_its_field(self) -> None:
        for text, code in (("", "empty"), ("ten", "not-a-number"), ("10", "no-unit"), ("10 g", "wrong-dimension")):
            with self.subTest(text), self.assertRaises(Refusal) as caught:
                measured(text, BAR, [], 2.0)
            self.assertEqual(faults(caught.exception), [("bar", code)])

    def test_a_bar_of_no_length_is_refused(self) -> None:
        with self.assertRaises(Refusal) as caught:
            measured("0 mm", BAR, [], 2.0)
        self.assertEqual(faults(caught.exception), [("bar", "not-positive")])

    def test_a_bar_no_longer_than_a_few_clicks_says_too_little(self) -> None:
        with self.assertRaises(Refusal) as caught:
            measured("10 mm", ((0.0, 0.0), (19.0, 0.0)), [], 2.0)
        self.assertEqual(faults(caught.exception), [("scale", "too-short")])

    def test_two_points_that_are_one_are_named_by_their_number(self) -> None:
        same: Ends = ((5.0, 5.0), (5.0, 5.0))
        with self.assertRaises(Refusal) as caught:
            measured("10 mm", BAR, [((0.0, 0.0), (80.0, 0.0)), same], 2.0)
        self.assertEqual(faults(caught.exception), [("things[1]", "no-length")])
        self.assertIn("number 2", caught.exception.faults[0].message)
