"""The five kinds of error cause, each replayed through a real calculation, its effect recomputed by hand."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.judgement.replay import replay
from claykettle.core.method import Cause, LineReplaced, OptionReplaced, ReadingScaled, ReadingShifted
from claykettle.core.methods.hydrate.method import METHOD
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.sheet import Shape

SHAPE = Shape(HydrateOptions(salt=parse_formula("ZnSO4"), accepted=parse_formula("ZnSO4.7H2O")))
# kg: 1.657 g of sample, 0.930 g of residue, 0.727 g of water
READINGS = {"vessel": 0.031204, "vessel_sample": 0.032861, "vessel_residue": [0.032151, 0.032134]}


def replayed(kind: Any, dose: float, result: str = "water_mass") -> float:
    """The result after the cause, in SI."""
    return replay(METHOD, SHAPE, READINGS, Cause("c", "a cause", kind), dose, result).after


class Kinds(unittest.TestCase):
    def test_a_reading_shifted(self) -> None:
        self.assertAlmostEqual(replayed(ReadingShifted("vessel_sample"), 1e-5), 0.000737)
        self.assertAlmostEqual(replayed(ReadingShifted("vessel_residue", -1.0), 1e-5), 0.000737)

    def test_a_reading_scaled(self) -> None:
        self.assertAlmostEqual(replayed(ReadingScaled("vessel_sample"), 0.01), 0.032861 * 1.01 - 0.032134)
        self.assertAlmostEqual(replayed(ReadingScaled("vessel_residue"), 0.01), 0.032861 - 0.032134 * 1.01)

    def test_a_line_replaced(self) -> None:
        """The water taken per mass of the dry salt, as when the wrong mass stands below the line: 0.727 / 0.930."""

        def per_dry_salt(water_mass: float, sample_mass: float) -> float:
            return water_mass / (sample_mass - water_mass)

        found = replayed(LineReplaced({"water_percent": per_dry_salt}), 0.0, "water_percent")
        self.assertAlmostEqual(found, 0.727 / 0.930)

    def test_an_option_replaced(self) -> None:
        """Borax's molar mass taken for zinc sulfate's: the ratio grows by 201.22 / 161.44."""
        before = replay(METHOD, SHAPE, READINGS, Cause("c", "a cause", ReadingShifted("vessel")), 0.0, "water_ratio")
        other = replayed(OptionReplaced("salt", parse_formula("Na2B4O7")), 0.0, "water_ratio")
        self.assertAlmostEqual(other / before.before, 201.22 / 161.44, places=3)

    def test_a_reading_that_is_not_there_cannot_be_disturbed(self) -> None:
        self.assertAlmostEqual(replayed(ReadingShifted("sample"), 1.0), 0.000727)

    def test_a_result_that_cannot_be_had_is_an_error(self) -> None:
        with self.assertRaises(KeyError):
            replay(METHOD, SHAPE, {"vessel": 0.03}, Cause("c", "a", ReadingShifted("vessel")), 0.0, "water_mass")
