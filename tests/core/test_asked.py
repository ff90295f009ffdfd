"""Answers to questions, held against what was to be said, the outcome, or a replay of what is blamed."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.marking import Answered, choices_of, judge_answer, kind_of
from claykettle.core.method import LineReplaced
from claykettle.core.methods.registry import all_methods
from claykettle.core.planning.practical import Question
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import document

SEVEN = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
WET = ["32.195 g", "32.193 g"]
"""Weighed before it was dry: x comes out too small."""
LOST = ["32.060 g", "32.058 g"]
"""Some of it jumped out: x comes out too large."""


def asked(question: Question, said: str, residue: list[str] | None = None, options: Any = None) -> Answered:
    """How an answer stands beside 1.657 g of the heptahydrate heated down to this."""
    readings: dict[str, Any] = {"vessel": "31.204 g", "vessel_sample": "32.861 g"}
    if residue != []:
        readings["vessel_residue"] = residue or ["32.136 g", "32.134 g"]
    run = run_from(document(readings=readings, options=SEVEN if options is None else options))
    return judge_answer(question, said, evaluate_run(run), "1")


class WrittenDown(unittest.TestCase):
    def test_a_figure_agrees_within_its_own_rounding(self) -> None:
        question = Question("How much water?", "number", answer="43.9 %", about="water_percent")
        for said in ("43.9 %", "43.86 %", "44 %"):
            with self.subTest(said):
                self.assertEqual("right", asked(question, said).verdict)
        for said in ("45.2 %", "56.1 %", "0.439", "about half"):
            with self.subTest(said):
                found = asked(question, said)
                self.assertEqual("wrong", found.verdict)
                self.assertIn("43.9 %", found.text)

    def test_a_figure_with_a_unit_of_its_own_needs_no_line(self) -> None:
        question = Question("How much acid?", "number", answer="25 mL")
        self.assertEqual("right", asked(question, "25.0 mL").verdict)
        self.assertEqual("right", asked(question, "0.025 L").verdict)
        self.assertEqual("wrong", asked(question, "25 g").verdict)
        self.assertEqual("wrong", asked(question, "25").verdict)

    def test_a_choice_is_right_to_the_letter(self) -> None:
        question = Question("It reads", "choice", ("too light", "too heavy"), "too light")
        self.assertEqual("right", asked(question, "too light").verdict)
        self.assertEqual("wrong", asked(question, "too heavy").verdict)

    def test_words_are_for_a_person_to_read(self) -> None:
        self.assertEqual("open", asked(Question("Why?", "text"), "because it pops").verdict)
        told = asked(Question("Why?", "text", answer="steam carries grains along"), "it pops")
        self.assertEqual("open", told.verdict)
        self.assertIn("steam carries grains along", told.text)

    def test_a_formula_in_words_is_known_however_it_is_written(self) -> None:
        question = Question("Which salt?", "text", answer="ZnSO4")
        self.assertEqual("right", asked(question, "SZnO4").verdict)


class Predicted(unittest.TestCase):
    QUESTION = Question("How much will stay?", "number", about="residue_mass")

    def test_a_prediction_is_held_against_the_outcome(self) -> None:
        self.assertEqual("right", asked(self.QUESTION, "0.93 g").verdict)
        found = asked(self.QUESTION, "0.85 g")
        self.assertEqual("wrong", found.verdict)
        self.assertIn("0.930", found.text)

    def test_before_there_is_an_outcome_it_stays_open(self) -> None:
        self.assertEqual("open", asked(self.QUESTION, "0.93 g", residue=[]).verdict)


class Blamed(unittest.TestCase):
    """By the trade (common practice): spatter and decomposition raise x, water left lowers it."""

    CAUSE = Question("Which cause?", "choice", about="cause")
    WAY = Question("Too high or too low?", "choice", about="direction")
    OFF = Question("By how much?", "number", about="deviation")

    def test_the_sign_is_judged_by_replay(self) -> None:
        self.assertEqual("right", asked(self.CAUSE, "spatter", LOST).verdict)
        found = asked(self.CAUSE, "spatter", WET)
        self.assertEqual("wrong", found.verdict)
        self.assertIn("makes the ratio x too large; yours is too small", found.text)

    def test_the_size_is_told_and_judged(self) -> None:
        """By hand: 0.9305 g of salt is there; 0.856 g was weighed, so 0.07 g is gone."""
        self.assertRegex(asked(self.CAUSE, "spatter", LOST).text, r"0\.0[67]\d* g of it would be needed")
        gone = ["31.704 g", "31.703 g"]
        found = asked(self.CAUSE, "spatter", gone)
        self.assertEqual("wrong", found.verdict)
        self.assertIn("is usually the most", found.text)

    def test_water_left_behind_fits_a_wet_residue(self) -> None:
        right = [code for code in self.codes() if asked(self.CAUSE, code, WET).verdict == "right"]
        self.assertIn("not-fully-heated", right)
        self.assertNotIn("spatter", right)

    def test_inside_the_band_no_cause_is_needed(self) -> None:
        self.assertEqual("right", asked(self.CAUSE, "none").verdict)
        self.assertEqual("wrong", asked(self.CAUSE, "spatter").verdict)
        self.assertEqual("wrong", asked(self.CAUSE, "none", LOST).verdict)

    def test_too_high_or_too_low(self) -> None:
        self.assertEqual("right", asked(self.WAY, "high", LOST).verdict)
        self.assertEqual("wrong", asked(self.WAY, "low", LOST).verdict)
        self.assertEqual("right", asked(self.WAY, "low", WET).verdict)
        self.assertEqual("right", asked(self.WAY, "inside").verdict)

    def test_by_how_much_in_its_unit_or_in_percent(self) -> None:
        """By hand: 0.803/18.015 over 0.854/161.436 is 8.426, off by 1.43, which is 20.4 %."""
        for said in ("1.43", "+1.43", "20.4 %"):
            with self.subTest(said):
                self.assertEqual("right", asked(self.OFF, said, LOST).verdict, asked(self.OFF, said, LOST).text)
        for said in ("-1.43", "0.4", "12 %", "much"):
            with self.subTest(said):
                self.assertEqual("wrong", asked(self.OFF, said, LOST).verdict)

    def test_where_nothing_was_accepted_nothing_is_judged(self) -> None:
        for question in (self.WAY, self.OFF):
            found = asked(question, "high", LOST, options={"salt": "ZnSO4", "level": "percent"})
            self.assertEqual("open", found.verdict)

    def test_an_unknown_cause_is_for_a_person(self) -> None:
        self.assertEqual("open", asked(self.CAUSE, "the moon", LOST).verdict)

    def codes(self) -> list[str]:
        """The causes that are offered."""
        return [row.value for row in choices_of(self.CAUSE, run_from(document()), "1")]

    def test_every_method_offers_its_causes_and_no_slip_of_the_calculation(self) -> None:
        slips = {
            cause.code
            for method in all_methods().values()
            for cause in method.bench.causes
            if isinstance(cause.kind, LineReplaced)
        }
        self.assertTrue(slips)
        self.assertTrue(slips.isdisjoint(self.codes()))
        self.assertGreater(len(self.codes()), 5)
        self.assertEqual("choice", kind_of(self.CAUSE))
        self.assertEqual("number", kind_of(self.OFF))
