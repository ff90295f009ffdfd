"""Evenings so small that each step's times are counted on paper."""

from __future__ import annotations

import unittest
from collections.abc import Mapping, Sequence

from claykettle.core.planning.evening import Bench, Evening, Task, run_evening

Row = tuple[int, int, str, float, float, float]


def hands(step: str, takes: float, at: str = "") -> Task:
    """A step that somebody attends."""
    return Task(step, takes, at)


def alone(step: str, takes: float, at: str = "") -> Task:
    """A step that goes on by itself."""
    return Task(step, takes, at, attended=False)


def rows(evening: Evening) -> list[Row]:
    """Bench, trial, step, asked, begun, done, as they came to an end."""
    return [(bar.bench, bar.trial, bar.step, bar.asked, bar.begun, bar.done) for bar in evening.bars]


def passed(
    *benches: tuple[float, Sequence[Sequence[Task]]], room: Mapping[str, int] = {}, overlap: bool = False
) -> Evening:
    """The evening of these benches: when each begins, and its trials."""
    return run_evening([Bench(begins, trials) for begins, trials in benches], room, overlap)


class InTurn(unittest.TestCase):
    def test_one_trial_after_the_other_from_when_the_bench_begins(self) -> None:
        trials = [[hands("weigh", 5), alone("heat", 20)], [hands("weigh", 5)]]
        found = passed((10, trials))
        self.assertEqual(
            rows(found), [(0, 0, "weigh", 10, 10, 15), (0, 0, "heat", 15, 15, 35), (0, 1, "weigh", 35, 35, 40)]
        )
        self.assertEqual((found.finish, found.waited), ([40], [0]))

    def test_who_comes_first_is_served_first_and_of_two_at_once_the_bench_that_stands_first(self) -> None:
        weighing = [[hands("weigh", 4, "balance")]]
        found = passed((1, weighing), (0, weighing), (1, weighing), room={"balance": 1})
        self.assertEqual(rows(found), [(1, 0, "weigh", 0, 0, 4), (0, 0, "weigh", 1, 4, 8), (2, 0, "weigh", 1, 8, 12)])
        self.assertEqual((found.finish, found.waited), ([8, 4, 12], [3, 0, 7]))
        self.assertEqual((found.waited_at("balance"), found.waited_at("oven")), (10, 0))
        self.assertEqual((found.longest_queue("balance"), found.longest_queue("oven")), (2, 0))

    def test_of_two_balances_each_serves_one_and_what_is_not_scarce_nobody_waits_for(self) -> None:
        tasks = [[hands("weigh", 4, "balance"), alone("heat", 2, "burner")]]
        found = passed((0, tasks), (0, tasks), (0, tasks), room={"balance": 2})
        self.assertEqual([bar.begun for bar in found.bars if bar.at == "balance"], [0, 0, 4])
        self.assertEqual(found.finish, [6, 6, 10])
        self.assertEqual(found.waited, [0, 0, 4])
        # 12 of 2 · 10 minutes
        self.assertAlmostEqual(found.busy("balance", 2), 0.6)

    def test_who_leaves_at_a_moment_makes_room_for_who_comes_then(self) -> None:
        weighing = [[hands("weigh", 4, "balance")]]
        found = passed((4, weighing), (0, weighing), room={"balance": 1})
        self.assertEqual(found.waited, [0, 0])

    def test_nobody_s_evening_is_over_at_once(self) -> None:
        found = passed()
        self.assertEqual((found.finish, found.busy("balance", 1), found.longest_queue("balance")), ([], 0.0, 0))


class WithOverlap(unittest.TestCase):
    def test_the_next_trial_begins_while_the_first_is_in_the_flame(self) -> None:
        trial = [hands("weigh", 5), alone("heat", 20), hands("weigh again", 5)]
        found = passed((0, [trial, trial]), overlap=True)
        # two end at 30 min, in whatever order
        self.assertEqual(
            sorted(rows(found), key=lambda row: (row[5], row[1])),
            [
                (0, 0, "weigh", 0, 0, 5),
                (0, 1, "weigh", 5, 5, 10),
                (0, 0, "heat", 5, 5, 25),
                (0, 0, "weigh again", 25, 25, 30),
                (0, 1, "heat", 10, 10, 30),
                (0, 1, "weigh again", 30, 30, 35),
            ],
        )
        self.assertEqual(found.finish, [35])
        # in turn it takes both their times
        self.assertEqual(passed((0, [trial, trial])).finish, [60])

    def test_two_hands_do_one_attended_step_at_a_time(self) -> None:
        """The second weighs from 5 to 15, the first is hot until 8 and waits for the hands."""
        first = [hands("weigh", 5), alone("heat", 3), hands("weigh again", 5)]
        found = passed((0, [first, [hands("weigh", 10)]]), overlap=True)
        again = next(bar for bar in found.bars if bar.step == "weigh again")
        self.assertEqual((again.begun, again.done, found.finish), (15, 20, [20]))

    def test_an_earlier_trial_goes_before_a_later_one_as_soon_as_a_step_is_done(self) -> None:
        first = [hands("light", 1), alone("heat", 10), hands("weigh", 5)]
        second = [hands("grind", 6), hands("sieve", 6), hands("clean", 6)]
        found = passed((0, [first, second]), overlap=True)
        self.assertEqual(
            [(bar.trial, bar.step, bar.begun, bar.done) for bar in found.bars],
            [
                (0, "light", 0, 1), (1, "grind", 1, 7), (0, "heat", 1, 11), (1, "sieve", 7, 13), (0, "weigh", 13, 18),
                (1, "clean", 18, 24),
            ],
        )  # fmt: skip

    def test_the_earliest_that_waits_goes_first_whoever_else_waits(self) -> None:
        """At 13 the second trial ends a step; the first has waited since 11, the third since 12."""
        first = [hands("light", 1), alone("heat", 10), hands("weigh", 5)]
        second = [hands("light", 1), alone("heat", 1), hands("grind", 10), hands("sieve", 10)]
        third = [hands("light", 1), alone("heat", 9), hands("weigh", 3)]
        found = passed((0, [first, second, third]), overlap=True)
        begun = {(bar.trial, bar.step): bar.begun for bar in found.bars if bar.step in ("weigh", "grind", "sieve")}
        self.assertEqual(begun, {(1, "grind"): 3, (0, "weigh"): 13, (1, "sieve"): 18, (2, "weigh"): 28})
        self.assertEqual(found.finish, [31])

    def test_a_later_trial_that_waits_does_not_come_between_two_steps_of_an_earlier_one(self) -> None:
        first = [hands("light", 1), alone("heat", 5), hands("grind", 10), hands("sieve", 5)]
        second = [hands("light", 1), alone("heat", 6), hands("weigh", 2)]
        found = passed((0, [first, second]), overlap=True)
        begun = {bar.step: bar.begun for bar in found.bars if bar.step in ("grind", "sieve", "weigh")}
        self.assertEqual(begun, {"grind": 6, "sieve": 16, "weigh": 21})

    def test_two_trials_of_a_bench_that_ask_at_one_moment_are_served_in_their_order(self) -> None:
        trials = [[hands("weigh", 5), alone("dry", 5, "oven")], [alone("dry", 4, "oven")]]
        found = passed((0, trials), room={"oven": 1}, overlap=True)
        dried = {bar.trial: (bar.asked, bar.begun, bar.done) for bar in found.bars if bar.at == "oven"}
        self.assertEqual(dried, {0: (5, 5, 10), 1: (5, 10, 14)})

    def test_a_trial_that_needs_hands_throughout_is_done_before_the_next_begins(self) -> None:
        trial = [hands("grind", 4), hands("sieve", 4)]
        found = passed((2, [trial, trial]), overlap=True)
        self.assertEqual([(bar.trial, bar.begun) for bar in found.bars], [(0, 2), (0, 6), (1, 10), (1, 14)])

    def test_the_third_begins_when_the_second_is_left_alone_not_before(self) -> None:
        trial = [hands("weigh", 5), alone("heat", 30)]
        found = passed((0, [trial, trial, trial]), overlap=True)
        begun = {bar.trial: bar.begun for bar in found.bars if bar.step == "weigh"}
        self.assertEqual((begun, found.finish), ({0: 0, 1: 5, 2: 10}, [45]))

    def test_each_bench_has_hands_of_its_own_and_both_one_balance(self) -> None:
        trial = [hands("weigh", 4, "balance"), alone("heat", 6)]
        found = passed((0, [trial, trial]), (0, [trial]), room={"balance": 1}, overlap=True)
        weighed = {(bar.bench, bar.trial): (bar.asked, bar.begun) for bar in found.bars if bar.step == "weigh"}
        # the first bench asks again at 4, behind the second, which has stood there from the beginning
        self.assertEqual(weighed, {(0, 0): (0, 0), (1, 0): (0, 4), (0, 1): (4, 8)})
        self.assertEqual((found.finish, found.waited), ([18, 14], [4, 4]))
