"""Every verdict is either of the work or of its answer; what tells the answer is not told before."""

from __future__ import annotations

import ast
import unittest
from pathlib import Path

import claykettle
from claykettle.core.judgement.plausibility import UNEXPECTED
from claykettle.core.judgement.revealed import (
    ASKED_WHOLE,
    AT_THE_BENCH,
    OF_THE_ANSWER,
    REASON_TELLS,
    is_asked_whole,
    is_told,
)
from claykettle.core.judgement.standing import WORDS
from tests.core.test_every_verdict import CASES

SOURCE = Path(claykettle.__file__).parent


def asked() -> set[str]:
    """The codes of all questions that the program asks about a figure, as written in its source."""
    found = set()
    sources = (path.read_text("utf-8") for path in SOURCE.rglob("*.py"))
    for source in (text for text in sources if "judgement.question import Question\n" in text):
        for node in ast.walk(ast.parse(source)):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Question":
                code = node.args[0]
                if isinstance(code, ast.Attribute):
                    continue  # a verdict that is asked
                found.add({"UNEXPECTED": UNEXPECTED}[code.id] if isinstance(code, ast.Name) else ast.literal_eval(code))
    return found


class Revealed(unittest.TestCase):
    def test_every_verdict_belongs_to_one_of_the_two(self) -> None:
        self.assertEqual(set(CASES), AT_THE_BENCH | OF_THE_ANSWER)
        self.assertEqual(frozenset(), AT_THE_BENCH & OF_THE_ANSWER)

    def test_what_has_a_word_of_its_own_in_a_standing_is_an_answer_but_for_what_was_seen(self) -> None:
        self.assertEqual({"failed"}, set(WORDS) - OF_THE_ANSWER)

    def test_what_a_bench_must_know_to_work_on_it_is_told(self) -> None:
        for code in ("still-losing", "constant-mass", "weighed-warm", "out-of-order", "step-missed"):
            self.assertTrue(is_told(code), code)
        for code in ("agrees", "off-accepted", "formula-match", "loss-too-large"):
            self.assertFalse(is_told(code), code)

    def test_every_question_at_a_field_is_asked_with_its_reason_or_has_one_that_tells(self) -> None:
        self.assertEqual(asked(), ASKED_WHOLE | REASON_TELLS)
        self.assertEqual(frozenset(), ASKED_WHOLE & REASON_TELLS)

    def test_what_the_other_trials_gave_or_the_answer_lets_expect_is_no_reason_to_tell(self) -> None:
        for code in ("unexpected", "off-others", "loss-too-large", "unphysical"):
            self.assertFalse(is_asked_whole(code), code)
        for code in ("digits", "transposition", "magnitude", "set-aside", "out-of-range"):
            self.assertTrue(is_asked_whole(code), code)
