"""How long the steps of a trial take, of a procedure so short that each time is reckoned on paper."""

from __future__ import annotations

import unittest
from collections.abc import Collection, Mapping

from claykettle.core.method import Method, Options
from claykettle.core.methods.registry import method_named, shipped_pieces
from claykettle.core.planning.timetable import PlannedStep, Takes
from claykettle.core.planning.trial_steps import steps_left, steps_of_trial
from claykettle.core.run import Procedure, Progress, parse_procedure, steps_of
from claykettle.formats.run_file import parse_options

SHORT = """
name: short
version: 1
method: hydrate
title: Short
caution: Follow your local rules and your safety officer.
windows:
  sample: { about: 1.5 g }
steps:
  - id: grind
    title: Grind the crystals
    short: Ground
    say: Grind them.
    past: They were ground.
    why: Large ones burst.
  - id: fire
    title: Fire the vessel
    say: Fire it.
    past: It was fired.
    why: Water would be weighed.
    at: hood
    timer: { minutes: 10, more: 5 }
  - id: cool
    title: Cool it
    say: Let it cool.
    past: It cooled.
    why: Warm air lifts the pan.
    timer: { minutes: 20, more: 5 }
    cools: true
  - id: weigh_vessel
    title: Weigh the empty vessel
    say: Weigh it.
    past: It was weighed ({figure}).
    why: It counts.
    reads: vessel
  - id: weigh_sample
    title: Weigh it with the sample
    say: Weigh it.
    past: It was weighed ({figure}).
    why: It counts.
    reads: vessel_sample
    timer: { minutes: 6, more: 5 }
    cools: true
  - id: talk
    title: Talk it over
    say: Talk.
    past: It was talked over.
    why: Two see more.
    takes: { low: 1, usual: 2, high: 9 }
    attended: false
  - id: stir
    title: Stir
    say: Stir.
    past: It was stirred.
    why: It clots.
    timer: { minutes: 4, more: 5 }
    attended: false
  - id: watch
    title: Watch it cool
    say: Watch.
    past: It was watched.
    why: It may crack.
    timer: { minutes: 4, more: 5 }
    cools: true
    attended: true
  - id: rounds
    about: vessel_residue
    until: constant-mass
    repeat:
      - id: heat
        title: Heat, round {n}
        say: Heat.
        past: It was heated.
        why: Water goes.
        timer: { minutes: 8, more: 5 }
      - id: weigh_residue
        title: Weigh, round {n}
        say: Weigh it.
        past: It was weighed ({figure}).
        why: It counts.
        reads: vessel_residue
"""


class ShortCase(unittest.TestCase):
    """A trial by this procedure."""

    def setUp(self) -> None:
        self.method: Method = method_named("hydrate")
        self.options: Options = parse_options(self.method, {"salt": "ZnSO4"})
        self.course: Procedure = parse_procedure(SHORT, shipped_pieces())

    def planned(self, learnt: Mapping[str, Takes] | None = None) -> dict[str, PlannedStep]:
        rows = steps_of_trial(self.method, self.options, self.course, {}, learnt)
        self.assertEqual(len(rows), len({row.name for row in rows}))
        return {row.name: row for row in rows}


class OnPaper(ShortCase):
    def test_the_order_with_two_rounds_as_the_fewest_that_can_agree(self) -> None:
        names = [
            "grind", "fire", "cool", "weigh_vessel", "weigh_sample, before", "weigh_sample", "talk", "stir", "watch",
            "heat#1", "weigh_residue#1", "heat#2", "weigh_residue#2",
        ]  # fmt: skip
        self.assertEqual(list(self.planned()), names)

    def test_how_long_each_takes_and_where_and_whether_somebody_stays(self) -> None:
        """0.8 to 1.5 of its timer where somebody works, 1 to 1.5 where it rests; the rest is common practice."""
        for name, takes, at, stays in (
            ("grind", (1, 2, 5), "", True),
            ("fire", (8, 10, 15), "hood", True),
            ("cool", (20, 20, 30), "", False),
            ("weigh_vessel", (1, 2, 4), "balance", True),
            ("weigh_sample, before", (6, 6, 9), "", False),
            ("weigh_sample", (1, 2, 4), "balance", True),
            ("talk", (1, 2, 9), "", False),
            ("stir", (3.2, 4, 6), "", False),
            ("watch", (4, 4, 6), "", True),
            ("heat#2", (6.4, 8, 12), "", True),
        ):
            with self.subTest(name):
                row = self.planned()[name]
                self.assertEqual((row.at, row.attended), (at, stays))
                for found, wanted in zip((row.takes.low, row.takes.usual, row.takes.high), takes, strict=True):
                    self.assertAlmostEqual(found, wanted)

    def test_a_step_is_called_by_its_short_name_or_its_title(self) -> None:
        rows = self.planned()
        self.assertEqual(rows["grind"].label, "Ground")
        self.assertEqual(rows["cool"].label, "Cool it")
        self.assertEqual(rows["heat#2"].label, "Heat, round 2")

    def test_what_was_learnt_takes_the_place_but_of_times_that_the_procedure_says_itself(self) -> None:
        learnt = {"heat#1": Takes(1, 1, 1), "talk": Takes(7, 7, 7), "grind": Takes(3, 3, 3), "nothing": Takes(9, 9, 9)}
        rows = self.planned(learnt)
        self.assertEqual(rows["heat#1"].takes, Takes(1, 1, 1))
        self.assertEqual(rows["grind"].takes, Takes(3, 3, 3))
        self.assertEqual(rows["heat#2"].takes.usual, 8)
        self.assertEqual(rows["talk"].takes, Takes(1, 2, 9))
        self.assertNotIn("nothing", rows)


class UnderWay(ShortCase):
    """What a trial has still to do, as it stands."""

    def left(self, taken: Mapping[str, int], finished: Collection[str], settled: bool = False) -> list[str]:
        done = {("constant-mass", "vessel_residue")} if settled else set()
        steps = steps_of(self.course, {}, Progress(taken, done, finished))
        whole = steps_of_trial(self.method, self.options, self.course, {})
        return [row.name for row in steps_left(self.method, self.options, steps, whole)]

    def test_of_a_trial_that_has_not_begun_all_is_left(self) -> None:
        self.assertEqual(self.left({}, ()), list(self.planned()))

    def test_what_is_done_is_not_left_and_the_rounds_that_a_series_needs_at_least_are(self) -> None:
        done = ("grind", "fire", "cool", "talk", "stir", "watch", "heat#1")
        taken = {"vessel": 1, "vessel_sample": 1}
        self.assertEqual(self.left(taken, done), ["weigh_residue#1", "heat#2", "weigh_residue#2"])
        self.assertEqual(self.left(taken | {"vessel_residue": 1}, done), ["heat#2", "weigh_residue#2"])

    def test_a_third_round_comes_where_two_did_not_agree(self) -> None:
        done = ("grind", "fire", "cool", "talk", "stir", "watch", "heat#1", "heat#2")
        taken = {"vessel": 1, "vessel_sample": 1, "vessel_residue": 2}
        self.assertEqual(self.left(taken, done), ["heat#3", "weigh_residue#3"])

    def test_of_a_trial_that_is_done_nothing_is_left(self) -> None:
        done = ("grind", "fire", "cool", "talk", "stir", "watch", "heat#1", "heat#2")
        taken = {"vessel": 1, "vessel_sample": 1, "vessel_residue": 2}
        self.assertEqual(self.left(taken, done, settled=True), [])
