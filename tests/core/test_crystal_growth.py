"""Crystal growth: means with the scatter of their crystals, the fair test, and what may be said of the sizes."""

from __future__ import annotations

import unittest
from math import hypot, sqrt
from statistics import mean, stdev
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.methods.crystal_growth.method import METHOD
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import read_run, run_from, write_run

SLOW, FAST = (8.5, 7.0, 9.0, 6.5, 8.0), (2.5, 2.0, 3.0, 2.5, 2.0)


def lengths(rows: tuple[float, ...]) -> list[str]:
    """Lengths as typed."""
    return [f"{row} mm" for row in rows]


def document(readings: Any = None, **options: Any) -> dict[str, Any]:
    """Two portions of alum, or what the options say."""
    taken = {"volume_1": "25.0 mL", "volume_2": "25.0 mL", "lengths_1": lengths(SLOW), "lengths_2": lengths(FAST)}
    return {
        "format": "clay-kettle/run", "version": 1, "method": "crystal_growth",
        "options": {"solute": "KAl(SO4)2.12H2O", "portions": ["A: slow", "B: fast, in ice"]} | options,
        "instruments": {"ruler": {"half_width": "0.25 mm"}, "liquid_volume": {"half_width": "0.5 mL"}},
        "trials": [{"label": "1", "readings": taken | (readings or {})}],
    }  # fmt: skip


def trial(readings: Any = None, **options: Any) -> TrialEvaluation:
    """Its first trial."""
    return evaluate_run(run_from(document(readings, **options))).trials[0]


def codes(found: TrialEvaluation) -> dict[str, str]:
    """Texts of the verdicts by code."""
    return {row.code: row.text for row in found.verdicts}


class Chain(unittest.TestCase):
    def test_means_and_deviations_are_those_of_the_statistics_module(self) -> None:
        found = trial()
        for number, rows in ((1, SLOW), (2, FAST)):
            average, deviation = found.result(f"mean_length_{number}"), found.result(f"standard_deviation_{number}")
            assert average is not None and deviation is not None
            self.assertAlmostEqual(average.value, mean(rows), places=9)
            self.assertAlmostEqual(average.standard_uncertainty, stdev(rows) / sqrt(len(rows)), places=9)
            self.assertAlmostEqual(deviation.value, stdev(rows), places=9)

    def test_the_ratio_carries_both_scatters(self) -> None:
        found = trial().result("length_ratio")
        assert found is not None
        ratio = mean(SLOW) / mean(FAST)
        relative = hypot(*(stdev(rows) / sqrt(5) / mean(rows) for rows in (SLOW, FAST)))
        self.assertAlmostEqual(found.value, ratio, places=9)
        self.assertAlmostEqual(found.standard_uncertainty / ratio, relative, places=6)

    def test_the_volumes_are_held_against_each_other_the_largest_against_the_smallest(self) -> None:
        portions = ["A: slow", "B: fast", "C: tap water"]
        more = {"volume_1": "25.0 mL", "volume_2": "24.0 mL", "volume_3": "26.0 mL", "lengths_3": ["4 mm"]}
        found = trial(more, portions=portions).result("volume_difference_percent")
        assert found is not None
        self.assertAlmostEqual(found.value, 100 * 2 / 26, places=9)

    def test_a_run_file_survives_being_written(self) -> None:
        run = run_from(document({"cooling_time_1": "60 min"}))
        again = read_run(write_run(run).encode())
        self.assertEqual((again.options, len(again.trials[0].entries)), (run.options, len(run.trials[0].entries)))


class Picture(unittest.TestCase):
    def test_it_shows_every_crystal_and_the_mean_with_the_band_of_the_answer(self) -> None:
        taken = document()
        del taken["trials"][0]["readings"]["lengths_2"]
        picture = METHOD.judging.pictures(evaluate_run(run_from(taken)).trials[0].trial).sizes
        assert picture is not None
        slow, fast = picture.portions
        self.assertEqual([round(row, 6) for row in slow.lengths], list(SLOW))
        assert slow.mean is not None and slow.half_width is not None
        self.assertAlmostEqual(slow.mean, mean(SLOW), places=9)
        self.assertAlmostEqual(slow.half_width, 2 * stdev(SLOW) / sqrt(len(SLOW)), places=9)
        self.assertEqual((fast.lengths, fast.mean, fast.half_width), ((), None, None))


class Judgements(unittest.TestCase):
    def test_slow_cooling_grows_the_larger_crystals(self) -> None:
        """Common practice, and what the test is to show."""
        self.assertIn("A (slow) grew the larger crystals", codes(trial())["sizes-differ"])

    def test_the_other_way_round_is_asked_about(self) -> None:
        exchanged = {"lengths_1": lengths(FAST), "lengths_2": lengths(SLOW)}
        self.assertIn("portions exchanged", codes(trial(exchanged))["sizes-unusual"])

    def test_crystals_that_scatter_more_than_the_portions_differ_decide_nothing(self) -> None:
        near = {"lengths_1": ["3 mm", "2 mm", "4 mm"], "lengths_2": ["2.5 mm", "3.5 mm", "2.0 mm"]}
        self.assertIn("scatter more", codes(trial(near))["sizes-undecided"])

    def test_unequal_portions_make_no_fair_test(self) -> None:
        self.assertIn("your limit is 2 %", codes(trial({"volume_2": "22.0 mL"}))["unfair-test"])
        self.assertIn("fair-test", codes(trial({"volume_2": "22.0 mL"}, equality="15 %")))

    def test_a_crystal_shorter_than_nothing_stops(self) -> None:
        for text in ("-2 mm", "0 mm"):
            found = codes(trial({"lengths_1": [*lengths(SLOW), text]}))
            with self.subTest(text):
                self.assertIn("cannot be", found["out-of-order"])
                self.assertNotIn("sizes-differ", found)

    def test_few_crystals_are_said_and_still_compared(self) -> None:
        """Five of a portion are enough (common practice)."""
        found = codes(trial({"lengths_2": lengths(FAST[:3])}))
        self.assertIn("3 of 5 crystals of B", found["crystals-few"])
        self.assertIn("5 crystals of A", found["crystals-enough"])
        self.assertIn("sizes-differ", found)

    def test_a_cooling_in_other_words_takes_no_side(self) -> None:
        exchanged = {"lengths_1": lengths(FAST), "lengths_2": lengths(SLOW)}
        found = codes(trial(exchanged, portions=["A: on cork", "B: in the cellar"]))
        self.assertIn("B (in the cellar) grew the larger crystals.", found["sizes-differ"])

    def test_one_portion_alone_is_measured_and_not_yet_compared(self) -> None:
        taken = document()
        for name in ("lengths_2", "volume_2"):
            del taken["trials"][0]["readings"][name]
        found = evaluate_run(run_from(taken)).trials[0]
        self.assertIsNotNone(found.result("mean_length_1"))
        for name in ("length_ratio", "volume_difference_percent", "mean_length_2"):
            self.assertIsNone(found.result(name))
        self.assertEqual(set(codes(found)) & {"fair-test", "unfair-test", "sizes-differ", "sizes-undecided"}, set())

    def test_a_disturbed_portion_is_a_suspect_of_the_right_sign_and_size(self) -> None:
        """Half the length came of what was expected: stirred by half, and not measured too generously."""
        found = evaluate_run(run_from(document({"lengths_1": lengths(tuple(row / 2 for row in SLOW))}))).trials[0]
        rows = suspicion(found.trial, METHOD, str(mean(SLOW) / mean(FAST))).suspects
        suspects = {row.code: row for row in rows}
        disturbed, largest = suspects["disturbed"], suspects["largest-only"]
        assert disturbed.dose is not None
        self.assertAlmostEqual(disturbed.dose, 50.0, delta=0.5)
        self.assertLess(disturbed.shift, 0)
        self.assertIsNone(largest.dose)

    def test_lengths_off_a_photograph_count_as_those_of_a_ruler(self) -> None:
        """The scatter of the crystals is the uncertainty; the half-width of a click is not counted beside it."""
        photographed = [{"text": text, "instrument": "photograph", "half_width": "0.2 mm"} for text in lengths(SLOW)]
        one, other = trial().result("mean_length_1"), trial({"lengths_1": photographed}).result("mean_length_1")
        assert one is not None and other is not None
        self.assertEqual((one.value, one.standard_uncertainty), (other.value, other.standard_uncertainty))


class Refused(unittest.TestCase):
    def test_lengths_that_are_none(self) -> None:
        for text, code in (("0.5 g", "wrong-dimension"), ("2", "no-unit"), ("", "empty")):
            with self.subTest(text), self.assertRaises(Refusal) as refused:
                run_from(document({"lengths_1": [text]}))
            fault = refused.exception.faults[0]
            self.assertEqual((fault.path, fault.code), ("trials[0].readings.lengths_1[0]", code))

    def test_portions_that_compare_nothing(self) -> None:
        for portions in (["A: slow"], ["A: slow", "A: fast"]):
            with self.subTest(portions), self.assertRaises(Refusal) as refused:
                run_from(document(portions=portions))
            self.assertEqual(refused.exception.faults[0].path, "options.portions")

    def test_a_portion_without_a_cooling(self) -> None:
        with self.assertRaises(Refusal) as refused:
            run_from(document(portions=["A: slow", "B"]))
        self.assertTrue(refused.exception.faults[0].path.startswith("options.portions[1]"))

    def test_crystals_of_a_portion_that_is_not_there(self) -> None:
        with self.assertRaises(Refusal) as refused:
            run_from(document({"lengths_3": ["1 mm"]}))
        self.assertEqual(refused.exception.faults[0].code, "unused-reading")
