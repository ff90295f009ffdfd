"""The mass stair and the losses, for every school of weighing."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.run import Loss, evaluate_run, losses, stair
from claykettle.formats.run_file import run_from
from tests.support.runs import ZINC, evaluated


def changes(readings: dict[str, Any]) -> list[Loss]:
    """What each heating changed."""
    trial = evaluated(readings).trial
    return losses(trial, stair(trial))


class Stair(unittest.TestCase):
    def test_each_weighing_is_a_tread_and_each_change_is_named(self) -> None:
        treads = stair(evaluated().trial)
        self.assertEqual([tread.text for tread in treads], ["31.204", "32.861", "32.151", "32.136", "32.134"])
        self.assertEqual([tread.pan for tread in treads], ["empty", "loaded", "heated", "heated", "heated"])
        self.assertEqual(
            [(tread.change, tread.named) for tread in treads[1:4]],
            [("+1.657", "sample"), ("−0.710", "water"), ("−0.015", "")],
        )

    def test_a_net_sample_stands_where_vessel_and_sample_would(self) -> None:
        for sample in ({"sample": "1.657 g"}, {"sample_tare": "5.000 g", "sample_gross": "6.657 g"}):
            treads = stair(evaluated({"vessel": "31.204 g", **sample, "vessel_residue": ["32.151 g"]}).trial)
            self.assertEqual([tread.pan for tread in treads], ["empty", "loaded", "heated"])
            self.assertAlmostEqual(treads[1].grams, 32.861)
            self.assertEqual(treads[2].change, "−0.710")

    def test_a_run_that_just_began_has_what_was_weighed(self) -> None:
        self.assertEqual(stair(evaluated({}).trial), [])
        self.assertEqual(len(stair(evaluated({"vessel": "31.204 g"}).trial)), 1)


class Losses(unittest.TestCase):
    def test_what_each_heating_changed_against_the_limit(self) -> None:
        rows = changes(ZINC)
        self.assertEqual(
            [(row.text, row.settled) for row in rows], [("710 mg", False), ("15 mg", False), ("2 mg", True)]
        )

    def test_a_gain_bears_its_sign(self) -> None:
        rows = losses(
            evaluated({**ZINC, "vessel_residue": ["32.130 g", "32.136 g"]}).trial,
            stair(evaluated({**ZINC, "vessel_residue": ["32.130 g", "32.136 g"]}).trial),
        )
        self.assertEqual((rows[1].text, rows[1].milligrams), ("+6 mg", -6.0))


class OnThePan(unittest.TestCase):
    """What is drawn follows method and apparatus."""

    def drawn(self, method: str, options: dict[str, Any], readings: dict[str, Any], *vessel: str) -> list[str]:
        document = {"format": "clay-kettle/run", "version": 1, "method": method, "options": options}
        document["trials"] = [{"label": "1", "readings": readings}]
        return [tread.drawn for tread in stair(evaluate_run(run_from(document)).trials[0].trial, *vessel)]

    def test_a_dish_or_a_crucible_as_it_was_chosen(self) -> None:
        self.assertEqual(set(self.drawn("hydrate", {"salt": "ZnSO4"}, dict(ZINC), "dish")), {"dish"})
        self.assertEqual(set(self.drawn("hydrate", {"salt": "ZnSO4"}, dict(ZINC))), {"crucible"})

    def test_a_sample_lies_on_its_dish_before_it_goes_into_the_beaker(self) -> None:
        options = {"equations": ["CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"]}
        readings = {
            "vessel_before": "98.412 g",
            "dish_sample": "3.500 g",
            "dish": "2.000 g",
            "vessel_after": "99.253 g",
        }
        treads = ["beaker", "boat", "boat", "beaker", "beaker"]
        self.assertEqual(self.drawn("gas_by_mass_loss", options, readings), treads)
        tablet = options | {"claim": {"mass": "0.500 g", "per": "tablet"}}
        on_dish = ["beaker", "tablet", "tablet", "beaker", "beaker"]
        self.assertEqual(self.drawn("gas_by_mass_loss", tablet, readings), on_dish)
        self.assertEqual(self.drawn("gas_by_mass_loss", tablet, {"dish_sample": "3.500 g"}), ["tablet"])

    def test_vessel_and_dish_have_each_a_stair_of_their_own(self) -> None:
        readings = {"vessel_before": "98.412 g", "dish_sample": "3.5 g", "dish": "2.0 g", "vessel_after": "99.253 g"}
        document = {"format": "clay-kettle/run", "version": 1, "method": "gas_by_mass_loss"}
        document["options"] = {"equations": ["CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"]}
        document["trials"] = [{"label": "1", "readings": readings}]
        treads = stair(evaluate_run(run_from(document)).trials[0].trial)
        self.assertEqual(
            [(row.stand, row.text, row.change) for row in treads if row.stand],
            [("dish", "3.5", ""), ("dish", "2.0", "−1.500")],
        )
        # what came off the dish came into the vessel, and what is missing after that is the gas
        self.assertEqual([row.change for row in treads if not row.stand], ["", "+1.500", "−0.659"])

    def test_a_gas_stands_in_its_flask(self) -> None:
        readings = {"flask_air": "84.123 g", "flask_gas": ["84.215 g", "84.216 g"]}
        self.assertEqual(self.drawn("gas_density", {"gas": "Ar"}, readings), ["flask"] * 3)

    def test_a_solid_lies_on_its_paper_or_on_a_watch_glass(self) -> None:
        solid = {"collected": ["2.112 g"]}
        self.assertEqual(self.drawn("filtration", {}, {"paper": "0.908 g", **solid}, "dish"), ["paper", "paper"])
        on_glass = self.drawn("filtration", {"collector": "dish"}, {"dish": "20.1 g", "collected": ["21.3 g"]})
        self.assertEqual(on_glass, ["glass", "glass"])
