"""What a weighing is asked before it is kept: each limit from both sides (`./kettle mutate` moves them one by one).

How often the questions disturb an honest bench, and what they catch, is measured in test_guards.py.
"""

from __future__ import annotations

import unittest
from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from claykettle.core.judgement.plausibility import Weighing, question
from claykettle.core.method import Expectation, Window
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import parse_reading
from claykettle.core.run import evaluate_run, reading_definition
from claykettle.formats.run_file import run_from

MILLIGRAM = Decimal("0.000001")
OPTIONS: Mapping[str, Mapping[str, Any]] = {
    "hydrate": {"salt": "ZnSO4"},
    "combination": {"element": "Sn", "partner": "S", "product": "SnS"},
    "precipitation": {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": [{"formula": "BaCl2·2H2O"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
    },
    "gas_over_water": {
        "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)",
        "reagent": "Zn",
        "elevation": "520 m",
    },
}


def ask(
    slot: str,
    text: str,
    before: Mapping[str, Any] | None = None,
    method: str = "hydrate",
    options: Mapping[str, Any] | None = None,
    half_width: Decimal | None = MILLIGRAM,
    **more: Any,
) -> tuple[str, str, str | None] | None:
    """Code, sentence and figure offered for one typed weighing after others; None where nothing is asked."""
    document = {
        "format": "clay-kettle/run",
        "version": 1,
        "method": method,
        "options": dict(options or OPTIONS[method]),
        "instruments": {"balance": {"half_width": "0.001 g"}},
        "trials": [{"label": "1", "readings": dict(before or {})}],
    }
    trial = evaluate_run(run_from(document)).trials[0].trial
    definition = reading_definition(method_named(method), slot, trial.options)
    assert definition is not None, slot
    found = question(Weighing(definition, parse_reading(text, definition.dimension), trial, half_width, **more))
    return (found.code, found.text, found.suggestion) if found else None


def between(low: str | None, high: str | None) -> Window:
    """A plan by its ends."""
    ends = [None if text is None else parse_reading(text, "mass") for text in (low, high)]
    return Window(low=ends[0], high=ends[1])


class Questions(unittest.TestCase):
    def assert_turns(self, slot: str, quiet: str, asked: str, code: str, *given: Any, **more: Any) -> None:
        """One figure is believed, its neighbour is asked about."""
        self.assertIsNone(ask(slot, quiet, *given, **more), quiet)
        found = ask(slot, asked, *given, **more)
        self.assertEqual(None if found is None else found[0], code, asked)


class Decimals(Questions):
    def test_each_balance_wants_its_own_decimals(self) -> None:
        for half_width, right in (
            ("0.001", "31 g"),
            ("0.0001", "31.2 g"),
            ("0.00001", "31.20 g"),
            ("0.000001", "31.204 g"),
            ("0.0000001", "31.2041 g"),
            ("0.00000001", "31.20413 g"),
        ):
            self.assertIsNone(ask("vessel", right, half_width=Decimal(half_width)), right)
            more = right.replace(" ", "1 " if "." in right else ".1 ")
            found = ask("vessel", more, half_width=Decimal(half_width))
            self.assertEqual(None if found is None else found[0], "digits", more)

    def test_the_sentence_names_both(self) -> None:
        _, text, offered = ask("vessel", "31.20 g") or ("", "", "")
        self.assertEqual(text, "The balance shows three decimals, but 31.20 g has two decimals. Is it typed in full?")
        self.assertIsNone(offered)
        _, text, _ = ask("vessel", "31.204130 g") or ("", "", "")
        self.assertIn("has 6.", text)
        _, text, _ = ask("vessel", "31 g") or ("", "", "")
        self.assertIn("has no decimals.", text)

    def test_a_decimal_mark_that_was_left_out_is_offered(self) -> None:
        """31204 for 31.204; not where that would be no vessel (31 g), nor where the mark stands."""
        for typed, offered in (
            ("31204 g", "31.204"),
            ("31 g", None),
            ("1999 g", None),
            ("31204.0 g", None),
        ):
            found = ask("vessel", typed)
            assert found is not None
            with self.subTest(typed):
                self.assertEqual((found[0], found[2]), ("digits", offered))
        self.assertIn("Was the decimal mark left out? 31.204 would fit.", (ask("vessel", "31204 g") or ("", "", ""))[1])
        expected = Expectation(0.030, 0.032, "so it is")
        for typed, offered in (("31190 g", "31.190"), ("33190 g", None)):
            found = ask("vessel_residue", typed, {"vessel": "30.000 g", "vessel_sample": "31.500 g"}, expected=expected)
            assert found is not None
            self.assertEqual((found[0], found[2]), ("digits", offered))

    def test_a_balance_without_a_half_width_or_beyond_words_is_not_asked(self) -> None:
        self.assertIsNone(ask("vessel", "31.2 g", half_width=None))
        self.assertIsNone(ask("vessel", "31.2 g", half_width=Decimal("0.000000001")))
        self.assertIsNone(ask("vessel", "31.2 g", half_width=Decimal("0.01")))


class Vessels(Questions):
    def test_an_empty_vessel_lies_from_2_to_400_grams(self) -> None:
        self.assert_turns("vessel", "2.000 g", "1.999 g", "magnitude")
        self.assert_turns("vessel", "400.000 g", "400.001 g", "magnitude")

    def test_a_paper_lies_in_its_own_range(self) -> None:
        self.assert_turns("paper", "0.100 g", "0.099 g", "magnitude", method="precipitation")
        self.assert_turns("paper", "12.000 g", "12.001 g", "magnitude", method="precipitation")
        _, text, _ = ask("paper", "0.099 g", method="precipitation") or ("", "", "")
        self.assertEqual(text, "0.099 g is an unusual paper. Is the decimal mark in its place?")


class OneOfSeveral(Questions):
    """Filter papers of one box; a paper off by a quarter of the mean is none of them."""

    BOX: Mapping[str, Any] = {"papers": ["0.800 g", "0.800 g"]}

    def options(self) -> dict[str, Any]:
        return dict(OPTIONS["precipitation"]) | {"collector": "papers_mean"}

    def test_a_quarter_off_the_mean(self) -> None:
        more = {"method": "precipitation", "options": self.options()}
        self.assert_turns("papers", "1.000 g", "1.001 g", "magnitude", self.BOX, **more)
        self.assert_turns("papers", "0.600 g", "0.599 g", "transposition", self.BOX, **more)
        self.assertIsNone(ask("papers", "3.000 g", {}, **more), "the first of a box")

    def test_swapped_digits_are_offered_within_a_quarter(self) -> None:
        more = {"method": "precipitation", "options": self.options()}
        found = ask("papers", "8.015 g", self.BOX, **more)
        self.assertEqual((found or ("",))[0::2], ("transposition", "0.815"))
        found = ask("papers", "0.199 g", {"papers": ["0.980 g"]}, **more)
        self.assertEqual((found or ("",))[0::2], ("transposition", "0.919"))
        found = ask("papers", "2.001 g", {"papers": ["1.601 g"]}, **more)
        self.assertIsNone(found, "a quarter off, just")
        found = ask("papers", "0.010 g", {"papers": ["0.080 g"]}, **more)
        self.assertEqual((found or ("",))[0::2], ("transposition", "0.100"))
        found = ask("papers", "0.010 g", {"papers": ["0.079 g"]}, **more)
        self.assertEqual((found or ("",))[0::2], ("magnitude", None))


class Samples(Questions):
    VESSEL: Mapping[str, Any] = {"vessel": "31.204 g"}

    def test_a_sample_lies_from_a_twentieth_of_a_gram_to_40_grams(self) -> None:
        self.assert_turns("vessel_sample", "31.254 g", "31.253 g", "magnitude", self.VESSEL)
        self.assert_turns("vessel_sample", "71.204 g", "71.205 g", "magnitude", self.VESSEL)
        self.assert_turns("sample", "0.050 g", "0.049 g", "magnitude", self.VESSEL)

    def test_nothing_and_less_is_left_to_the_verdicts(self) -> None:
        self.assertIsNone(ask("vessel_sample", "31.204 g", self.VESSEL))
        self.assertIsNone(ask("vessel_sample", "31.203 g", self.VESSEL))
        self.assertEqual((ask("vessel_sample", "31.205 g", self.VESSEL) or ("",))[0], "magnitude")

    def test_a_whole_lid_weighs_from_4_to_60_grams(self) -> None:
        self.assert_turns("vessel_sample", "35.203 g", "35.204 g", "lid-mismatch", self.VESSEL, lid=True)
        wide = between(None, "30.000 g")
        self.assertIsNone(ask("vessel_sample", "35.204 g", self.VESSEL, lid=True, window=wide), "planned so")
        found = ask("vessel_sample", "91.204 g", self.VESSEL, lid=True)
        self.assertEqual((found or ("",))[0], "lid-mismatch")
        self.assertEqual((ask("vessel_sample", "91.205 g", self.VESSEL, lid=True) or ("",))[0], "magnitude")
        self.assertIsNone(ask("vessel_sample", "36.204 g", self.VESSEL), "no lid, nothing to forget")

    def test_a_planned_sample_is_a_quarter_wider_than_its_plan(self) -> None:
        """With a lid that may be forgotten: 8 to 16 g planned, 6 to 20 g believed."""
        plan = between("8.000 g", "16.000 g")
        for low, high in (("37.204 g", "51.204 g"),):
            self.assertIsNone(ask("vessel_sample", low, self.VESSEL, lid=True, window=plan))
            self.assertIsNone(ask("vessel_sample", high, self.VESSEL, lid=True, window=plan))
        self.assertEqual(
            (ask("vessel_sample", "37.203 g", self.VESSEL, lid=True, window=plan) or ("",))[0], "lid-mismatch"
        )
        self.assertEqual(
            (ask("vessel_sample", "51.205 g", self.VESSEL, lid=True, window=plan) or ("",))[0], "lid-mismatch"
        )

    def test_a_third_and_three_times_the_plan_is_another_line(self) -> None:
        plan = between("3.000 g", "6.000 g")
        self.assert_turns("sample", "1.000 g", "0.999 g", "magnitude", self.VESSEL, window=plan)
        self.assert_turns("sample", "18.000 g", "18.001 g", "magnitude", self.VESSEL, window=plan)
        _, text, _ = ask("sample", "0.999 g", self.VESSEL, window=plan) or ("", "", "")
        self.assertEqual(text, "0.999 g of sample, planned from 3.000 g up to 6.000 g. Is it the right line?")

    def test_a_plan_open_on_one_side_asks_on_the_other(self) -> None:
        self.assertIsNone(ask("sample", "39.000 g", self.VESSEL, window=between("3.000 g", None)))
        self.assertIsNone(ask("sample", "0.060 g", self.VESSEL, window=between(None, "6.000 g")))


class SwappedSamples(Questions):
    VESSEL: Mapping[str, Any] = {"vessel": "31.204 g"}

    def test_a_swap_is_offered_beyond_a_quarter_off_the_plan(self) -> None:
        """2.000 to 3.000 g planned: up to 3.750 g is believed, 3.751 g was 3.571 or 3.715, which do not fit either."""
        plan = between("2.000 g", "3.000 g")
        self.assertIsNone(ask("sample", "3.750 g", window=plan))
        found = ask("sample", "5.200 g", window=plan)
        self.assertEqual((found or ("",))[0::2], ("transposition", "2.500"))
        self.assertIsNone(ask("sample", "3.190 g", window=between("1.000 g", "2.552 g")), "a quarter off at most")
        found = ask("sample", "3.191 g", window=between("1.000 g", "2.552 g"))
        self.assertEqual((found or ("",))[0::2], ("transposition", "1.391"))

    def test_below_the_plan_as_well(self) -> None:
        plan = between("2.000 g", "3.000 g")
        self.assertIsNone(ask("sample", "1.500 g", window=plan))
        found = ask("sample", "1.299 g", window=plan)
        self.assertEqual((found or ("",))[0::2], ("transposition", "2.199"))
        self.assertIsNone(ask("sample", "1.299 g", window=between("1.732 g", "3.000 g")), "a quarter off, just")

    def test_what_is_offered_lies_inside_the_plan_ends_included(self) -> None:
        found = ask("sample", "5.200 g", window=between("2.500 g", "3.000 g"))
        self.assertEqual((found or ("",))[0::2], ("transposition", "2.500"))
        found = ask("sample", "5.200 g", window=between("2.000 g", "2.500 g"))
        self.assertEqual((found or ("",))[0::2], ("transposition", "2.500"))
        self.assertIsNone(ask("sample", "5.200 g", window=between("2.501 g", "3.000 g")), "no swap fits")

    def test_the_empty_vessel_may_have_been_swapped(self) -> None:
        """31.204 typed as 32.104: 33.204 g loaded makes 1.100 g where 2 g were planned."""
        found = ask("vessel_sample", "33.209 g", {"vessel": "32.104 g"}, window=between("2.000 g", "2.200 g"))
        self.assertIsNotNone(found)
        code, text, offered = found or ("", "", None)
        self.assertEqual((code, offered), ("transposition", None))
        self.assertIn("31.204 in place of 32.104 would fit; correct that in the log.", text)


class Heatings(Questions):
    LOADED: Mapping[str, Any] = {"vessel": "31.204 g", "vessel_sample": "32.861 g"}
    ONCE: Mapping[str, Any] = {**LOADED, "vessel_residue": ["32.151 g"]}

    def test_a_whole_lid_from_one_weighing_to_the_next(self) -> None:
        before = {"vessel": "31.204 g", "vessel_sample": "81.204 g"}
        self.assert_turns("vessel_residue", "77.205 g", "77.204 g", "lid-mismatch", before, lid=True)
        self.assert_turns("vessel_residue", "21.203 g", "21.204 g", "lid-mismatch", before, lid=True)
        self.assertIsNone(ask("vessel_residue", "77.204 g", before))
        self.assertIsNone(ask("vessel_residue", "77.204 g", {"vessel": "31.204 g"}, lid=True), "nothing to compare")

    def test_the_first_weighing_has_nothing_to_be_measured_by(self) -> None:
        self.assertIsNone(ask("vessel_residue", "32.998 g", self.LOADED))

    def test_a_gain_beyond_four_half_widths_that_a_swap_explains(self) -> None:
        """32.151 before: 32.155 is the balance, 32.163 was 32.136."""
        self.assertIsNone(ask("vessel_residue", "32.155 g", self.ONCE))
        self.assertEqual((ask("vessel_residue", "32.163 g", self.ONCE) or ("",))[0::2], ("transposition", "32.136"))
        before = {**self.LOADED, "vessel_residue": ["32.104 g"]}
        self.assertIsNone(ask("vessel_residue", "32.108 g", before), "32.018 would fit")
        before = {**self.LOADED, "vessel_residue": ["32.103 g"]}
        self.assertEqual((ask("vessel_residue", "32.108 g", before) or ("",))[0::2], ("transposition", "32.018"))

    def test_a_swap_that_gains_four_half_widths_still_fits(self) -> None:
        before = {**self.LOADED, "vessel_residue": ["32.132 g"]}
        self.assertEqual((ask("vessel_residue", "32.163 g", before) or ("",))[0::2], ("transposition", "32.136"))
        before = {**self.LOADED, "vessel_residue": ["32.131 g"]}
        found = ask("vessel_residue", "32.163 g", before)
        self.assertNotEqual((found or ("", "", ""))[2], "32.136")

    def test_the_weighing_before_may_have_been_swapped(self) -> None:
        """32.151 typed as 32.115: the next, 32.148, seems to gain."""
        found = ask("vessel_residue", "32.148 g", {**self.LOADED, "vessel_residue": ["32.115 g"]})
        code, text, offered = found or ("", "", None)
        self.assertEqual((code, offered), ("transposition", None))
        self.assertIn("32.151 in place of 32.115 would fit; correct that in the log.", text)

    def test_a_loss_beyond_the_one_before_and_four_half_widths(self) -> None:
        """32.300, then 32.200: the next may lose 0.104 g. 32.096 is believed; 31.294 was 32.194."""
        before = {**self.LOADED, "vessel_residue": ["32.300 g", "32.200 g"]}
        self.assertIsNone(ask("vessel_residue", "32.096 g", before))
        self.assertIsNone(ask("vessel_residue", "32.095 g", before), "no swap fits")
        self.assertEqual((ask("vessel_residue", "32.019 g", before) or ("",))[0::2], ("transposition", "32.109"))
        _, text, _ = ask("vessel_residue", "32.019 g", before) or ("", "", None)
        self.assertIn("0.181 g lost, more than the 0.1 g of the heating before.", text)

    def test_what_fits_lies_within_the_loss_before_and_four_half_widths(self) -> None:
        """32.106 was typed as 32.016: a loss of 0.099 g fits after one of 0.095 g and not after one of 0.094 g."""
        loose = {**self.LOADED, "vessel_residue": ["32.300 g", "32.205 g"]}
        self.assertEqual((ask("vessel_residue", "32.016 g", loose) or ("", "", None))[2], "32.106")
        tight = {**self.LOADED, "vessel_residue": ["32.299 g", "32.205 g"]}
        self.assertNotEqual((ask("vessel_residue", "32.016 g", tight) or ("", "", None))[2], "32.106")


class Rising(Questions):
    """Tin with sulfur gains; an excess of sulfur that burns off may let it fall by a fifth of the gain before."""

    LOADED: Mapping[str, Any] = {"vessel": "25.107 g", "vessel_element": "26.294 g"}

    def asked(self, text: str, *series: str) -> tuple[str, str, str | None]:
        before = {**self.LOADED, "vessel_product": list(series)}
        return ask("vessel_product", text, before, method="combination") or ("", "", None)

    def test_it_may_fall_by_a_fifth_of_the_gain_and_four_half_widths(self) -> None:
        """26.494 is a gain of 0.200 g: 0.044 g back is believed. A milligram more was 26.494."""
        self.assertEqual(self.asked("26.450 g", "26.494 g")[0], "")
        self.assertEqual(self.asked("26.449 g", "26.494 g")[0::2], ("transposition", "26.494"))
        self.assertIn("0.045 g lost while it should gain.", self.asked("26.449 g", "26.494 g")[1])

    def test_what_fits_may_lie_four_half_widths_back(self) -> None:
        self.assertEqual(self.asked("26.371 g", "26.735 g")[0::2], ("transposition", "26.731"))
        self.assertEqual(self.asked("26.371 g", "26.736 g")[0], "", "five are too many, and nothing else fits")

    def test_a_gain_beyond_the_one_before_that_a_swap_explains(self) -> None:
        """26.571 is a gain of 0.277 g: 0.281 g more is believed. A milligram more was 26.583 or 26.835."""
        self.assertEqual(self.asked("26.853 g", "26.571 g")[0::2], ("transposition", "26.583"))
        self.assertIn("0.282 g gained, more than the 0.277 g of the", self.asked("26.853 g", "26.571 g")[1])
        self.assertEqual(self.asked("26.852 g", "26.571 g")[0], "", "0.281 g is the balance")


class BarometerAndSigns(Questions):
    def test_the_weather_at_520_metres(self) -> None:
        """The standard atmosphere (ISO 2533) has 952.4 hPa at 520 m; 0.955 and 1.035 of it are 909.5 and 985.7."""
        for text in ("910 hPa", "985 hPa"):
            self.assertIsNone(ask("barometer", text, method="gas_over_water"), text)
        for text in ("909 hPa", "986 hPa", "1013 hPa"):
            self.assertIsNotNone(ask("barometer", text, method="gas_over_water"), text)
        flat = {key: row for key, row in OPTIONS["gas_over_water"].items() if key != "elevation"}
        self.assertIsNone(ask("barometer", "1013 hPa", method="gas_over_water", options=flat), "nobody told the height")

    def test_a_minus_sign_is_asked_about_and_nothing_else(self) -> None:
        found = ask("level_difference", "-62 mm", method="gas_over_water")
        self.assertEqual((found or ("",))[0::2], ("wrong-sign", "62"))
        self.assertIsNone(ask("level_difference", "0 mm", method="gas_over_water"))
        self.assertIsNone(ask("level_difference", "62 mm", method="gas_over_water"))


if __name__ == "__main__":
    unittest.main()


class Unexpected(Questions):
    """Outside what is to be expected: how far, on which side, and what a common slip would make of it."""

    def tube(self, slot: str, text: str, low: float, high: float, **more: Any) -> tuple[str, str, str | None] | None:
        """A figure of a tube of 50 mL, between so many millilitres expected; no instrument's half-width is told."""
        options = {**OPTIONS["gas_over_water"], "tube": {"reading": "inverted_burette", "mark": "50 mL"}}
        expected = Expectation(low * 1e-6, high * 1e-6, "so it is")
        return ask(slot, text, {"sample": "0.1 g"}, "gas_over_water", options, None, expected=expected, **more)

    def test_four_half_widths_beyond_it_are_the_instruments(self) -> None:
        expected = Expectation(0.05e-3, 0.1e-3, "so it is")
        for text, side in (
            ("0.104 g", ""),
            ("0.105 g", "above 0.1 g, the most"),
            ("0.046 g", ""),
            ("0.045 g", "below"),
        ):
            found = ask("sample", text, method="gas_over_water", expected=expected)
            with self.subTest(text):
                self.assertEqual(found is not None, bool(side))
                self.assertIn(side, found[1] if found else "")

    def test_a_tube_that_was_filled_anew_begins_at_nothing(self) -> None:
        self.assertIsNone(self.tube("volume_start", "1.00 mL", 29.5, 30.5))
        found = self.tube("volume_start", "1.01 mL", 29.5, 30.5)
        self.assertEqual(found[0] if found else None, "unexpected")

    def test_a_scale_read_upside_down(self) -> None:
        found = self.tube("volume_end", "37.30 mL", 12.0, 13.0)
        self.assertEqual(found[2] if found else None, "12.70")
        self.assertIn("upside down", found[1] if found else "")
        found = self.tube("volume_end", "50.00 mL", -0.1, 0.1)
        self.assertEqual(found[2] if found else None, "0.00")
        # beyond the tube's mark nothing can have been turned over
        found = self.tube("volume_end", "51.00 mL", -1.1, -0.9)
        self.assertNotIn("upside down", found[1] if found else "")

    def test_no_ruler_shows_tenths_of_a_millimetre(self) -> None:
        for text, asked in (
            ("9.9 mm", True),
            ("10.0 mm", False),
            ("0.0 mm", False),
            ("0.1 mm", True),
            ("9 mm", False),
            ("4.5 cm", False),
        ):
            found = ask("level_difference", text, {"sample": "0.1 g"}, "gas_over_water")
            with self.subTest(text):
                self.assertEqual(found is not None and found[0] == "suspect-unit", asked)

    def test_a_mark_left_out_of_three_digits_is_none(self) -> None:
        """204 g on a balance of three decimals: 0.204 is no vessel, and .204 no figure."""
        for text, offered in (("204 g", None), ("2000 g", "2.000"), ("1999 g", None), ("400000 g", None)):
            found = ask("vessel", text) if text != "400000 g" else None
            with self.subTest(text):
                self.assertEqual(found[2] if found else None, offered)
