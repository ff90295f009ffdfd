"""Every verdict is either of the work or of its answer; what tells the answer is not told before."""

from __future__ import annotations

import unittest

from claykettle.core.judgement.revealed import AT_THE_BENCH, OF_THE_ANSWER, is_told
from claykettle.core.judgement.standing import WORDS
from tests.core.test_every_verdict import CASES


class Revealed(unittest.TestCase):
    def test_every_verdict_belongs_to_one_of_the_two(self) -> None:
        self.assertEqual(set(CASES), AT_THE_BENCH | OF_THE_ANSWER)
        self.assertEqual(frozenset(), AT_THE_BENCH & OF_THE_ANSWER)

    def test_what_has_a_word_of_its_own_in_a_standing_is_an_answer_but_for_what_was_seen(self) -> None:
        self.assertEqual({"failed"}, set(WORDS) - OF_THE_ANSWER)

    def test_what_a_bench_must_know_to_work_on_it_is_told(self) -> None:
        for code in ("still-losing", "constant-mass", "weighed-warm", "out-of-order", "step-missed", "digits"):
            self.assertTrue(is_told(code), code)
        for code in ("agrees", "off-accepted", "formula-match", "unexpected", "loss-too-large"):
            self.assertFalse(is_told(code), code)
