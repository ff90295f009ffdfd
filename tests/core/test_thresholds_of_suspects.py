"""Where a suspect, a pair of them and a step's word turn: each limit from both sides (`./kettle mutate`)."""

from __future__ import annotations

import math
import unittest
from types import SimpleNamespace
from typing import Any
from unittest import mock

from claykettle.core.judgement import replicates, suspect_case, suspect_words, suspects, together
from claykettle.core.judgement.replicates import chi_squared_tail
from claykettle.core.judgement.suspect_case import Case, Fit, Other, limit
from claykettle.core.method import Cause, ReadingShifted
from claykettle.core.quantity import reading_variable, unit
from claykettle.core.run import evaluate_run, evidence_of, is_neutralised
from claykettle.formats.run_file import run_from

EDGE = 1e-9
GRAM = unit("g")


def a_case(covariance: tuple[tuple[float, ...], ...], *wanted: float) -> Case:
    """A case whose results are wanted here; nothing of it is replayed."""
    others = tuple(Other(f"o{number}", "", GRAM, value, 0.0, 1.0) for number, value in enumerate(wanted[1:]))
    blank: Any = None
    return Case(blank, blank, {}, "key", wanted[0], 0.0, math.sqrt(covariance[0][0]), others, covariance)


class Limits(unittest.TestCase):
    def test_they_are_three_standard_uncertainties(self) -> None:
        """99.73 %: the tail of chi-squared is 0.0027 (common tables; checked against scipy in published/)."""
        for freedom in (1, 2, 3, 4):
            with self.subTest(freedom):
                self.assertAlmostEqual(chi_squared_tail(limit(freedom), freedom), 0.0027, delta=1e-4)
        self.assertEqual((limit(-1), limit(0), limit(9)), (0.01, 0.01, limit(4)))


class Gaps(unittest.TestCase):
    def test_independent_results_count_each_by_its_own(self) -> None:
        case = a_case(((0.04, 0.0), (0.0, 0.09)), 1.0, 2.0)
        self.assertEqual([round(gap, 9) for gap in case.gaps([1.4, 1.7])], [2.0, -1.0])
        self.assertEqual(case.freedom, 2)

    def test_what_two_share_is_counted_once(self) -> None:
        """Both 1, correlation 0.8: gaps of 1 and 1 are 1, and (1 − 0.8)/√(1 − 0.64) = 1/3."""
        case = a_case(((1.0, 0.8), (0.8, 1.0)), 0.0, 0.0)
        first, second = case.gaps([1.0, 1.0])
        self.assertAlmostEqual(first, 1.0)
        self.assertAlmostEqual(second, 1 / 3)

    def test_a_result_that_others_determine_says_nothing(self) -> None:
        for own, freedom in ((0.0, 1), (0.9e-6, 1), (1.1e-6, 2)):
            shared = math.sqrt(1 - own)
            with self.subTest(own):
                self.assertEqual(a_case(((1.0, shared), (shared, 1.0)), 0.0, 0.0).freedom, freedom)
        self.assertEqual(a_case(((1.0, 0.0), (0.0, 0.0)), 0.0, 0.0).freedom, 1)

    def test_one_result_is_held_by_its_spread(self) -> None:
        alone = Case(SimpleNamespace(), SimpleNamespace(), {}, "key", 2.0, 0.0, 0.5)  # type: ignore[arg-type]
        self.assertEqual(alone.gaps([3.0]), [2.0])


def cause(code: str, usual: float, most: float, shown: str = "g") -> Cause:
    return Cause(code, code, ReadingShifted("vessel"), shown, usual, most)


class Solved(unittest.TestCase):
    """Two causes on a straight line."""

    case: Any = SimpleNamespace(shape=SimpleNamespace(options=None))

    def solved(
        self, before: list[float], one: list[float], two: list[float], *most: float
    ) -> tuple[float, float] | None:
        first, second = cause("a", 1.0, most[0] if most else 100.0), cause("b", 1.0, most[1] if most else 100.0)
        return together._solved(self.case, before, (first, one), (second, two))

    def test_two_results_give_two_doses(self) -> None:
        self.assertEqual(self.solved([-6.0, -20.0], [2.0, 0.0], [0.0, 4.0]), (3.0, 5.0))
        # 1·a + 1·b = 5, 1·a − 1·b = −1
        self.assertEqual(self.solved([-5.0, 1.0], [1.0, 1.0], [1.0, -1.0]), (2.0, 3.0))

    def test_no_dose_below_nothing_or_above_its_most(self) -> None:
        self.assertIsNone(self.solved([6.0, -20.0], [2.0, 0.0], [0.0, 4.0]))
        self.assertIsNotNone(self.solved([-6.0, -20.0], [2.0, 0.0], [0.0, 4.0], 3.0, 5.0))
        self.assertIsNone(self.solved([-6.0, -20.0], [2.0, 0.0], [0.0, 4.0], 3.0 - EDGE, 5.0))
        self.assertIsNone(self.solved([-6.0, -20.0], [2.0, 0.0], [0.0, 4.0], 3.0, 5.0 - EDGE))

    def test_a_cause_that_is_not_felt_takes_no_part(self) -> None:
        self.assertIsNotNone(self.solved([-2.0, -20.0], [2.0, 0.0], [0.0, 4.0]))
        self.assertIsNone(self.solved([-2.0 + EDGE, -20.0], [2.0, 0.0], [0.0, 4.0]))

    def test_causes_alike_do_not_share_a_run(self) -> None:
        self.assertIsNone(self.solved([-6.0, -6.0], [1.0, 1.0], [2.0, 2.0]))
        # 1 − cos² of the angle between them: 1e-6 is the least
        for sine, alike in ((0.9e-3, True), (1.1e-3, False)):
            two = [math.sqrt(1 - sine**2), sine]
            before = [-30.0 * (1.0 + two[0]), -30.0 * two[1]]
            with self.subTest(sine):
                self.assertEqual(self.solved(before, [1.0, 0.0], two) is None, alike)

    def test_three_results_must_be_left_inside_three_standard_uncertainties(self) -> None:
        for third, stands in ((3.0, True), (3.0 + 1e-6, False)):
            found = self.solved([-6.0, -20.0, third], [2.0, 0.0, 0.0], [0.0, 4.0, 0.0])
            self.assertEqual(found is not None, stands)

    def test_one_result_takes_the_same_share_of_each(self) -> None:
        """2 · 10 + 1 · 20 reach 40; 30 are wanted: three quarters of each."""
        self.assertEqual(self.solved([-30.0], [2.0], [1.0], 10.0, 20.0), (7.5, 15.0))
        self.assertEqual(self.solved([-40.0], [2.0], [1.0], 10.0, 20.0), (10.0, 20.0))
        self.assertIsNone(self.solved([-40.0 - 1e-6], [2.0], [1.0], 10.0, 20.0))
        self.assertIsNone(self.solved([30.0], [2.0], [1.0], 10.0, 20.0))
        self.assertIsNone(self.solved([-10.0], [2.0], [-1.0], 10.0, 20.0))
        self.assertIsNone(self.solved([-10.0], [2.0], [0.0], 10.0, 20.0))

    def test_what_the_record_speaks_for_comes_first(self) -> None:
        row = cause("a", 1.0, 100.0)
        self.assertEqual(together._unlikely(row, 1.0, ()), 0.0)
        self.assertAlmostEqual(together._unlikely(row, math.e**2, ()), 2.0)
        self.assertAlmostEqual(together._unlikely(row, 1.0, ("a",)), -10.0)


class Shown(unittest.TestCase):
    def case(self, rows: int) -> tuple[Any, list[Cause]]:
        """So many causes of one effect each way: every pair of two kinds explains the run."""
        causes = [cause(f"{kind}{number}", 1.0 + number / 100, 100.0) for number in range(rows) for kind in "ab"]
        slopes = {row.code: [2.0, 0.0] if row.code[0] == "a" else [0.0, 4.0] for row in causes}

        def disturbed(*doses: tuple[Cause, float]) -> list[float]:
            self.played += 1
            parts = [[dose * slope for slope in slopes[row.code]] for row, dose in doses]
            return [sum(column) for column in zip(*parts, strict=True)]

        self.played = 0
        case = SimpleNamespace(
            shape=SimpleNamespace(options=None), before=[-6.0, -20.0], effect=lambda row: slopes[row.code],
            disturbed=disturbed, results=lambda readings: readings,
            gaps=lambda results: [results[0] - 6.0 + self.off, results[1] - 20.0],
        )  # fmt: skip
        return case, causes

    off = 0.0

    def test_five_are_shown_of_eight_that_are_played(self) -> None:
        case, causes = self.case(4)
        found = together.pairs(case, causes, ())
        self.assertEqual(len(found), 5)
        self.assertEqual(self.played, 8)
        self.assertEqual(found[0].doses, (3000.0, 5000.0))  # in grams
        case, causes = self.case(1)
        self.assertEqual([row.codes for row in together.pairs(case, causes, ())], [("a0", "b0")])

    def test_what_stands_on_the_line_and_not_at_the_bench_is_mended_or_left_out(self) -> None:
        case, causes = self.case(1)
        self.off = 1.0
        (found,) = together.pairs(case, causes, ())
        self.assertAlmostEqual(found.doses[0], 2500.0)
        self.assertEqual(self.played, 2)
        case.gaps = lambda results: [1.0, 1.0]
        self.assertEqual(together.pairs(case, causes, ()), ())

    def test_it_is_given_up_after_eight_rounds(self) -> None:
        case, causes = self.case(1)
        case.gaps = lambda results: [0.2 if self.played % 2 else -0.2, 0.0]
        self.assertEqual(together.pairs(case, causes, ()), ())
        self.assertEqual(self.played, together.ROUNDS)
        self.assertEqual(together.ROUNDS, 8)


class Fitted(unittest.TestCase):
    """The dose that brings all results nearest, on a bench of straight lines."""

    def fit(self, gaps: Any, usual: float = 1.0, shown: str = "g") -> tuple[Any, list[float]]:
        tried: list[float] = []

        class Line(Case):
            def results(self, readings: Any) -> Any:
                return [readings]

            def disturbed(self, *rows: Any) -> Any:
                tried.append(rows[0][1])
                return rows[0][1]

            def gaps(self, results: Any) -> Any:
                return gaps(results[0])

            @property
            def before(self) -> Any:  # type: ignore[override]
                return gaps(0.0)

        blank: Any = None
        case = Line(blank, blank, {}, "key", 0.0, 0.0, 1.0)
        return case.fit(cause("a", usual, 100.0, shown)), tried

    def test_a_straight_line_is_met_at_once(self) -> None:
        found, tried = self.fit(lambda dose: [2.0 * dose - 6.0])
        self.assertAlmostEqual(found.dose, 3.0)
        self.assertAlmostEqual(found.left, 0.0)
        self.assertEqual(len(tried), 3)

    def test_of_two_results_the_middle_counts(self) -> None:
        """d − 1 and d − 3: 2 leaves 1 on each side."""
        found, _ = self.fit(lambda dose: [dose - 1.0, dose - 3.0])
        self.assertAlmostEqual(found.dose, 2.0)
        self.assertAlmostEqual(found.left, 2.0)

    def test_no_dose_below_nothing(self) -> None:
        self.assertIsNone(self.fit(lambda dose: [dose + 1.0])[0])
        self.assertIsNone(self.fit(lambda dose: [dose])[0])
        self.assertIsNone(self.fit(lambda dose: [5.0])[0])

    def test_nothing_loses_more_than_all_of_itself(self) -> None:
        found, tried = self.fit(lambda dose: [dose - 5.0], usual=0.01, shown="%")
        self.assertEqual(max(tried), 0.95)
        self.assertAlmostEqual(found.dose, 0.95)

    def test_it_is_given_up_after_six_rounds(self) -> None:
        _, tried = self.fit(lambda dose: [math.exp(3 * dose) - 50.0])
        self.assertLessEqual(len(tried), 1 + suspect_case.FEW_ROUNDS)
        self.assertEqual(suspect_case.FEW_ROUNDS, 6)


class Words(unittest.TestCase):
    def others(self, *rows: tuple[float, float]) -> Any:
        """A case with other results: how far off, in units of their spread."""
        made = tuple(
            Other(f"o{number}", f"result {number}", GRAM, off * spread * 1e-3, 0.0, spread * 1e-3)
            for number, (off, spread) in enumerate(rows)
        )
        return SimpleNamespace(others=made)

    def test_another_result_is_named_from_three_standard_uncertainties_on(self) -> None:
        self.assertEqual(suspect_words.said_of_others(self.others((3.0, 1.0))), "")
        self.assertIn("Result 0 is 3.01 g", suspect_words.said_of_others(self.others((3.01, 1.0))))
        self.assertIn("Result 1 is", suspect_words.said_of_others(self.others((4.0, 1.0), (5.0, 0.1), (9.0, 0.0))))

    def test_a_key_inside_its_band_names_it(self) -> None:
        said = suspect_words.said_of_gap
        self.assertIn("wants explaining", said(2.0, 0.5, "Result 0 is 4 g"))
        self.assertIn("times the band", said(2.0 + EDGE, 0.5, "Result 0 is 4 g"))
        self.assertIn("where the rest may be", said(3.0, 0.3, "", "A good yield."))
        self.assertNotIn("where the rest may be", said(2.0, 0.3, "", "A good yield."))

    def test_five_percent_are_small_for_a_class(self) -> None:
        """Common practice."""
        said = suspect_words.said_of_gap
        self.assertIn("2.4 times the band, and 5 % of what", said(4.8, 0.05))
        self.assertIn("Something happened", said(4.8, 0.0501))
        self.assertIn("and 2.5 % of", said(4.8, 0.02545))
        self.assertIn("and 2.6 % of", said(4.8, 0.02556))

    def test_what_a_cause_leaves_where_it_was_and_what_it_moves(self) -> None:
        for moved, said in ((1.0, "it leaves result 0 at 1 g"), (1.01, "it would bring result 0 to 1.01 g")):
            case = SimpleNamespace(
                others=(Other("o", "result 0", GRAM, 9e-3, 0.0, 1e-3), Other("p", "p", GRAM, 5.0, 0.0, 0.0)),
                results=lambda readings: readings, honest=[0.0, 0.0, 0.0],
                disturbed=lambda row, by=moved: [0.0, by * 1e-3, 0.0],
            )  # fmt: skip
            self.assertIn(said, suspect_words.said_against(case, cause("a", 1.0, 1.0), 1.0))  # type: ignore[arg-type]


class Suspected(unittest.TestCase):
    """Which word a cause gets, and when pairs are looked for."""

    def pairs_asked(self, measured: float, *others: tuple[float, float]) -> bool:
        rows = tuple(Other("o", "o", GRAM, off * 1e-3, 0.0, spread * 1e-3) for off, spread in others)
        case = SimpleNamespace(key="k", measured=measured, expected=1.0, spread=0.5, others=rows)
        trial: Any = SimpleNamespace(options=None, uncertainty=lambda key: 0.5)
        judging = SimpleNamespace(judge=lambda trial: SimpleNamespace(verdicts=()))
        method: Any = SimpleNamespace(bench=SimpleNamespace(causes=()), judging=judging)
        asked = mock.Mock(return_value=())
        with mock.patch.multiple(suspects, _case=lambda *given: (case, GRAM, "k"), pairs=asked):
            suspects.suspicion(trial, method)
        return bool(asked.called)

    def test_pairs_are_looked_for_where_something_wants_explaining(self) -> None:
        self.assertFalse(self.pairs_asked(2.0))
        self.assertTrue(self.pairs_asked(2.0 + EDGE))
        self.assertFalse(self.pairs_asked(1.0, (2.9, 1.0)))
        self.assertTrue(self.pairs_asked(1.0, (3.1, 1.0)))

    def word(self, measured: float, fit: Any, dose: float | None = None, least: float = 0.0) -> str:
        """What stands of a cause that raises the key by its dose, a second result beside it."""
        row = Cause("a", "a", ReadingShifted("vessel"), "g", 1.0, 10.0, least=least)
        case: Any = SimpleNamespace(
            key="k", measured=measured, expected=1.0, spread=0.5, freedom=2, shape=SimpleNamespace(options=None),
            others=(Other("o", "o", GRAM, 5.0, 0.0, 1.0),), after=lambda *given: 2.0, fit=lambda row: fit,
            dose_of_key=lambda *given: dose, results=lambda readings: [1.0, 1.0], honest=None,
            disturbed=lambda *given: None,
        )  # fmt: skip
        return suspects._suspect(case, row, GRAM).standing

    def test_what_is_left_of_all_results_must_be_the_instruments(self) -> None:
        self.assertEqual(self.word(3.0, Fit(2.0, 9.0)), "believable")
        self.assertEqual(self.word(3.0, Fit(2.0, 9.0 + EDGE), 2.0), "refuted")
        self.assertEqual(self.word(3.0, Fit(20.0, 0.0)), "stretch")
        self.assertEqual(self.word(3.0, Fit(20.0 + EDGE, 0.0)), "too-large")

    def test_a_key_inside_its_band_has_no_sign(self) -> None:
        for measured, standing in (
            (2.0, "not-this"),
            (2.0 + EDGE, "too-large"),
            (0.0, "not-this"),
            (-EDGE, "wrong-sign"),
        ):
            with self.subTest(measured):
                self.assertEqual(self.word(measured, None), standing)

    def test_there_is_no_dose_below_the_least(self) -> None:
        self.assertEqual(self.word(3.0, Fit(2.0, 0.0), least=2.0), "believable")
        self.assertEqual(self.word(3.0, Fit(2.0, 0.0), least=2.0 + EDGE), "not-this")


class OverTrials(unittest.TestCase):
    def test_what_all_trials_share_differs_at_99_percent(self) -> None:
        """Two figures apart by z √2: at z = 2.575 the probability is 0.0100 (normal tables)."""
        for gap, code in ((2.57, "alike"), (2.58, "not-alike")):
            numbers = [
                reading_variable(value, math.sqrt(3), name)
                for value, name in ((10.0, "a"), (10.0 + gap * math.sqrt(2), "b"))
            ]
            found = replicates.compare(["1", "2"], numbers, set(), None)
            assert found is not None
            with self.subTest(gap):
                self.assertEqual(replicates.judge_alike(found, "x", "x", GRAM).code, code)

    def test_a_mean_is_held_against_what_a_class_reaches(self) -> None:
        """0.1 off 2.0 is 5 %: reached at just that, not at less."""
        for reaches, word in ((0.05 + 1e-12, "that a class usually reaches"), (0.0499, "misses the accepted")):
            numbers = [reading_variable(2.1, 0.01 * math.sqrt(3), name) for name in ("a", "b")]
            found = replicates.compare(["1", "2"], numbers, set(), 2.0)
            assert found is not None
            texts = " ".join(row.text for row in replicates.judge_replicates(found, "x", "x", unit("1"), reaches))
            with self.subTest(reaches):
                self.assertIn(word, texts)
                self.assertEqual("that a class usually reaches" in texts, "class" in word)


# Steps


def hydrate(residues: list[tuple[str, str]], steps: list[dict[str, Any]], method: str = "hydrate", **more: Any) -> Any:
    series = [{"text": text, "at": f"2026-03-05T{clock}"} for text, clock in residues]
    readings = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": series}
    document = {
        "format": "clay-kettle/run", "version": 1, "method": method, "options": {"salt": "ZnSO4"},
        "trials": [{"label": "1", "readings": readings}, {"label": "2", "readings": {"vessel": "31.204 g"}}],
        "steps": steps,
    }  # fmt: skip
    return run_from(document | more)


def mark(step: str, clock: str, kind: str = "done", number: int = 1, trial: str = "1") -> dict[str, Any]:
    return {"trial": trial, "step": step, "round": number, "kind": kind, "at": f"2026-03-05T{clock}"}


class Steps(unittest.TestCase):
    def texts(self, run: Any, code: str) -> list[str]:
        return [row.text for row in evaluate_run(run).trials[0].verdicts if row.code == code]

    def test_two_minutes_are_a_round(self) -> None:
        for clock, asked in (("19:02:00", False), ("19:01:59", True), ("19:01:21", True)):
            run = hydrate([("32.151 g", "19:00:00"), ("32.150 g", clock)], [])
            with self.subTest(clock):
                self.assertEqual(bool(self.texts(run, "no-heating-between")), asked)

    def test_seconds_are_said_up_to_a_minute_and_a_half(self) -> None:
        for clock, said in (("19:01:29", "89 s apart"), ("19:01:30", "1.5 min apart"), ("19:01:45", "1.8 min apart")):
            run = hydrate([("32.151 g", "19:00:00"), ("32.150 g", clock)], [])
            with self.subTest(clock):
                self.assertIn(said, self.texts(run, "no-heating-between")[0])

    def test_cold_at_the_very_end_of_its_time(self) -> None:
        for clock, warm in (("18:50:00", False), ("18:49:59", True)):
            run = hydrate([("32.151 g", clock)], [mark("heat", "18:40:00")])
            with self.subTest(clock):
                self.assertEqual(bool(self.texts(run, "weighed-warm")), warm)

    def test_more_time_counts_from_the_end_or_from_when_it_was_asked_for(self) -> None:
        begun = mark("weigh_residue", "18:40:00", "started")
        for asked_at, clock, warm in (
            ("18:45:00", "18:55:00", False), ("18:45:00", "18:54:59", True),
            ("18:58:00", "19:03:00", False), ("18:58:00", "19:02:59", True),
        ):  # fmt: skip
            run = hydrate([("32.151 g", clock)], [begun, mark("weigh_residue", asked_at, "extended")])
            with self.subTest(asked_at, clock=clock):
                self.assertEqual(bool(self.texts(run, "weighed-warm")), warm)

    def test_only_the_weighing_that_counts_speaks_for_a_suspect(self) -> None:
        steps = [mark("heat", "18:40:00"), mark("heat", "19:00:00", number=2)]
        for clocks, early in ((("18:45:00", "19:15:00"), False), (("18:55:00", "19:05:00"), True)):
            run = hydrate(list(zip(("32.151 g", "32.150 g"), clocks, strict=True)), steps)
            with self.subTest(early=early):
                self.assertEqual("vessel_residue" in evidence_of(run, "1").early, early)
                self.assertEqual(len(self.texts(run, "weighed-warm")), 1)

    def test_a_step_of_another_trial_says_nothing_here(self) -> None:
        run = hydrate([("32.151 g", "18:45:00")], [mark("heat", "18:40:00", trial="2")])
        self.assertEqual(self.texts(run, "weighed-warm"), [])

    def test_a_single_weighing_has_nothing_between(self) -> None:
        run = hydrate([("32.151 g", "18:55:00")], [mark("heat", "18:40:00", number=2)])
        self.assertEqual(self.texts(run, "no-heating-between"), [])

    def test_a_round_begun_and_not_marked_done_was_a_round(self) -> None:
        steps = [mark("heat", "18:40:00"), mark("heat", "18:55:00", "started", number=2)]
        run = hydrate([("32.151 g", "18:52:00"), ("32.150 g", "19:15:00")], steps)
        self.assertEqual(self.texts(run, "no-heating-between"), [])

    def washed(self, clock: str, *rinses: str, done: bool = True) -> list[str]:
        options = {
            "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
            "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
        }
        readings = {
            "reagent_1": "1.032 g", "reagent_2": "21.5 mL",
            "paper": {"text": "0.908 g", "at": "2026-03-05T18:20:00"}, "collected": ["1.889 g", "1.887 g"],
        }  # fmt: skip
        steps = [mark("label_paper", clock), mark("rinse_beaker", "18:30:00"), mark("wash_test", "18:40:00")]
        run = hydrate(
            [], steps, "precipitation", options=options, trials=[{"label": "1", "readings": readings}],
            observations=[{"tag": tag, "trial": "1"} for tag in rinses],
        )  # fmt: skip
        return self.texts(run, "step-missed")

    def test_a_name_written_in_the_moment_of_weighing_is_in_time(self) -> None:
        rinsed = ["rinse, paper"] * 3
        self.assertEqual(self.washed("18:20:00", *rinsed), [])
        self.assertEqual(len(self.washed("18:20:01", *rinsed)), 1)

    def test_rinses_are_counted(self) -> None:
        for times, said in ((0, "passed over"), (1, "done 1 of 3 times"), (2, "done 2 of 3 times")):
            (text,) = self.washed("18:10:00", *["rinse, paper"] * times)
            with self.subTest(times):
                self.assertIn(said, text)
        self.assertEqual(self.washed("18:10:00", *["rinse, paper"] * 4), [])

    def test_a_step_of_a_repeat_bears_in_the_round_in_which_it_was_left_out(self) -> None:
        """The nitride step belongs to the first round; marked there it is not asked for, unmarked it is told once."""
        options = {"element": "Mg", "partner": "O"}
        readings = {"vessel": "25.000 g", "vessel_element": "25.500 g", "vessel_product": ["25.800 g", "25.802 g"]}
        rounds = [mark("heat_air", "18:40:00", number=number) for number in (1, 2)]
        procedure = {"name": "combination_crucible", "version": 4, "schools": {"nitride": "yes"}}
        for steps, told in ((rounds, 1), ([*rounds, mark("nitride", "18:45:00")], 0)):
            run = hydrate(
                [], steps, "combination", options=options, procedure=procedure,
                trials=[{"label": "1", "readings": readings}],
            )  # fmt: skip
            self.assertEqual(len(self.texts(run, "step-missed")), told)
            self.assertEqual(self.texts(run, "no-heating-between"), [])

    def test_neutralised_by_its_own_log_only(self) -> None:
        options = {"equations": ["CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"]}
        trials = [{"label": label, "readings": {"sample": "1.500 g"}} for label in ("1", "2")]
        for steps, expected in (
            ([mark("neutralise", "19:00:00")], True), ([mark("neutralise", "19:00:00", "skipped")], False),
            ([mark("neutralise", "19:00:00", trial="2")], False), ([mark("tip", "19:00:00")], False),
        ):  # fmt: skip
            run = hydrate([], steps, "gas_by_mass_loss", options=options, trials=trials)
            self.assertEqual(is_neutralised(run, "1"), expected)
