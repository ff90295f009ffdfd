"""How a run stands in a word: green only where nothing that bears on the result stands against it."""

from __future__ import annotations

import unittest

from claykettle.core.judgement.passing import PASSED
from claykettle.core.judgement.standing import BESIDE, standing
from claykettle.core.verdict import Level, Verdict


def row(code: str, level: Level = "watch") -> Verdict:
    return Verdict(code, level, "x", f"about {code}")


class Standings(unittest.TestCase):
    def test_the_weightiest_decides(self) -> None:
        for rows, has_result, doubts, level, word in (
            ([], True, [], "good", "settled"),
            ([row("agrees", "good")], True, [], "good", "agrees"),
            ([row("within-class", "good"), row("agrees", "good")], True, [], "good", "within the class"),
            ([row("agrees", "good"), row("unwashed")], True, [], "watch", "look"),
            ([row("agrees", "good")], True, ["30.2 g?"], "watch", "confirmed doubt"),
            ([row("off-accepted"), row("formula-match", "good")], True, [], "watch", "off"),
            ([row("off-accepted"), row("formula-none")], True, [], "watch", "off"),
            ([row("formula-undecided")], True, [], "watch", "cannot decide"),
            ([row("still-losing"), row("off-accepted")], True, [], "watch", "provisional"),
            ([row("unphysical", "stop"), row("still-losing")], True, ["x"], "stop", "look now"),
            ([row("agrees", "good")], False, [], "watch", "not yet"),
            # what ends by eye has no figure, and is not waited for
            ([row(PASSED, "good")], False, [], "good", "passed"),
        ):
            found = standing(rows, has_result, doubts)
            with self.subTest(codes=[one.code for one in rows], doubts=doubts):
                self.assertEqual((found.level, found.word), (level, word))

    def test_of_several_watches_the_weightiest_in_whatever_order_they_came(self) -> None:
        for rows, word in (
            ([row("plateau"), row("off-accepted")], "off"),
            ([row("off-accepted"), row("mixture")], "a mixture"),
            ([row("yield-over-100"), row("unwashed"), row("replicates-disagree")], "trials differ"),
        ):
            self.assertEqual(word, standing(rows, True, []).word)

    def test_how_it_was_measured_takes_nothing_from_a_result(self) -> None:
        for code in sorted(BESIDE):
            with self.subTest(code):
                self.assertEqual(standing([row(code), row("agrees", "good")], True, []).word, "agrees")

    def test_it_says_in_whose_words(self) -> None:
        self.assertEqual(standing([row("off-accepted")], True, []).why, "about off-accepted")
