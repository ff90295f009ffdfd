"""The engine on small sheets of its own: shapes, choices, tables, partial results, marking, dimensions."""

from __future__ import annotations

import math
import unittest
from typing import Any

from claykettle.core.errors import WorksheetError
from claykettle.core.quantity import nominal, reading_variable, shares, standard_uncertainty, variances
from claykettle.core.sheet import Page, Pick, Shape
from tests.support.dimensions import check_dimensions

NOTHING = Shape(options=None)


def box() -> Page:
    """Two readings, their difference, its share: the smallest useful page."""
    page = Page("box")
    page.reading("empty", "empty box", "g", "balance")
    page.reading("full", "full box", "g", "balance")

    @page.line("content", "g", "(full box) − (empty box)", positive=True)
    def content(full: Any, empty: Any) -> Any:
        return full - empty

    @page.line("share of content", "%", "(content) / (full box) × 100 %")
    def share(content: Any, full: Any) -> Any:
        return content / full

    return page


class Declarations(unittest.TestCase):
    def test_a_loop_is_refused_and_named(self) -> None:
        page = Page("loop")
        page.line("a", "g", "(b)", name="a")(lambda b: b)
        page.line("b", "g", "(a)", name="b")(lambda a: a)
        with self.assertRaisesRegex(WorksheetError, "loop.*a.*b"):
            page.build(NOTHING)

    def test_an_unknown_name_is_refused_and_named(self) -> None:
        page = Page("gap")
        page.line("a", "g", "(b)", name="a")(lambda nowhere: nowhere)
        with self.assertRaisesRegex(WorksheetError, "'a' needs 'nowhere'"):
            page.build(NOTHING)

    def test_two_active_definitions_are_refused(self) -> None:
        page = box()
        page.line("content again", "g", "(full box)", name="content")(lambda full: full)
        with self.assertRaisesRegex(WorksheetError, "two active definitions"):
            page.build(NOTHING)

    def test_a_guard_chooses_among_alternatives(self) -> None:
        page = Page("guarded")
        page.reading("full", "full", "g", "balance")
        page.line("once", "g", "(full)", name="taken", when=lambda s: s.options == 1)(lambda full: full)
        page.line("twice", "g", "2 × (full)", name="taken", when=lambda s: s.options == 2)(lambda full: 2 * full)
        self.assertEqual(page.build(Shape(1)).evaluate({"full": 3.0})["taken"], 3.0)
        self.assertEqual(page.build(Shape(2)).evaluate({"full": 3.0})["taken"], 6.0)

    def test_lines_stand_below_what_they_need(self) -> None:
        page = Page("order")
        page.line("late", "g", "(early)", name="late")(lambda early: early)
        page.reading("x", "x", "g", "balance")
        page.line("early", "g", "(x)", name="early")(lambda x: x)
        self.assertEqual([line.name for line in page.build(NOTHING).lines], ["early", "late"])


class PartialResults(unittest.TestCase):
    def test_what_is_missing_is_named_for_every_line_below(self) -> None:
        values = box().build(NOTHING).evaluate({"empty": 1.0})
        self.assertEqual(values.lacking, {"full": "full", "content": "full", "share": "full"})

    def test_nothing_is_built_on_an_impossible_line(self) -> None:
        values = box().build(NOTHING).evaluate({"empty": 3.0, "full": 1.0})
        self.assertEqual(values["content"], -2.0)
        self.assertEqual(values.lacking["share"], "impossible:content")

    def test_a_line_overridden_is_carried_forward(self) -> None:
        values = box().build(NOTHING).evaluate({"empty": 1.0, "full": 4.0}, overrides={"content": 2.0})
        self.assertEqual((values["content"], values["share"]), (2.0, 0.5))


class NetReadings(unittest.TestCase):
    def test_tare_and_gross_take_the_place_of_a_net_reading(self) -> None:
        page = Page("net")
        page.reading("sample", "sample", "g", "balance", net=True)
        page.line("double", "g", "2 × (sample)", name="double")(lambda sample: 2 * sample)
        net = page.build(Shape(None, frozenset({"sample"})))
        split = page.build(Shape(None, frozenset({"sample"}), frozenset({"sample"})))
        self.assertEqual(net.evaluate({"sample": 2.0})["double"], 4.0)
        self.assertEqual(split.evaluate({"sample_tare": 1.0, "sample_gross": 3.0})["double"], 4.0)
        self.assertEqual(split.lines[0].rule_text(None), "(gross of sample) − (tare of sample)")


def cooling() -> Page:
    """A sheet with a choice and a table."""
    page = Page("cooling")
    page.reading("temperature", "temperature", "K", "thermometer")

    @page.table("pressure", "kPa", "from a table")
    def pressure(temperature: float) -> float:
        return 2 * temperature**2

    @page.choice("kind", "1", {"low": "1", "high": "2"})
    def kind(temperature: Any) -> Pick:
        return Pick("high", 2.0) if nominal(temperature) > 300 else Pick("low", 1.0)

    @page.line("product", "kPa", "(pressure) × (kind)")
    def product(pressure: Any, kind: Any) -> Any:
        return pressure * kind

    return page


class ChoicesAndTables(unittest.TestCase):
    def test_a_derivative_passes_through_a_table(self) -> None:
        temperature = reading_variable(290.0, math.sqrt(3), "temperature")
        value = cooling().build(NOTHING).evaluate({"temperature": temperature})["pressure"]
        self.assertAlmostEqual(nominal(value), 2 * 290.0**2)
        self.assertAlmostEqual(standard_uncertainty(value), 4 * 290.0, delta=0.01)
        self.assertEqual(shares(variances(value)), [("temperature", 1.0)])

    def test_a_choice_is_decided_anew_and_reports_its_flip(self) -> None:
        sheet = cooling().build(NOTHING)
        cold, warm = sheet.evaluate({"temperature": 299.0}), sheet.evaluate({"temperature": 301.0})
        self.assertEqual((cold.picks["kind"], warm.picks["kind"]), ("low", "high"))
        self.assertEqual(cold.flips(warm), ("kind",))
        self.assertEqual(cold.flips(cold), ())

    def test_a_choice_that_cannot_decide_is_a_result_not_an_error(self) -> None:
        page = Page("undecided")
        page.reading("x", "x", "g", "balance")
        page.choice("pick", "1", "a word", name="pick")(lambda x: None)
        page.line("below", "1", "(pick)", name="below")(lambda pick: pick)
        values = page.build(NOTHING).evaluate({"x": 1.0})
        self.assertEqual(values.lacking["below"], "undecided:pick")


class Dimensions(unittest.TestCase):
    def test_a_sound_sheet_passes(self) -> None:
        numbers = check_dimensions(box().build(NOTHING), {"empty": 1.0, "full": 3.0})
        self.assertAlmostEqual(numbers["share"].magnitude, 2 / 3)
        check_dimensions(cooling().build(NOTHING), {"temperature": 300.0})

    def test_a_line_in_the_wrong_dimension_is_named(self) -> None:
        page = box()
        page.line("wrong", "g", "(full box) / (empty box)", name="wrong")(lambda full, empty: full / empty)
        with self.assertRaisesRegex(AssertionError, "'wrong'"):
            check_dimensions(page.build(NOTHING), {"empty": 1.0, "full": 3.0})

    def test_a_sum_of_unlike_things_fails(self) -> None:
        page = box()
        page.line("sum", "g", "(full box) + (share of content)", name="sum")(lambda full, share: full + share)
        with self.assertRaises(Exception):  # noqa: B017  # the unit library's own error, whichever it is
            check_dimensions(page.build(NOTHING), {"empty": 1.0, "full": 3.0})


class Correlation(unittest.TestCase):
    def test_a_weighing_used_twice_stays_correlated_with_itself(self) -> None:
        """(full − empty) / full: the textbook derivative, not that of three independent numbers."""
        empty, full = (
            reading_variable(1.0, math.sqrt(3) * 0.1, "empty"),
            reading_variable(4.0, math.sqrt(3) * 0.1, "full"),
        )
        value = box().build(NOTHING).evaluate({"empty": empty, "full": full})["share"]
        expected = 0.1 * math.hypot(1 / 4.0, 1.0 / 4.0**2)
        self.assertAlmostEqual(standard_uncertainty(value), expected, places=12)
