"""A balance on a pseudo-terminal and over a socket, a weather service: steady, moving, over, silent, unplugged, mad."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from claykettle.devices import SerialLine, WeatherService, device_at
from claykettle.devices.device import Line, is_steady, judged, read_line
from claykettle.devices.simulated import Passed, Sender, Terminal, Weather

LOOK_S = 2.2


class Lines(unittest.TestCase):
    """How a line is read."""

    def test_a_figure_and_its_unit_are_found_whatever_stands_around_them(self) -> None:
        for text, figure, unit in (
            ("+   31.238 g", "31.238", "g"),
            ("31.238 g", "31.238", "g"),
            ("N  -0.0012g  ", "-0.0012", "g"),
            ("0,502 kg net", "0.502", "kg"),
            ("T 21.4 °C", "21.4", "degC"),
            ("1013.2 hPa", "1013.2", "hPa"),
        ):
            with self.subTest(text):
                line = read_line(text, 0.0)
                assert line is not None
                self.assertEqual((line.figure, line.unit, line.moves, line.is_over), (figure, unit, False, False))

    def test_words_say_that_it_moves_or_is_beyond_its_range(self) -> None:
        moving, over = read_line("31.24 g moving", 0.0), read_line("--------", 0.0)
        assert moving is not None and over is not None
        self.assertTrue(moving.moves)
        self.assertTrue(over.is_over)
        self.assertEqual(judged([over], 0).state, "over")

    def test_what_holds_no_figure_with_a_unit_is_not_taken_for_one(self) -> None:
        for text in ("", "31.238", "hello", "g", "12.3.4 gold", "\x00\xff", "3" * 200 + " g"):
            self.assertIsNone(read_line(text, 0.0), text)

    @given(st.text(max_size=80))
    @settings(max_examples=200, deadline=None)
    def test_no_line_whatever_it_holds_is_a_fault(self, text: str) -> None:
        line = read_line(text, 0.0)
        self.assertTrue(line is None or line.is_over or float(line.figure) is not None)

    def test_steady_is_what_stood_for_a_second_in_three_lines(self) -> None:
        def lines(*rows: tuple[float, str]) -> list[Line]:
            return [Line(at, figure, "g") for at, figure in rows]

        self.assertTrue(is_steady(lines((0.0, "1"), (0.5, "1"), (1.0, "1"))))
        self.assertFalse(is_steady(lines((0.0, "1"), (1.5, "1"))), "two lines are few")
        self.assertFalse(is_steady(lines((0.0, "1"), (0.3, "1"), (0.9, "1"))), "less than a second")
        self.assertFalse(is_steady(lines((0.0, "1"), (0.5, "2"), (1.0, "1"), (1.6, "1"))))
        self.assertFalse(is_steady([*lines((0.0, "1"), (0.5, "1")), Line(1.0, "1", "g", moves=True)]))


class Balance(unittest.TestCase):
    """The stand-in on a pseudo-terminal, as a balance on a cable."""

    def setUp(self) -> None:
        folder = Path(tempfile.mkdtemp(prefix="kettle-device-"))
        self.sender = Sender(shows="31.238")
        self.terminal = Terminal(self.sender, folder / "balance")
        self.terminal.plug_in()
        self.addCleanup(self.terminal.plug_out)
        self.line = SerialLine(str(folder / "balance"))

    def test_a_figure_that_stands_is_steady_and_one_that_moves_is_not(self) -> None:
        look = self.line.look(LOOK_S)
        self.assertEqual((look.figure, look.unit, look.state), ("31.238", "g", "steady"))
        self.sender.moves = True
        look = self.line.look(LOOK_S)
        self.assertEqual(look.state, "moving")
        self.assertIn("not steady", look.said)

    def test_a_figure_that_has_just_changed_is_waited_for(self) -> None:
        self.sender.shows = "12.000"
        self.assertEqual(self.line.look(0.6).state, "moving")
        self.assertEqual(self.line.look(LOOK_S).figure, "12.000")

    def test_what_is_wrong_is_told_and_never_raised(self) -> None:
        for shows, state in (("over", "over"), ("silent", "silent"), ("noise", "nonsense"), ("broken", "silent")):
            with self.subTest(shows):
                self.sender.shows = shows
                time.sleep(0.3)
                self.assertIn(self.line.look(LOOK_S).state, (state, "nonsense"))

    def test_a_flood_ends(self) -> None:
        self.sender.shows = "flood"
        began = time.monotonic()
        look = self.line.look(LOOK_S)
        self.assertLess(time.monotonic() - began, LOOK_S + 2)
        self.assertNotEqual(look.state, "steady")

    def test_unplugged_it_is_away_and_plugged_in_again_it_is_back(self) -> None:
        self.terminal.plug_out()
        self.assertEqual(self.line.look(LOOK_S).state, "away")
        self.terminal.plug_in()
        self.assertEqual(self.line.look(LOOK_S).state, "steady")

    def test_unplugged_while_it_is_read_it_is_away(self) -> None:
        self.sender.moves = True
        import threading

        threading.Timer(0.7, self.terminal.plug_out).start()
        look = self.line.look(LOOK_S)
        self.assertIn(look.state, ("away", "moving"))


class Others(unittest.TestCase):
    """A line that a server passes on, and a weather service."""

    def test_a_line_over_a_socket(self) -> None:
        passed = Passed(Sender("mL", "42.10"))
        self.addCleanup(passed.close)
        look = SerialLine(passed.address).look(LOOK_S)
        self.assertEqual((look.figure, look.unit, look.state), ("42.100", "mL", "steady"))

    def test_a_weather_service_says_whether_its_pressure_is_reduced(self) -> None:
        shown = ["1013.2 hPa"]
        service = Weather(lambda: shown[0])
        look = WeatherService(service.address).look(LOOK_S)
        self.assertEqual((look.figure, look.unit, look.state), ("1013.2", "hPa", "steady"))
        self.assertIn("reduced to sea level", look.said)
        shown[0] = "sunny"
        self.assertEqual(WeatherService(service.address).look(LOOK_S).state, "nonsense")
        service.close()
        self.assertEqual(WeatherService(service.address).look(LOOK_S).state, "away")

    def test_an_address_of_no_known_kind_is_refused(self) -> None:
        for address in ("balance", "file:///etc/passwd", "ftp://x", ""):
            with self.assertRaises(ValueError):
                device_at(address)

    def test_the_stand_in_runs_by_itself(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            link = str(Path(folder) / "b")
            words = [sys.executable, "-m", "claykettle.devices.simulated", "balance", link]
            with subprocess.Popen(words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as run:
                assert run.stdout is not None and run.stdin is not None
                self.assertEqual(run.stdout.readline().strip(), link)
                run.stdin.write("7.5\n")
                run.stdin.flush()
                time.sleep(0.3)
                self.assertEqual(SerialLine(link).look(LOOK_S).figure, "7.500")
                run.stdin.close()
                run.wait(timeout=10)


if __name__ == "__main__":
    unittest.main()
