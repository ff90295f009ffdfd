"""Simulated matter against the closed forms of physics and the times of the trade; nothing comes from nowhere."""

from __future__ import annotations

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from claykettle.core.matter import Act, Air, Beaker, Chance, Collected, Content, Drying, Fired, Flask, Part, Tube
from claykettle.core.matter.physics import approached, left_of, rate_at
from claykettle.core.methods.registry import all_methods
from claykettle.core.practice import lay

ROOM = Air(294.15, 98_000.0, 0.5)
READINGS = ("vessel", "vessel_sample", "vessel_residue")


def hydrate(cover: str = "off", rate: float = 0.024) -> Fired:
    """1.5 g of a hydrate, 0.66 g of it water, in its dish."""
    content = Content(1.5e-3, 6.6e-4, rate, 560.0, "water_left", "salt_decomposed", 900.0)
    vessel = Fired(content, READINGS, 1e-5, Chance(1), cover)
    vessel.do(Act("load"))
    vessel.advance(1, ROOM)
    return vessel


class ClosedForms(unittest.TestCase):
    """The laws themselves, worked out another way: a small step at a time."""

    def test_newton_s_cooling_is_what_small_steps_of_its_law_come_to(self) -> None:
        temperature, steps = 833.0, 200_000
        for _ in range(steps):
            temperature -= (temperature - 294.15) / 85.0 * (600 / steps)
        self.assertAlmostEqual(approached(833.0, 294.15, 600, 85.0), temperature, delta=1e-3)

    def test_a_first_order_loss_halves_in_its_half_life(self) -> None:
        """t½ = ln 2 / k, any textbook of physical chemistry."""
        self.assertAlmostEqual(left_of(1.0, 0.01, math.log(2) / 0.01), 0.5, places=12)
        self.assertAlmostEqual(left_of(1.0, 0.01, 10 * math.log(2) / 0.01), 2**-10, places=12)

    def test_a_rate_doubles_for_ten_kelvin_at_room_temperature_and_fifty_kilojoules(self) -> None:
        """The rule of thumb of chemical kinetics: about 53 kJ/mol doubles a rate from 298 to 308 K."""
        self.assertAlmostEqual(rate_at(1.0, 298.0, 53e3, 308.0), 2.0, delta=0.02)

    @given(st.lists(st.floats(0.1, 3000), min_size=1, max_size=8))
    @settings(max_examples=60, deadline=None)
    def test_a_time_cut_into_pieces_is_the_same_time(self, pieces: list[float]) -> None:
        whole, cut = hydrate(), hydrate()
        for vessel in (whole, cut):
            vessel.do(Act("put", "gauze"))
            vessel.temperature = 800.0
        whole.advance(sum(pieces), ROOM)
        for piece in pieces:
            cut.advance(piece, ROOM)
        self.assertAlmostEqual(whole.temperature, cut.temperature, places=6)

    def test_a_vessel_in_the_flame_loses_water_as_its_law_says_at_a_constant_temperature(self) -> None:
        vessel = hydrate()
        vessel.do(Act("flame", "low"))
        vessel.advance(600, ROOM)
        before = vessel.left
        vessel.advance(100, ROOM)
        self.assertAlmostEqual(vessel.left / before, math.exp(-0.024 * 100), places=3)


class NothingFromNowhere(unittest.TestCase):
    """The balance of mass, kept by the parts, holds at every step and against what the forward model shows."""

    ACTS = ("flame low", "flame full", "cover on", "cover off", "put gauze", "put pan")

    @given(st.lists(st.tuples(st.sampled_from(ACTS), st.floats(0, 5000)), max_size=12), st.integers(0, 10**18))
    @settings(max_examples=60, deadline=None)
    def test_of_a_vessel_whatever_is_done_to_it(self, deeds: list[tuple[str, float]], seed: int) -> None:
        laid = lay(all_methods()["hydrate"], seed)
        matter = laid.matter(1)
        matter.advance(1)
        matter.do(Act("load"))
        empty = matter.true("vessel")
        for deed, seconds in deeds:
            name, _, value = deed.partition(" ")
            matter.do(Act(name, value))
            matter.advance(seconds)
            (account,) = matter.accounts()
            self.assertLess(abs(account.missing), 1e-9 * account.put_in)
            self.assertGreaterEqual(account.there, 0.0)
        vessel = matter.parts[0]
        assert isinstance(vessel, Fired)
        vessel.lifts, vessel.seat, wet = False, 0.0, vessel.wet
        burnt = vessel.burnt * (account.put_in - vessel.content.volatile) if deeds else 0.0
        held = matter.true("vessel_residue") - (empty - 1e-12) - (wet - self._first_wet(laid.matter(1).parts[0]))
        there = matter.accounts()[0].there - burnt
        self.assertAlmostEqual(held, there, delta=1e-9)

    @staticmethod
    def _first_wet(part: Part) -> float:
        assert isinstance(part, Fired)
        return part.wet

    def test_of_every_part_of_every_method_while_careful_hands_work(self) -> None:
        from claykettle.core.practice import CAREFUL, Hands

        kept = 0
        for method in all_methods().values():
            hands = Hands(lay(method, 3), 1, CAREFUL)
            while hands.work():
                for account in hands.matter.accounts():
                    kept += 1
                    self.assertLess(abs(account.missing), 1e-9 * max(account.put_in, 1e-12), method.name)
        self.assertGreater(kept, 100)


class TimesOfTheTrade(unittest.TestCase):
    """Common practice in teaching laboratories: how long things take."""

    def test_a_crucible_is_red_hot_within_five_minutes_and_cold_ten_minutes_after(self) -> None:
        vessel = hydrate()
        vessel.do(Act("flame", "full"))
        vessel.advance(300, ROOM)
        self.assertGreater(vessel.temperature, 273.15 + 600)
        vessel.do(Act("put", "gauze"))
        vessel.advance(300, ROOM)
        self.assertGreater(vessel.excess, 10, "five minutes after the flame it is still warm")
        vessel.advance(300, ROOM)
        self.assertLess(vessel.excess, 1.5, "ten minutes after the flame it is at room temperature")

    def test_a_hydrate_is_nearly_dry_after_its_first_heating_and_settles_within_two_more(self) -> None:
        vessel = hydrate()
        vessel.do(Act("flame", "low"))
        vessel.advance(480, ROOM)
        self.assertLess(vessel.left, 0.01)
        self.assertNotIn("popping", vessel.seen())

    def test_a_full_flame_makes_it_pop_and_a_cover_holds_the_grains_back(self) -> None:
        lost = {}
        for cover in ("off", "on"):
            vessel = hydrate(cover)
            vessel.do(Act("flame", "full"))
            vessel.advance(480, ROOM)
            self.assertIn("popping", vessel.seen())
            lost[cover] = vessel.jumped
        self.assertGreater(lost["off"], 5e-6, "some milligrams at least")
        self.assertLess(lost["on"], 0.1 * lost["off"])

    def test_a_warm_vessel_reads_some_milligrams_light_and_its_figure_wanders(self) -> None:
        vessel = hydrate()
        vessel.do(Act("flame", "low"))
        vessel.advance(480, ROOM)
        vessel.do(Act("put", "pan"))
        vessel.advance(120, ROOM)
        warm = vessel.shifts()["vessel_residue"]
        self.assertGreater(vessel.wanders("vessel_residue"), 1e-6)
        vessel.advance(900, ROOM)
        light = vessel.shifts()["vessel_residue"] - warm
        self.assertTrue(1e-6 < light < 3.1e-5, light)
        self.assertEqual(vessel.wanders("vessel_residue"), 0.0)

    def test_a_filter_is_dry_after_a_night_in_the_oven_and_three_rinses_wash_it_clean(self) -> None:
        paper = Collected(6e-4, Chance(1))
        paper.do(Act("pour"))
        self.assertIn("still cloudy", paper.seen())
        for _ in range(3):
            paper.do(Act("rinse", "paper"))
            paper.do(Act("rinse", "beaker"))
        self.assertIn("washings clear", paper.seen())
        wet = paper.shifts()["collected"]
        self.assertGreater(wet, 4e-4, "wet from the filter it weighs far more than dry")
        paper.do(Act("dry", "oven"))
        paper.advance(960 * 60, ROOM)
        paper.do(Act("dry", "bench"))
        paper.advance(600, ROOM)
        self.assertLess(abs(paper.shifts()["collected"]), 5e-6)

    def test_a_gas_run_is_over_in_ten_minutes_and_its_gas_is_as_cold_as_the_bath_five_later(self) -> None:
        tube = Tube(1.5e-3, 294.0)
        tube.do(Act("start"))
        tube.advance(60, ROOM)
        self.assertIn("fizzing", tube.seen())
        self.assertGreater(tube.scales()["volume_end"], 1.002, "a gas just made is warm and reads large")
        tube.advance(540, ROOM)
        tube.advance(300, ROOM)
        self.assertLess(tube.left, 1e-4)
        self.assertAlmostEqual(tube.scales()["volume_end"], 1.0, delta=1e-4)

    def test_a_flask_of_gas_is_full_after_twenty_and_fifteen_minutes(self) -> None:
        flask = Flask(3e-4, 0.0, Chance(1), math.inf)
        flask.do(Act("gas", "on"))
        flask.advance(20 * 60, ROOM)
        self.assertTrue(1e-4 < flask.left < 0.02)
        flask.advance(15 * 60, ROOM)
        self.assertLess(flask.left, 1e-3)

    def test_swirling_frees_what_a_liquid_holds_too_much_of(self) -> None:
        beaker = Beaker(1.7e-3)
        beaker.do(Act("tip"))
        beaker.advance(600, ROOM)
        over = beaker.over
        self.assertGreater(over, 1e-4, "it stands too full of gas")
        beaker.do(Act("swirl", "on"))
        beaker.advance(120, ROOM)
        self.assertLess(beaker.over, 0.02 * over)


class Senseless(unittest.TestCase):
    """What makes no sense is refused or changes nothing, and a week is only a long time."""

    def test_what_burns_is_not_weighed(self) -> None:
        vessel = hydrate()
        vessel.do(Act("flame", "full"))
        self.assertIn("flame", vessel.hinders("vessel_residue"))
        vessel.do(Act("put", "gauze"))
        self.assertIn("nothing on the pan", vessel.hinders("vessel_residue"))
        vessel.do(Act("put", "pan"))
        self.assertEqual(vessel.hinders("vessel_residue"), "")

    def test_an_empty_paper_rinsed_stays_empty(self) -> None:
        paper = Collected(6e-4, Chance(1))
        paper.do(Act("rinse", "paper"))
        self.assertIn("nothing on it", paper.hinders("collected"))
        self.assertIsNone(paper.account())

    def test_a_week_of_heating_ends_with_figures_that_are_figures(self) -> None:
        matter = lay(all_methods()["hydrate"], 5).matter(1)
        matter.do(Act("load"))
        matter.do(Act("flame", "full"))
        matter.advance(7 * 24 * 3600)
        self.assertTrue(math.isfinite(matter.true("vessel_residue")))
        self.assertGreater(matter.true("vessel_residue"), 0.9 * matter.true("vessel"))
        self.assertAlmostEqual(matter.conditions()["water_left"], 0.0, places=9)

    def test_a_clock_turned_back_changes_nothing(self) -> None:
        matter = lay(all_methods()["hydrate"], 5).matter(1)
        matter.advance(100)
        before = (matter.seconds, matter.true("vessel"))
        matter.advance(-5000)
        self.assertEqual((matter.seconds, matter.true("vessel")), before)

    def test_an_act_that_nothing_here_knows_is_told(self) -> None:
        matter = lay(all_methods()["gas_density"], 5).matter(1)
        with self.assertRaises(KeyError):
            matter.do(Act("rinse", "paper"))

    def test_a_product_is_not_weighed_before_it_is_there(self) -> None:
        glass = Drying({"crude": 1e-4}, {"crude": "crude"})
        self.assertIn("not there yet", glass.hinders("crude"))
        glass.do(Act("collect", "crude"))
        self.assertEqual(glass.hinders("crude"), "")


if __name__ == "__main__":
    unittest.main()
