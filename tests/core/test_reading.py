"""Readings: typed text becomes a number in one place, or is refused with a remedy."""

from __future__ import annotations

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.errors import Refusal
from claykettle.core.quantity import bears_unit, parse_half_width, parse_reading


class Typed(unittest.TestCase):
    def test_a_reading_keeps_its_digits_and_knows_its_last_one(self) -> None:
        for text, si, last, decimals in (
            ("31.20 g", "0.03120", "0.00001", 2),
            ("31.2 g", "0.0312", "0.0001", 1),
            ("31,204 g", "0.031204", "0.000001", 3),
            ("31204 mg", "0.031204", "0.000001", 0),
            ("3.1204e1 g", "0.031204", "0.000001", 3),
            (" 31.204g ", "0.031204", "0.000001", 3),
            ("+31.204 g", "0.031204", "0.000001", 3),
            (".5 g", "0.0005", "0.0001", 1),
        ):
            with self.subTest(text):
                reading = parse_reading(text, "mass")
                self.assertEqual(reading.text, text)
                self.assertEqual(reading.si, Decimal(si))
                self.assertEqual(reading.last_digit_si, Decimal(last))
                self.assertEqual(reading.decimals, decimals)

    def test_the_unit_of_the_step_serves_where_none_is_typed(self) -> None:
        self.assertEqual(parse_reading("31.204", "mass", "g").si, Decimal("0.031204"))
        self.assertEqual(parse_reading("31204 mg", "mass", "g").si, Decimal("0.031204"))

    def test_temperatures_have_an_offset_but_their_half_widths_have_none(self) -> None:
        self.assertEqual(parse_reading("21.4 degC", "temperature").si, Decimal("294.55"))
        self.assertEqual(parse_half_width("0.5 degC", "temperature"), Decimal("0.5"))
        self.assertEqual(parse_reading("21.4 °C", "temperature").si, Decimal("294.55"))

    def test_heights_and_celsius_may_be_negative(self) -> None:
        self.assertEqual(parse_reading("−12 mm", "length").si, Decimal("-0.012"))
        self.assertEqual(parse_reading("-5 degC", "temperature").si, Decimal("268.15"))

    def test_a_text_knows_whether_it_bears_a_unit(self) -> None:
        self.assertTrue(bears_unit("31.2 g"))
        self.assertFalse(bears_unit("31.2"))
        self.assertFalse(bears_unit("1e-3"))


class Refused(unittest.TestCase):
    def assert_refused(self, text: str, code: str, *words: str, dimension: str = "mass") -> None:
        with self.assertRaises(Refusal) as caught:
            parse_reading(text, dimension)
        fault = caught.exception.faults[0]
        self.assertEqual(fault.code, code)
        for word in words:
            self.assertIn(word, fault.message)

    def test_every_bad_input_says_what_is_wrong_and_how_to_mend_it(self) -> None:
        for text, code, word in (
            ("", "empty", "type the figure"),
            ("   ", "empty", "type the figure"),
            ("thirty g", "not-a-number", "type digits"),
            ("31.204", "no-unit", "31.204 g"),
            ("31.204 mL", "wrong-dimension", "g, mg, kg, ug"),
            ("31.204 stone", "unknown-unit", "g, mg, kg, ug"),
            ("-1.2 g", "negative", "re-zero"),
            ("1,234.5 g", "not-a-number", "thousands"),
            ("1.234,5 g", "not-a-number", "thousands"),
            ("31 204 g", "not-a-number", "gap"),
            ("1e31 g", "out-of-range", "30"),
            ("200000 g", "out-of-range", "check the digits"),
            ("nan g", "not-a-number", "digits"),
            ("inf g", "not-a-number", "digits"),
            ("٣ g", "not-a-number", "0 to 9"),
            ("3" * 70 + " g", "not-a-number", "longer"),
            ("9**9**9 g", "unknown-unit", "use one of"),
        ):
            with self.subTest(text):
                self.assert_refused(text, code, word)

    def test_below_absolute_zero_is_beyond_the_bench(self) -> None:
        self.assert_refused("-300 degC", "out-of-range", dimension="temperature")

    def test_a_half_width_of_zero_is_refused(self) -> None:
        with self.assertRaises(Refusal) as caught:
            parse_half_width("0 g", "mass")
        self.assertEqual(caught.exception.faults[0].code, "not-positive")


class Properties(unittest.TestCase):
    @given(st.decimals(min_value=0, max_value=99, places=4), st.sampled_from([".", ","]))
    def test_typed_text_round_trips(self, number: Decimal, mark: str) -> None:
        text = f"{number:f}".replace(".", mark) + " g"
        reading = parse_reading(text, "mass")
        self.assertEqual(reading.text, text)
        self.assertEqual(reading.number, number)
        self.assertEqual(parse_reading(f"{reading.digits} {reading.unit.symbol}", "mass").si, reading.si)

    @given(st.text(max_size=80))
    def test_no_text_breaks_the_reader(self, text: str) -> None:
        try:
            reading = parse_reading(text, "mass", "g")
        except Refusal as refusal:
            self.assertTrue(refusal.faults[0].message)
        else:
            self.assertGreaterEqual(reading.si, 0)
