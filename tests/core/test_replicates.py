"""Trials held together: the weighted mean, what they share, who is odd, and precise against accurate."""

from __future__ import annotations

import math
import unittest

from uncertainties import ufloat

from claykettle.core.judgement.replicates import (
    Comparison,
    agreement,
    chi_squared_tail,
    compare,
    judge_alike,
    judge_replicates,
    sample_deviation,
)
from claykettle.core.quantity import unit

LABELS = ("1", "2", "3", "4")


def verdicts(accepted: float | None, *rows: tuple[float, float]) -> dict[str, str]:
    """Code and text of what is said of independent values with their standard uncertainties."""
    found = compare(LABELS[: len(rows)], [ufloat(*row) for row in rows], (), accepted)
    return {} if found is None else {v.code: v.text for v in judge_replicates(found, "x", "ratio x", unit("1"))}


class WeightedMean(unittest.TestCase):
    def test_a_textbook_s_three_resistances(self) -> None:
        """J. R. Taylor, An Introduction to Error Analysis, ch. 7: 11 ± 1, 12 ± 1, 10 ± 3 give 11.42 ± 0.69 (memory)."""
        found = compare(LABELS[:3], [ufloat(11, 1), ufloat(12, 1), ufloat(10, 3)], (), None)
        assert found is not None
        self.assertAlmostEqual(found.mean, 11.42, places=2)
        self.assertAlmostEqual(found.standard_uncertainty, 0.69, places=2)

    def test_what_all_trials_share_does_not_average_out(self) -> None:
        barometer = ufloat(0, 1, tag="barometer")
        numbers = [ufloat(value, 1) + barometer for value in (10.0, 10.5, 9.5, 10.0)]
        found = compare(LABELS, numbers, {"barometer"}, None)
        assert found is not None
        self.assertAlmostEqual(found.standard_uncertainty, math.sqrt(1 / 4 + 1))

    def test_a_spread_beyond_the_instruments_widens_the_mean_by_the_birge_ratio(self) -> None:
        found = compare(LABELS[:2], [ufloat(9, 0.1), ufloat(11, 0.1)], (), None)
        assert found is not None
        # χ² = 2 · (1/0.1)² = 200 for one degree of freedom
        self.assertAlmostEqual(found.agreement.birge_ratio, math.sqrt(200))
        self.assertAlmostEqual(found.standard_uncertainty, 0.1 / math.sqrt(2) * math.sqrt(200))

    def test_one_trial_or_one_without_uncertainty_is_no_comparison(self) -> None:
        self.assertEqual(verdicts(7, (7.0, 0.1)), {})
        self.assertIsNone(compare(LABELS[:2], [ufloat(7.0, 0.1), 7.0], (), 7.0))


class OneWay(unittest.TestCase):
    def test_a_trend_is_read_from_the_first_to_the_last(self) -> None:
        """Two small steps and a large one; as much as the band of ± 0.1 from one to the next."""
        self.assertIn("trend", verdicts(None, (7.0, 0.05), (7.1, 0.05), (7.3, 0.05), (7.9, 0.05)))
        self.assertNotIn("trend", verdicts(None, (7.0, 0.05), (7.03, 0.05), (7.06, 0.05), (7.1, 0.05)))
        # the first step alone is no way
        self.assertNotIn("trend", verdicts(None, (7.0, 0.05), (7.9, 0.05), (7.1, 0.05), (7.0, 0.05)))


class PreciseAgainstAccurate(unittest.TestCase):
    def test_four_kinds(self) -> None:
        cases = {
            "precise-and-accurate": ((7.01, 0.02), (6.99, 0.02)),
            "precise-not-accurate": ((6.61, 0.02), (6.59, 0.02)),
            "accurate-not-precise": ((7.5, 0.02), (6.5, 0.02)),
            "neither-precise-nor-accurate": ((6.1, 0.02), (6.3, 0.02)),
        }
        for code, rows in cases.items():
            found = verdicts(7, *rows)
            self.assertIn(code, found)
            self.assertEqual(len(found.keys() & cases.keys()), 1, found)

    def test_how_far_it_misses_is_counted_in_bands(self) -> None:
        # the mean's band is 2 · 0.02/√2 = 0.0283; 7 − 6.6 = 0.4 is 14 of them
        self.assertIn("by 14 times its band", verdicts(7, (6.61, 0.02), (6.59, 0.02))["precise-not-accurate"])

    def test_nothing_accepted_nothing_said_of_accuracy(self) -> None:
        self.assertEqual(set(verdicts(None, (7.01, 0.02), (6.99, 0.02))), {"replicates-agree"})


class Trend(unittest.TestCase):
    def test_one_way_from_trial_to_trial_is_named_with_its_figures(self) -> None:
        found = verdicts(None, (22.10, 0.05), (22.31, 0.05), (22.52, 0.05))
        self.assertIn("ratio x rises: 22.10, 22.31, 22.52", found["trend"])
        self.assertIn("falls", verdicts(None, (7.3, 0.05), (7.1, 0.05), (6.9, 0.05))["trend"])

    def test_to_and_fro_two_trials_or_a_step_within_the_band_are_none(self) -> None:
        for rows in (
            ((22.1, 0.05), (22.5, 0.05), (22.3, 0.05)),
            ((22.1, 0.05), (22.5, 0.05)),
            ((22.10, 0.05), (22.12, 0.05), (22.14, 0.05)),
        ):
            self.assertNotIn("trend", verdicts(None, *rows))


class Alike(unittest.TestCase):
    """What gas trials must share, however large the sample: SI values of 375 mL/g and so on."""

    def said(self, *values: float) -> tuple[str, str]:
        """Code and text about volumes per gram, each known to 1 mL/g."""
        found = compare(LABELS[: len(values)], [ufloat(value / 1000, 0.001) for value in values], (), None)
        assert found is not None
        verdict = judge_alike(found, "volume_per_gram", "volume per gram", unit("mL/g"))
        return verdict.code, verdict.text

    def test_what_agrees_is_said_with_its_figures(self) -> None:
        code, text = self.said(375.0, 376.0, 374.5)
        self.assertEqual(code, "alike")
        self.assertIn("375.0, 376.0, 374.5 mL/g", text)

    def test_a_trend_is_named_before_an_odd_one(self) -> None:
        code, text = self.said(360.0, 368.0, 377.0)
        self.assertEqual(code, "not-alike")
        self.assertIn("It rises from trial to trial: acid, air in the tube or warmth", text)
        self.assertIn("falls", self.said(377.0, 368.0, 360.0)[1])

    def test_an_odd_one_among_others_is_named(self) -> None:
        self.assertIn("Trial 2 lies furthest off", self.said(375.0, 402.0, 376.0)[1])
        self.assertNotIn("furthest", self.said(375.0, 402.0)[1])


class OddTrial(unittest.TestCase):
    def test_it_is_named_and_whether_the_rest_agree_without_it(self) -> None:
        found = verdicts(None, (7.00, 0.02), (7.01, 0.02), (7.45, 0.02))
        self.assertIn("Trial 3 lies furthest off; without it the others agree", found["odd-trial"])
        found = verdicts(None, (6.5, 0.02), (7.0, 0.02), (7.6, 0.02))
        self.assertIn("even without it the others disagree", found["odd-trial"])

    def test_of_two_neither_is_odd(self) -> None:
        self.assertNotIn("odd-trial", verdicts(None, (6.5, 0.02), (7.5, 0.02)))

    def test_a_wide_trial_far_off_is_less_odd_than_a_fine_one(self) -> None:
        found = verdicts(None, (7.0, 0.01), (7.01, 0.01), (7.3, 0.2), (7.2, 0.01))
        self.assertIn("Trial 4", found["odd-trial"])


class SaidOfAll(unittest.TestCase):
    """What is said of trials together: who is odd, which way they go, what they share, how far off is usual."""

    def found(self, *rows: tuple[float, float]) -> Comparison:
        compared = compare(LABELS[: len(rows)], [ufloat(*row) for row in rows], (), None)
        assert compared is not None
        return compared

    def test_the_odd_one_lies_furthest_off_in_its_own_uncertainty_not_in_figures(self) -> None:
        """Trial 1 is further off the mean in figures, but its ± is wide; trial 3 is far off for its own."""
        found = self.found((6.0, 1.0), (7.0, 0.02), (7.4, 0.02), (7.0, 0.02))
        self.assertEqual((found.odd, found.rest_agrees), ("3", True))

    def test_where_the_others_disagree_too_it_is_said_so(self) -> None:
        found = self.found((7.0, 0.01), (7.3, 0.01), (9.0, 0.01))
        self.assertEqual((found.odd, found.rest_agrees), ("3", False))
        self.assertIn(
            "even without it the others disagree", verdicts(None, (7.0, 0.01), (7.3, 0.01), (9.0, 0.01))["odd-trial"]
        )

    def test_of_two_none_is_odd_nor_where_all_agree(self) -> None:
        self.assertIsNone(self.found((7.0, 0.01), (7.3, 0.01)).odd)
        self.assertIsNone(self.found((7.0, 0.1), (7.05, 0.1), (7.1, 0.1)).odd)

    def test_degrees_of_freedom_are_counted_and_the_word_follows(self) -> None:
        self.assertIn("for 1 degree of freedom", verdicts(None, (7.0, 0.1), (7.0, 0.1))["replicates-agree"])
        self.assertIn("The 3 trials", verdicts(None, *[(7.0, 0.1)] * 3)["replicates-agree"])
        self.assertIn("for 2 degrees of freedom", verdicts(None, *[(7.0, 0.1)] * 3)["replicates-agree"])

    def test_no_uncertainty_anywhere_is_no_test(self) -> None:
        self.assertIsNone(agreement([7.0, 7.1], [0.1, 0.0]))
        self.assertIsNone(agreement([7.0], [0.1]))
        self.assertIsNotNone(agreement([7.0, 7.1], [0.1, 0.1]))

    def test_a_fall_is_a_fall_and_two_trials_have_no_way(self) -> None:
        self.assertIn("falls: 7.900, 7.300, 7.100", verdicts(None, (7.9, 0.05), (7.3, 0.05), (7.1, 0.05))["trend"])
        self.assertIn("rises: 7.100, 7.300, 7.900", verdicts(None, (7.1, 0.05), (7.3, 0.05), (7.9, 0.05))["trend"])
        self.assertNotIn("trend", verdicts(None, (7.9, 0.05), (7.1, 0.05)))
        # one odd one among others that agree
        self.assertNotIn("trend", verdicts(None, (7.0, 0.02), (7.01, 0.02), (7.02, 0.02), (7.9, 0.02)))

    def test_what_all_share_is_alike_or_says_which_way_it_goes(self) -> None:
        """The probability that decides is 1 in 100: χ² of 6.63 for one degree of freedom (any table)."""
        ml = unit("mL")
        alike = judge_alike(self.found((1.0e-6, 1e-8), (1.0361e-6, 1e-8)), "x", "volume per gram", ml)
        self.assertEqual((alike.code, alike.level), ("alike", "good"))
        self.assertIn("Volume per gram over the trials: 1.000, 1.036 mL", alike.text)
        off = judge_alike(self.found((1.0e-6, 1e-8), (1.0369e-6, 1e-8)), "x", "volume per gram", ml)
        self.assertEqual((off.code, off.level), ("not-alike", "watch"))
        self.assertTrue(off.text.endswith("further apart than the instruments explain."))
        rising = judge_alike(self.found((1.0e-6, 1e-8), (1.1e-6, 1e-8), (1.2e-6, 1e-8)), "x", "volume", ml)
        self.assertIn("It rises from trial to trial", rising.text)
        odd = judge_alike(self.found((1.0e-6, 1e-8), (1.2e-6, 1e-8), (1.0e-6, 1e-8)), "x", "volume", ml)
        self.assertIn("Trial 2 lies furthest off.", odd.text)

    def test_trials_that_scatter_are_never_what_a_class_usually_reaches(self) -> None:
        """Their mean is 7.2, 3 % off; the spread is ten times what the instruments explain."""
        found = compare(LABELS[:2], [ufloat(7.3, 0.007), ufloat(7.1, 0.007)], (), 7.0)
        assert found is not None
        said = {row.code for row in judge_replicates(found, "x", "ratio x", unit("1"), reaches=0.05)}
        self.assertNotIn("within-class", said)
        self.assertIn("replicates-disagree", said)

    def test_what_a_class_usually_reaches_is_no_fault_and_beyond_it_is_one(self) -> None:
        """5 % of 7 is 0.35."""
        for value, code in ((7.3, "within-class"), (6.7, "within-class"), (7.4, "precise-not-accurate")):
            with self.subTest(value):
                found = compare(LABELS[:2], [ufloat(value + 0.001, 0.02), ufloat(value - 0.001, 0.02)], (), 7.0)
                assert found is not None
                said = {row.code: row for row in judge_replicates(found, "x", "ratio x", unit("1"), reaches=0.05)}
                self.assertEqual(said.keys() & {"within-class", "precise-not-accurate"}, {code})
        self.assertIn("less than the 5 % that a class usually reaches", _told(7.3, 0.05))
        self.assertIsNone(self.found((7.0, 0.1), (7.0, 0.1)).is_accurate)


def _told(value: float, reaches: float) -> str:
    found = compare(LABELS[:2], [ufloat(value, 0.02), ufloat(value, 0.02)], (), 7.0)
    assert found is not None
    return " ".join(row.text for row in judge_replicates(found, "x", "ratio x", unit("1"), reaches))


class Scatter(unittest.TestCase):
    def test_the_deviation_of_a_sample(self) -> None:
        """2, 4, 4, 4, 5, 5, 7, 9: √(32/7) (a textbook's usual row)."""
        found = sample_deviation([2, 4, 4, 4, 5, 5, 7, 9])
        assert found is not None
        self.assertAlmostEqual(found, math.sqrt(32 / 7))
        self.assertIsNone(sample_deviation([2.0]))
        self.assertEqual(sample_deviation([2.0, 2.0]), 0.0)

    def test_the_tail_of_chi_squared_by_a_table(self) -> None:
        """95 % points of any table: 3.841, 5.991, 7.815, 9.488."""
        for degrees, point in enumerate((3.841, 5.991, 7.815, 9.488), start=1):
            self.assertAlmostEqual(chi_squared_tail(point, degrees), 0.05, places=4)
        self.assertEqual(
            (chi_squared_tail(0.0, 1), chi_squared_tail(0.0, 4), chi_squared_tail(2000.0, 3)), (1.0, 1.0, 0.0)
        )
