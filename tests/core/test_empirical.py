"""From shares of elements to formulas: against textbook answers, exhaustive search, and bad input."""

from __future__ import annotations

import unittest
from fractions import Fraction
from itertools import product

from hypothesis import given
from hypothesis import strategies as st
from molmass import Formula as Independent
from uncertainties import ufloat

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.desks.composition_sheet import composition_sheet, is_composition
from claykettle.core.errors import Refusal
from claykettle.core.judgement.empirical import formulas_near, small_indices

TEXTBOOK = {
    # OpenStax, Chemistry 2e, section 3.2: worked examples and "check your learning"
    "Fe 34.97 g, O 15.03 g": "Fe2O3",
    "C 27.29 %, O 72.71 %": "CO2",
    # the classic exercises of general chemistry; the answers are the formulas of the named substances (common practice)
    "Na 43.4 %, C 11.3 %, O rest": "Na2CO3",
    "K 26.58 %, Cr 35.35 %, O 38.07 %": "K2Cr2O7",
    "C 40.0 %; H 6.7 %; O 53.3 %": "CH2O",
    "Na 32.4 %, S 22.6 %, O 45.1 %": "Na2SO4",
    "Sn 78.8 %, S 21.2 %": "SnS",
    "Cu 57.48 %, C 5.43 %, O 36.18 %, H 0.91 %": "Cu2CO5H2",
}


class Textbook(unittest.TestCase):
    def test_shares_lead_to_the_formula(self) -> None:
        for shares, wanted in TEXTBOOK.items():
            found = composition_sheet(shares)
            self.assertIsNotNone(found.formula, shares)
            self.assertEqual(parse_formula(found.formula or "").counts, parse_formula(wanted).counts, shares)

    def test_the_percentages_of_an_independent_library_lead_back(self) -> None:
        for text in ("FeS2", "Ca3P2O8", "KMnO4", "Al2S3O12", "C8H10N4O2"):
            shares = Independent(text).composition()
            typed = ", ".join(f"{symbol} {100 * item.fraction:.3f} %" for symbol, item in shares.items())
            found = composition_sheet(typed)
            wanted, got = parse_formula(text).counts, parse_formula(found.candidates[0].text).counts
            ratios = {symbol: Fraction(got[symbol]) / wanted[symbol] for symbol in wanted}
            self.assertEqual(len(set(ratios.values())), 1, (text, found.candidates[0].text))


class Search(unittest.TestCase):
    @given(
        st.lists(st.floats(0.2, 5), min_size=3, max_size=3),
        st.floats(0.001, 0.2),
    )
    def test_the_nearest_is_that_of_an_exhaustive_search(self, amounts: list[float], relative: float) -> None:
        numbers = [ufloat(value, relative * value) for value in amounts]
        nearest = formulas_near(("K", "Cr", "O"), numbers, 6)[0]
        ratios = [number / numbers[0] for number in numbers[1:]]

        def misfit(row: tuple[int, ...]) -> float:
            return float(
                max(
                    abs(ratio.nominal_value - index / row[0]) / ratio.std_dev
                    for ratio, index in zip(ratios, row[1:], strict=True)
                )
            )

        least = min(misfit(row) for row in product(range(1, 7), repeat=3))
        self.assertAlmostEqual(nearest.misfit, least)

    def test_every_ratio_stands_once(self) -> None:
        rows = small_indices(3, 6)
        ratios = {tuple(Fraction(index, row[0]) for index in row) for row in rows}
        self.assertEqual(len(ratios), len(rows))
        self.assertEqual(
            len(ratios), len({tuple(Fraction(i, r[0]) for i in r) for r in product(range(1, 7), repeat=3)})
        )

    def test_all_that_match_are_given_however_many(self) -> None:
        rough = [ufloat(1, 0.5), ufloat(1, 0.5), ufloat(1, 0.5)]
        rows = formulas_near(("K", "Cr", "O"), rough, 6, shown=3)
        self.assertGreater(len(rows), 3)
        self.assertEqual({row.status for row in rows}, {"match"})


class Said(unittest.TestCase):
    def codes(self, text: str) -> list[str]:
        return [row.code for row in composition_sheet(text).verdicts]

    def test_coarse_figures_cannot_decide_and_say_so(self) -> None:
        found = composition_sheet("C 86 %, H 14 %")
        self.assertEqual(self.codes("C 86 %, H 14 %"), ["formula-undecided"])
        self.assertIn("Figures with more digits would", found.verdicts[0].text)

    def test_fine_figures_that_fit_nothing_are_not_rounded(self) -> None:
        found = composition_sheet("Sn 74.00 %, S 26.00 %")
        self.assertIsNone(found.formula)
        self.assertEqual(found.verdicts[0].code, "formula-none")

    def test_shares_that_do_not_add_up_are_said(self) -> None:
        self.assertIn("shares-off", self.codes("Na 43.4 %, C 11.3 %, O 40.0 %"))
        self.assertNotIn("shares-off", self.codes("Na 43.4 %, C 11.3 %, O 45.3 %"))
        self.assertNotIn("shares-off", self.codes("Na 0.434 g, C 0.113 g, O 0.400 g"))

    def test_the_working_stands_beside(self) -> None:
        first = composition_sheet("Fe 34.97 g, O 15.03 g").lines[0]
        self.assertEqual((first.found, first.weight, first.ratio), ("34.97 g", "55.845", "1"))
        self.assertTrue(first.amount.startswith("0.6262"), first.amount)  # 34.97 / 55.845

    def test_a_formula_is_no_list_of_shares(self) -> None:
        for text in ("ZnSO4.7H2O", "K4[Fe(CN)6]", "SO4^2-", "CaSO4.½H2O", "Mg", ""):
            self.assertFalse(is_composition(text), text)
        for text in (*TEXTBOOK, "Mg: 60.3, O: 39.7", "C 40 mg H 6 mg"):
            self.assertTrue(is_composition(text), text)


class BadInput(unittest.TestCase):
    def test_it_is_refused_at_the_text_with_a_remedy(self) -> None:
        for text, words in {
            "Sn 78.8 %": "two to 5 elements",
            "Sn 78.8 %, Sn 21.2 %": "Sn stands twice",
            "Sn 78.8 %, S 21.2 g": "all in percent or all in g",
            "Sn 1.2 g, S rest": "beside percents",
            "C rest, O rest": "beside percents",
            "Sn 78.8 %, S plenty": "'S plenty' cannot be read",
            "Xx 78.8 %, S 21.2 %": "Xx",
            "Sn 0.0 %, S 21.2 %": "above zero",
            "Sn 78.8 %, S 30 %, O rest": "nothing is left for O",
            "H 1 %, C 1 %, N 1 %, O 1 %, S 1 %, P 1 %": "here are 6",
        }.items():
            with self.subTest(text), self.assertRaises(Refusal) as refused:
                composition_sheet(text)
            fault = refused.exception.faults[0]
            self.assertEqual(fault.path, "text")
            self.assertIn(words, fault.message)
