"""The mass stair and the losses, for every school of weighing."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.run import Loss, losses, stair
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
