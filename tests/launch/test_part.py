"""What watches the parts of a house: it never gives up, and never ends a house by itself."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from claykettle.launch import house, part
from claykettle.launch.part import LONGEST_PAUSE_S, STEADY_S, Part, Patience
from claykettle.launch.paths import SetupError


class Watched(unittest.TestCase):
    def setUp(self) -> None:
        self.now, self.alive, self.fails, self.starts = 1000.0, True, False, []
        self.part = Part("the application", lambda: not self.alive, self.begin, lambda: self.now)
        said = mock.patch.object(part, "say")
        self.say = said.start()
        self.addCleanup(said.stop)

    def begin(self) -> None:
        self.starts.append(self.now)
        if self.fails:
            raise SetupError("the disk is full")
        self.alive = True

    def go(self, seconds: float, dies: bool = False) -> None:
        """So long it is looked at twice a second; with `dies` it is dead again as soon as it lives."""
        for _ in range(int(2 * seconds)):
            self.now += 0.5
            self.part.look()
            if dies:
                self.alive = False

    def test_what_died_once_is_started_at_once(self) -> None:
        self.alive = False
        self.go(0.5)
        self.assertTrue(self.alive)
        self.assertEqual((len(self.starts), self.part.deaths), (1, 1))

    def test_what_dies_at_once_is_started_for_ever_after_pauses_that_grow(self) -> None:
        """A day of it; the launcher that gave up after five deaths in a minute took the database along."""
        self.alive = False
        self.go(24 * 3600 // 8, dies=True)
        pauses = [after - before for before, after in zip(self.starts, self.starts[1:], strict=False)]
        self.assertEqual(sorted(pauses[:6]), pauses[:6])
        self.assertLess(pauses[0], 3)
        self.assertGreater(len(self.starts), 100)
        self.assertLessEqual(max(pauses), LONGEST_PAUSE_S + 1)

    def test_what_keeps_it_from_starting_is_said_and_tried_again(self) -> None:
        self.alive, self.fails = False, True
        self.go(600)
        self.assertGreater(len(self.starts), 8)
        told = " ".join(call.args[0] for call in self.say.call_args_list)
        self.assertIn("the disk is full", told)
        self.fails = False
        self.go(LONGEST_PAUSE_S + 1)
        self.assertTrue(self.alive)

    def test_what_ran_well_for_a_while_is_started_at_once_again(self) -> None:
        self.alive = False
        self.go(120, dies=True)
        self.alive, self.part.is_down = True, False
        self.go(STEADY_S + LONGEST_PAUSE_S)
        self.alive = False
        self.go(0.5)
        self.assertTrue(self.alive)


class Slow(unittest.TestCase):
    def test_a_house_that_is_silent_for_an_hour_is_waited_for_and_said_to_be_silent(self) -> None:
        now, answers = [0.0], [False]
        patience = Patience(lambda: answers[0], lambda: now[0])
        with mock.patch.object(part, "say") as say:
            while now[0] < 3600:
                now[0] += 10
                patience.look(())
            self.assertIn("has not answered for", say.call_args_list[0].args[0])
            self.assertLess(say.call_count, 12)
            answers[0] = True
            patience.look(())
            self.assertEqual("the application answers again", say.call_args.args[0])

    def test_what_comes_up_within_half_a_minute_says_nothing_of_it(self) -> None:
        now, answers = [0.0], [False]
        patience = Patience(lambda: answers[0], lambda: now[0])
        with mock.patch.object(part, "say") as say:
            for _ in range(2):
                now[0] += 10
                patience.look(())
            answers[0] = True
            patience.look(())
            say.assert_not_called()


class Log(unittest.TestCase):
    def test_a_long_log_is_begun_anew_for_whoever_writes_it_and_the_last_is_kept(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(house, "LOG_BYTES", 100):
            log = Path(folder) / "web.log"
            with log.open("ab", buffering=0) as writer:
                writer.write(b"a" * 101)
                house.shorten(log)
                writer.write(b"b")
            self.assertEqual((log.read_bytes(), log.with_suffix(".log.1").read_bytes()), (b"b", b"a" * 101))
            house.shorten(log)
            self.assertEqual(log.read_bytes(), b"b")

    def test_a_log_that_cannot_be_kept_is_left_as_it_is(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(house, "LOG_BYTES", 0):
            house.shorten(Path(folder) / "none.log")
            log = Path(folder) / "web.log"
            log.write_bytes(b"kept")
            with mock.patch.object(house.shutil, "copyfile", side_effect=OSError(28, os.strerror(28))):
                house.shorten(log)
            self.assertEqual(log.read_bytes(), b"kept")
