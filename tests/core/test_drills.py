"""Technique drills: every question has its answer, what is right is common practice, what is wrong is told why."""

from __future__ import annotations

import unittest

from claykettle.core.errors import Refusal
from claykettle.core.practice.drills import BOTTLES, KINDS, drill, solve


class Drills(unittest.TestCase):
    def test_every_kind_asks_something_whatever_its_seed_and_the_same_again(self) -> None:
        for kind in KINDS:
            for seed in (0, 7, 10**18):
                one = drill(kind, seed)
                self.assertEqual(one, drill(kind, seed))
                self.assertTrue(one.ask)
                self.assertIn(one.answered, ("figure", "choice", "order"))

    def test_a_meniscus_is_right_to_three_hundredths_and_a_scale_read_the_wrong_way_is_told(self) -> None:
        for seed in range(40):
            true = float(drill("inverted", seed).drawn["level"])
            self.assertTrue(solve("inverted", seed, f"{true + 0.02:.2f}").right)
            self.assertTrue(solve("inverted", seed, f"{true:.2f} mL".replace(".", ",")).right)
            self.assertFalse(solve("inverted", seed, f"{true + 0.1:.2f}").right)
            wrong = float(drill("inverted", seed).drawn["wrong_way"])
            if abs(wrong - true) > 0.07:
                self.assertIn("the wrong way", solve("inverted", seed, f"{wrong:.2f}").why)

    def test_the_level_lies_on_the_piece_of_scale_that_is_drawn(self) -> None:
        for kind in ("meniscus", "inverted"):
            for seed in range(200):
                drawn = drill(kind, seed).drawn
                below = (drawn["top"] - drawn["level"]) if drawn["upwards"] else (drawn["level"] - drawn["top"])
                self.assertTrue(0.5 < below < drawn["span"] - 0.5, (kind, seed))

    def test_of_a_balance_only_what_stands_is_written_down(self) -> None:
        """Common practice: a figure is taken when it has stood still."""
        seen = set()
        for seed in range(60):
            shown = drill("balance", seed).drawn["shown"]
            solved = solve("balance", seed, "Write it down")
            seen.add(solved.was)
            self.assertEqual(solved.right, len(set(shown)) == 1)
        self.assertEqual(len(seen), 4)

    def test_an_order_is_right_in_one_order_only(self) -> None:
        for kind in ("fold", "filter", "flame"):
            for seed in range(12):
                question = drill(kind, seed)
                solved = solve(kind, seed, "", question.offers)
                self.assertFalse(solved.right, "what is offered is mixed")
                self.assertTrue(solve(kind, seed, "", solved.was.split("; then ")).right)

    def test_what_is_poisonous_never_goes_down_the_drain(self) -> None:
        """Common practice, and most local rules: heavy metals into their own bottle."""
        for seed in range(80):
            question, solved = drill("waste", seed), solve("waste", seed, "drain")
            self.assertIn(solved.was, BOTTLES)
            if "arium" in question.ask or "obalt" in question.ask:
                self.assertEqual(solved.was, "heavy metals")
            self.assertIn("safety officer", solved.why)

    def test_what_is_no_answer_is_refused_at_its_place(self) -> None:
        with self.assertRaises(Refusal) as caught:
            solve("meniscus", 1, "about twelve")
        self.assertEqual(caught.exception.faults[0].path, "said")
        with self.assertRaises(Refusal):
            drill("dancing", 1)


if __name__ == "__main__":
    unittest.main()
