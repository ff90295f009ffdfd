"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.method import PlainReadings
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class CrystalGrowthTruth:
    """What is really there: the volume of each portion in m³, the mean lengths of the first and of the others in m."""

    volume: float
    first: float
    others: float


def truth(shape: Shape, values: Values) -> CrystalGrowthTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return CrystalGrowthTruth(*(nominal(values[name]) for name in ("volume_1", "mean_length_1", "mean_length_2")))


def expect(shape: Shape, truth: CrystalGrowthTruth, expected: float) -> CrystalGrowthTruth:
    """The same crystals of the other portions, with the ratio that is expected."""
    return replace(truth, first=expected * truth.others)


SCATTER = (0.9, 1.1, 0.8, 1.2, 0.95, 1.05)
"""How crystals of one portion differ: their mean is 1 (common practice: by a tenth or two of themselves)."""


COOLING_S = 1800.0


def play(shape: Shape, truth: CrystalGrowthTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in m³, m and s that honest instruments show of this truth.

    Faults: `disturbed` (fraction by which the first portion's crystals stayed smaller), `largest_only` (so much above
    the mean those of it that were measured lie), `others_slow` (fraction by which the others grew larger than meant).
    """
    first = truth.first * (1 - faults.get("disturbed", 0.0)) * (1 + faults.get("largest_only", 0.0))
    others = truth.others * (1 + faults.get("others_slow", 0.0))
    readings: PlainReadings = {}
    for number in shape.options.numbers:
        readings[f"volume_{number}"] = truth.volume
        readings[f"lengths_{number}"] = [(first if number == 1 else others) * part for part in SCATTER]
        if f"cooling_time_{number}" in shape.taken:
            readings[f"cooling_time_{number}"] = COOLING_S
    return readings
