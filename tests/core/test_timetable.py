"""Evenings by hand: who waits for whom, when each bench is done; and what many of them come to."""

from __future__ import annotations

import unittest
from dataclasses import replace
from math import sqrt

from claykettle.core.planning.evening import Bench, Task, run_evening
from claykettle.core.planning.timetable import Group, Plan, PlannedStep, Takes, timetable


def fixed(name: str, minutes: float, at: str = "", attended: bool = True) -> PlannedStep:
    """A step that always takes as long."""
    return PlannedStep(name, Takes(minutes, minutes, minutes), at, attended)


WEIGH, HEAT = fixed("weigh", 2, "balance"), fixed("heat", 5)
COOL = fixed("cool", 10, attended=False)


def plan(*groups: Group, **more: object) -> Plan:
    """A class at half past six for 150 minutes, around one balance."""
    usual = Plan("", "2026-03-05", 18.5 * 60, 150, groups, {"balance": 1}, repetitions=3)
    return replace(usual, **more)  # type: ignore[arg-type]


class ByHand(unittest.TestCase):
    def test_two_benches_at_one_balance(self) -> None:
        found = timetable(plan(Group(("Ball", "China"), 1, (WEIGH, HEAT))))
        self.assertEqual([row.finish.median for row in found.benches], [7, 9])
        self.assertEqual([row.waited.median for row in found.benches], [0, 2])
        self.assertEqual((found.finish_last.p10, found.finish_last.p90), (9, 9))
        balance = found.resources[0]
        self.assertAlmostEqual(balance.busy, 4 / 9)
        self.assertEqual((balance.waited_total.median, balance.longest_queue.median), (2, 1))
        self.assertEqual((found.bottleneck, found.fits), ("balance", 1))
        self.assertEqual(found.latest_start, 18.5 * 60 + 150 - 9)
        more, apart = found.what_if[0], found.what_if[1]
        self.assertEqual((dict(more.room), more.finish_last.median), ({"balance": 2}, 7))
        self.assertEqual((apart.stagger, apart.finish_last.median, apart.waited.median), (2, 9, 0))

    def test_who_comes_first_is_served_first_and_at_one_moment_who_stands_first(self) -> None:
        """Both come at 10: the second bench's clock was set before the first one's last step began."""
        early = Bench(0, [[Task("a", 6), Task("b", 4), Task("weigh", 3, "balance")]])
        late = Bench(0, [[Task("c", 10), Task("weigh", 2, "balance")]])
        self.assertEqual(run_evening([early, late], {"balance": 1}).finish, [13, 15])
        self.assertEqual(run_evening([late, early], {"balance": 1}).finish, [12, 15])
        # half a minute earlier, and it is its turn
        sooner = Bench(0, [[Task("c", 9.5), Task("weigh", 2, "balance")]])
        self.assertEqual(run_evening([early, sooner], {"balance": 1}).finish, [14.5, 11.5])

    def test_benches_that_begin_apart_and_of_what_the_room_does_not_name_there_is_enough(self) -> None:
        found = timetable(plan(Group(("Ball", "China", "Flint"), 1, (WEIGH, HEAT)), stagger=4, room={}))
        self.assertEqual([row.finish.median for row in found.benches], [7, 11, 15])
        self.assertEqual((found.bottleneck, found.resources, found.what_if), (None, (), ()))

    def test_groups_stand_in_the_order_of_the_plan(self) -> None:
        found = timetable(plan(Group(("Ball",), 2, (WEIGH,)), Group(("China",), 1, (HEAT, WEIGH))))
        # Ball weighs from 0 to 2 and from 2 to 4; China from 5 to 7
        self.assertEqual([row.finish.median for row in found.benches], [4, 7])

    def test_a_trial_begins_while_the_one_before_it_cools(self) -> None:
        group = Group(("Ball",), 2, (WEIGH, COOL, WEIGH))
        self.assertEqual(timetable(plan(group)).finish_last.median, 28)
        # 0–2 weigh, 2–12 cool; the second 2–4 weigh, 4–14 cool; 12–14 and 14–16 weigh
        self.assertEqual(timetable(plan(group, overlap=True)).finish_last.median, 16)
        told = next(row for row in timetable(plan(group)).what_if if row.overlap is not None)
        self.assertEqual((told.overlap, told.finish_last.median), (True, 16))

    def test_two_hands_do_one_thing_and_the_earlier_trial_goes_before(self) -> None:
        """The second trial's heating (4–9, 9–14) is left off at 9 for the first one's weighing, which is ready at 7."""
        steps = (fixed("weigh", 2), fixed("cool", 5, attended=False), fixed("note", 1))
        first, second = [Task(s.name, s.takes.usual, s.at, s.attended) for s in steps], []
        second = [Task("a", 2), Task("b", 5), Task("c", 5)]
        evening = run_evening([Bench(0, [first, second])], {}, overlap=True)
        rows = {(bar.trial, bar.step): (bar.begun, bar.done) for bar in evening.bars}
        self.assertEqual(rows[0, "cool"], (2, 7))
        self.assertEqual((rows[1, "a"], rows[1, "b"]), ((2, 4), (4, 9)))
        self.assertEqual(rows[0, "note"], (9, 10))
        self.assertEqual(rows[1, "c"], (10, 15))

    def test_a_period_that_is_too_short(self) -> None:
        found = timetable(plan(Group(("Ball",), 1, (HEAT,)), length=4))
        self.assertEqual((found.fits, found.latest_start), (0, None))

    def test_one_trial_less_is_tried_where_there_are_several(self) -> None:
        found = timetable(plan(Group(("Ball",), 3, (HEAT,)), length=12))
        fewer = next(row for row in found.what_if if row.trials is not None)
        self.assertEqual((found.fits, fewer.trials, fewer.fits), (0, 2, 1))


class ManyEvenings(unittest.TestCase):
    def test_the_same_seed_gives_the_same_and_another_one_another(self) -> None:
        steps = (PlannedStep("weigh", Takes(1, 2, 4), "balance"), PlannedStep("heat", Takes(6, 8, 12)))
        drawn = plan(Group(("Ball", "China"), 2, steps), repetitions=40, seed=7)
        once, again, other = (timetable(one).finish_last for one in (drawn, drawn, replace(drawn, seed=8)))
        self.assertEqual(once, again)
        self.assertNotEqual(once, other)

    def test_a_range_is_drawn_from_a_triangle(self) -> None:
        """Its quantiles in closed form: a + √(p(b − a)(c − a)) below the mode, b − √((1 − p)(b − a)(b − c)) above."""
        low, usual, high, n = 6.0, 8.0, 12.0, 4000
        step = PlannedStep("heat", Takes(low, usual, high))
        found = timetable(plan(Group(("Ball",), 1, (step,)), repetitions=n, seed=3)).finish_last
        below = low + sqrt(0.1 * (high - low) * (usual - low))
        above = [high - sqrt((1 - p) * (high - low) * (high - usual)) for p in (0.5, 0.9)]
        for got, wanted, p in zip(vars(found).values(), (below, *above), (0.1, 0.5, 0.9), strict=True):
            density = (2 * (wanted - low) if wanted < usual else 4 * (high - wanted) / 2) / (
                (high - low) * (usual - low) if wanted < usual else (high - low) * (high - usual) / 2 * 1
            )
            error = sqrt(p * (1 - p) / n) / density
            self.assertLess(abs(got - wanted), 4 * error, p)

    def test_the_latest_start_lets_nine_of_ten_evenings_end_in_time(self) -> None:
        step = PlannedStep("heat", Takes(60, 90, 160))
        drawn = plan(Group(("Ball",), 1, (step,)), repetitions=200, seed=5, length=170)
        found = timetable(drawn)
        assert found.latest_start is not None
        delay = found.latest_start - drawn.starts
        late = timetable(replace(drawn, length=170 - delay))
        self.assertGreaterEqual(late.fits, 0.9)
        self.assertLess(timetable(replace(drawn, length=170 - delay - 0.5)).fits, 0.9)
