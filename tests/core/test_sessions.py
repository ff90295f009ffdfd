"""Meetings of a class, what is learnt of its steps, and the timetable as it becomes known."""

from __future__ import annotations

import unittest

from claykettle.core.methods.registry import method_named, procedure_named
from claykettle.core.planning.timetable import Group, Known, Plan, PlannedStep, Takes, sessions, timetable, unfolding
from claykettle.core.planning.trial_steps import learnt_from, steps_of_trial
from claykettle.formats.run_file import parse_options


def step(name: str, usual: float, attended: bool = True) -> PlannedStep:
    """A step that always takes so long."""
    return PlannedStep(name, Takes(usual, usual, usual), "", attended)


class Meetings(unittest.TestCase):
    def test_what_waits_over_night_parts_two_of_them(self) -> None:
        night = step("oven", 960, attended=False)
        first, second = sessions([step("filter", 15), night, step("weigh", 2)])
        self.assertEqual([row.name for row in first.steps], ["filter"])
        self.assertEqual(([row.name for row in second.steps], second.after), (["weigh"], night))

    def test_a_wait_that_is_sat_through_parts_nothing(self) -> None:
        self.assertEqual(len(sessions([step("heat", 8), step("cool", 239, attended=False), step("weigh", 2)])), 1)
        self.assertEqual(len(sessions([step("heat", 300), step("weigh", 2)])), 1)

    def test_it_is_parted_by_what_is_usual_and_not_by_what_may_happen(self) -> None:
        """An hour that may become a night is sat through; a night that may be cut to an hour is not."""
        hour = PlannedStep("cool", Takes(40, 60, 900), "", False)
        night = PlannedStep("oven", Takes(60, 900, 1000), "", False)
        self.assertEqual(1, len(sessions([step("heat", 8), hour, step("weigh", 2)])))
        self.assertEqual(2, len(sessions([step("heat", 8), night, step("weigh", 2)])))

    def test_nothing_before_or_behind_a_wait_is_no_meeting(self) -> None:
        night = step("stands", 960, attended=False)
        self.assertEqual([len(one.steps) for one in sessions([night, step("weigh", 2), night])], [1])
        self.assertEqual(sessions([night]), ())
        self.assertEqual(sessions([]), ())


class Learnt(unittest.TestCase):
    def steps(self, learnt: dict[str, Takes] | None = None) -> dict[str, Takes]:
        """What the steps of zinc sulfate take."""
        method, course = method_named("hydrate"), procedure_named("hydrate", None)
        assert course is not None
        options = parse_options(method, {"salt": "ZnSO4"})
        return {row.name: row.takes for row in steps_of_trial(method, options, course, {}, learnt)}

    def test_the_median_counts_and_the_spread_between_the_tenths(self) -> None:
        """Of 4, 5, 6, 7, 20: the median 6; by linear interpolation 4.4 and 14.8."""
        self.assertEqual(learnt_from({"heat#1": [7, 4, 20, 5, 6]}), {"heat#1": Takes(4.4, 6, 14.8)})

    def test_of_four_times_nothing_is_learnt(self) -> None:
        self.assertEqual(learnt_from({"heat#1": [4, 5, 6, 7]}), {})

    def test_it_takes_the_place_of_the_procedure_s_time_of_that_round_alone(self) -> None:
        before, after = self.steps(), self.steps({"heat#1": Takes(5, 6, 9), "no such step": Takes(1, 1, 1)})
        self.assertEqual(after["heat#1"], Takes(5, 6, 9))
        self.assertEqual({name for name in before if before[name] != after[name]}, {"heat#1"})


class Unfolding(unittest.TestCase):
    def plan(self, repetitions: int = 60) -> Plan:
        """Four benches that weigh, heat and weigh, at one balance."""
        weigh = PlannedStep("weigh", Takes(1, 2, 4), "balance")
        again = PlannedStep("weigh again", Takes(1, 2, 4), "balance")
        steps = (weigh, PlannedStep("cool", Takes(8, 10, 12), "", False), again)
        return Plan("", "", 0, 60, (Group(("a", "b", "c", "d"), 1, steps),), {"balance": 1}, repetitions=repetitions)

    def test_at_the_end_it_says_what_the_timetable_says(self) -> None:
        rows = list(unfolding(self.plan(), first=10, otherwise=60))
        whole = timetable(self.plan())
        last = rows[-1].table
        assert last is not None
        self.assertEqual(last.finish_last, whole.finish_last)
        self.assertEqual([(row.room, row.stagger, row.fits) for row in last.what_if],
                         [(row.room, row.stagger, row.fits) for row in whole.what_if])  # fmt: skip

    def test_the_first_picture_comes_after_few_evenings_and_it_only_grows(self) -> None:
        rows = list(unfolding(self.plan(), first=10, otherwise=20))
        tables = [row.table for row in rows if row.table is not None]
        self.assertEqual([table.repetitions for table in tables[:2]], [10, 60])
        done = [row.done for row in rows]
        self.assertEqual(done, sorted(done))
        self.assertEqual(rows[-1].done, 1.0)

    def test_who_stops_asking_stops_the_computing(self) -> None:
        """Ten million evenings, of which the first ten are looked at."""
        told = unfolding(self.plan(10_000_000), first=10)
        first: Known = next(told)
        assert first.table is not None
        self.assertEqual(first.table.repetitions, 10)
        told.close()
        self.assertEqual(list(told), [])
