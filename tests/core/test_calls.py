"""Who is called on the board, in which order, and when that changes by time alone. The rule is common practice."""

from __future__ import annotations

import unittest
from dataclasses import replace
from itertools import permutations
from random import Random

from claykettle.core.judgement.standing import Standing
from claykettle.core.lab.calls import ORDER, Call, Now, calls, next_change, queues
from claykettle.core.planning.timetable import Takes

MIN = 60.0
WELL = Standing("watch", "provisional", "still losing")
STOP = Standing("stop", "look now", "More was lost than the salt holds.")
OFF = Standing("watch", "off", "x is 6.0, the label says 7.")


def bench(number: int, **more: object) -> Now:
    """A bench that heats since a minute, as long as that takes."""
    usual = Now(number, f"B{number}", number, "Heat 1", 0.0, WELL, Takes(6, 8, 12))
    return replace(usual, **more)  # type: ignore[arg-type]


def said(
    rows: list[Now], now: float, ends: float | None = None, answered: set[tuple[int, str]] | None = None
) -> list[Call]:
    """The calls with the queues of their own balances."""
    names = sorted({row.balance for row in rows if row.balance} | {"A", "B"})
    return list(calls(rows, now, ends, queues(rows, names, now), answered or set()))


class TheRule(unittest.TestCase):
    def test_who_works_within_its_time_is_not_called(self) -> None:
        self.assertEqual([], said([bench(1)], 5 * MIN))
        self.assertEqual([], said([bench(1, timer_ends=8 * MIN)], 7.9 * MIN))

    def test_each_kind_has_its_place_whatever_the_order_of_the_room(self) -> None:
        now = 40 * MIN
        rows = [
            bench(1, standing=STOP, changed_at=30 * MIN),
            bench(2, timer_ends=38 * MIN, since=30 * MIN),
            bench(3, asks="46.378 g after 46.738 g?", asked_at=39 * MIN, since=39 * MIN),
            bench(4, standing=OFF, since=39 * MIN),
            bench(5, balance="B", since=30 * MIN, takes=Takes(1, 2, 4)),
            bench(6, since=20 * MIN),
            bench(7, done_at=30 * MIN, standing=Standing("good", "agrees", "")),
            bench(8, balance="B", since=29 * MIN, takes=Takes(1, 2, 30)),
            bench(9, signs="pH of the rinsed burette", signs_at=39 * MIN, since=39 * MIN),
        ]
        expected = ["stop", "time", "doubt", "sign", "look", "balance", "stuck", "early"]
        self.assertEqual(expected, list(ORDER))
        for shuffled in list(permutations(rows))[::5003]:
            found = said(list(shuffled), now, 100 * MIN)
            self.assertEqual(expected, [call.code for call in found])
            self.assertEqual([1, 2, 3, 9, 4, 5, 6, 7], [call.bench for call in found])

    def test_a_timer_that_rang_early_does_not_shorten_what_a_step_takes(self) -> None:
        """Two minutes of gentle heating, of up to twelve: it is late at twelve."""
        row = bench(1, timer_ends=2 * MIN, attended=False)
        self.assertEqual([], [call.code for call in said([row], 11 * MIN) if call.code == "stuck"])
        self.assertEqual(12 * MIN, next_change([row], 11 * MIN, None))
        self.assertEqual(["stuck"], [call.code for call in said([row], 13 * MIN)])

    def test_who_waits_for_a_balance_waits_since_the_vessel_is_cold(self) -> None:
        """Begun to cool at 0, cold at 30: at 32 nobody has waited for long, at 36 another balance is free."""
        at = bench(1, balance="A", since=20 * MIN, takes=Takes(1, 2, 30))
        waits = bench(2, balance="A", since=0.0, timer_ends=30 * MIN, takes=Takes(1, 2, 90))
        self.assertEqual([], said([at, waits], 32 * MIN))
        (call,) = said([at, waits], 36 * MIN)
        self.assertEqual(("balance", 2), (call.code, call.bench))
        self.assertIn("Waits 6 min for A, where B1 is; B is free.", call.reason)
        self.assertEqual(30 * MIN, call.since)
        # and time alone calls it 4 min after that
        self.assertEqual(34 * MIN, next_change([replace(waits, takes=None)], 31 * MIN, None))

    def test_of_one_kind_whoever_waits_longest_is_first_and_then_the_room_decides(self) -> None:
        rows = [bench(1, timer_ends=9 * MIN), bench(2, timer_ends=7 * MIN), bench(3, timer_ends=9 * MIN)]
        self.assertEqual([2, 1, 3], [call.bench for call in said(rows, 10 * MIN)])

    def test_a_bench_is_called_once_for_the_weightiest(self) -> None:
        row = bench(1, standing=STOP, timer_ends=1.0, asks="?")
        self.assertEqual(["stop"], [call.code for call in said([row], 60 * MIN)])

    def test_reasons_are_in_the_benchs_own_numbers(self) -> None:
        self.assertEqual("Heat 1: 2 min over its time.", said([bench(1, timer_ends=8 * MIN)], 10 * MIN)[0].reason)
        self.assertEqual("Heat 1: its time is up.", said([bench(1, timer_ends=8 * MIN)], 8 * MIN)[0].reason)
        self.assertEqual("Heat 1: 15 min so far, as a rule 6 to 12.", said([bench(1)], 15 * MIN)[0].reason)
        over = bench(1, timer_ends=8 * MIN, done_label="Heating done")
        self.assertEqual("“Time is up: heating done?”", said([over], 9 * MIN)[0].say)
        done = bench(1, done_at=0.0, standing=Standing("good", "settled", ""))
        self.assertEqual("Done, 30 min before the end.", said([done], 0.0, 30 * MIN)[0].reason)
        self.assertEqual([], said([done], 0.0, 19 * MIN))
        self.assertEqual([], said([done], 0.0, None))

    def test_what_cools_is_not_over_its_time_but_forgotten_after_a_while(self) -> None:
        row = bench(1, timer_ends=10 * MIN, attended=False, takes=Takes(10, 10, 10), balance="A")
        self.assertEqual([], said([row], 12 * MIN))
        (call,) = said([row], 13 * MIN)
        self.assertEqual(("stuck", 0.0), (call.code, call.since))
        self.assertEqual("Heat 1: 3 min over its time, and nobody is there.", call.reason)

    def test_what_goes_by_itself_is_no_call(self) -> None:
        for word in ("not yet", "provisional"):
            self.assertEqual([], said([bench(1, standing=Standing("watch", word, "wait"))], 5 * MIN))


class Balances(unittest.TestCase):
    def test_who_came_first_has_it_and_what_is_hot_is_not_there(self) -> None:
        rows = [
            bench(1, balance="A", since=5 * MIN),
            bench(2, balance="A", since=2 * MIN),
            bench(3, balance="A", since=0.0, timer_ends=20 * MIN, attended=False),
            bench(4, balance="B", since=1 * MIN, done_at=3 * MIN),
        ]
        first, second = queues(rows, ["A", "B"], 10 * MIN)
        self.assertEqual(("B2", ["B1"]), (first.at.name if first.at else "", [row.name for row in first.waiting]))
        self.assertIsNone(second.at)
        self.assertEqual("B2", queues(rows, ["A"], 20 * MIN)[0].at.name)  # type: ignore[union-attr]

    def test_of_two_who_are_ready_at_one_moment_whoever_stands_first_has_it(self) -> None:
        rows = [bench(3, balance="A"), bench(1, balance="A"), bench(2, balance="A", since=-1.0, timer_ends=0.0)]
        (line,) = queues(rows, ["A"], 1 * MIN)
        assert line.at is not None
        self.assertEqual(("B1", ["B2", "B3"]), (line.at.name, [row.name for row in line.waiting]))

    def test_two_benches_at_one_place_of_the_room_are_both_called(self) -> None:
        rows = [bench(1, place=1, timer_ends=8 * MIN), bench(2, place=1, timer_ends=8 * MIN)]
        self.assertEqual({1, 2}, {call.bench for call in said(rows, 9 * MIN)})

    def test_who_waits_is_sent_to_a_free_one_only_where_there_is_one(self) -> None:
        rows = [bench(1, balance="A", since=0.0, takes=None), bench(2, balance="A", since=1 * MIN, takes=None)]
        self.assertEqual([], said(rows, 4 * MIN))
        call = said(rows, 6 * MIN)[0]
        self.assertEqual(("balance", 2), (call.code, call.bench))
        self.assertEqual("Waits 5 min for A, where B1 is; B is free.", call.reason)
        taken = [*rows, bench(3, balance="B", since=0.0, takes=None)]
        self.assertEqual([], said(taken, 6 * MIN))

    def test_who_waits_for_a_balance_is_not_stuck(self) -> None:
        rows = [bench(1, balance="A", takes=Takes(1, 2, 4)), bench(2, balance="A", since=1.0, takes=Takes(1, 2, 4))]
        blocked = [*rows, bench(3, balance="B", takes=None)]
        self.assertEqual([("stuck", 1)], [(call.code, call.bench) for call in said(blocked, 30 * MIN)])


class Answered(unittest.TestCase):
    def test_what_was_tapped_away_stays_away_until_it_is_another_thing(self) -> None:
        row = bench(1, timer_ends=8 * MIN)
        call = said([row], 9 * MIN)[0]
        answered = {(1, call.key)}
        self.assertEqual([], said([row], 9 * MIN, answered=answered))
        # a minute more is the same thing, the next round is another
        self.assertEqual([], said([row], 10 * MIN, answered=answered))
        again = bench(1, step="Heat 2", timer_ends=30 * MIN, since=25 * MIN)
        self.assertEqual(["time"], [one.code for one in said([again], 31 * MIN, answered=answered)])

    def test_the_next_thing_is_called_where_the_first_was_answered(self) -> None:
        row = bench(1, standing=STOP, timer_ends=8 * MIN)
        first = said([row], 9 * MIN)[0]
        self.assertEqual(["time"], [call.code for call in said([row], 9 * MIN, answered={(1, first.key)})])


class ByTimeAlone(unittest.TestCase):
    def test_between_two_moments_nobody_new_is_called(self) -> None:
        """Held against looking every second: the calls change at the told moments only."""
        random = Random(3)
        for _ in range(30):
            rows = [
                bench(
                    number,
                    since=random.uniform(0, 20) * MIN,
                    timer_ends=random.choice([None, random.uniform(0, 30) * MIN]),
                    attended=random.random() < 0.5,
                    balance=random.choice(["", "", "A", "B"]),
                    done_at=random.choice([None, None, 5 * MIN]),
                )
                for number in range(6)
            ]
            ends, now = 50 * MIN, 20 * MIN
            codes = [(call.bench, call.code) for call in said(rows, now, ends)]
            until = next_change(rows, now, ends) or 80 * MIN
            moment = now
            while moment < min(until - 0.01, 80 * MIN):
                later = [(call.bench, call.code) for call in said(rows, moment, ends)]
                self.assertEqual(codes, later, (moment, until))
                moment += 7

    def test_nothing_ahead_is_told_as_nothing(self) -> None:
        self.assertIsNone(next_change([bench(1, done_at=0.0)], 5 * MIN, None))


if __name__ == "__main__":
    unittest.main()
