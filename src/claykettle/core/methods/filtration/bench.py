"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.method import PlainReadings
from claykettle.core.methods.filtration.page import collecting_solid, from_mixture
from claykettle.core.methods.parts.by_equation import as_weighed
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values

HELD = 2.0
"""Of a mixture that nobody weighed half is taken to stay on the paper: it changes nothing that is asked."""
BOAT = 0.0012
"""A weighing boat (common practice)."""


@dataclass(frozen=True)
class FiltrationTruth:
    """What is really there, in kg: the mixture, and the solid in it."""

    mixture: float
    solid: float


def truth(shape: Shape, values: Values) -> FiltrationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    solid = nominal(values["solid_mass"])
    return FiltrationTruth(nominal(values["mixture"]) if from_mixture(shape) else HELD * solid, solid)


def expect(shape: Shape, truth: FiltrationTruth, expected: float) -> FiltrationTruth:
    """The same mixture, with as much solid as is expected."""
    return replace(truth, solid=expected)


def play(shape: Shape, truth: FiltrationTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `dissolved` (fraction of the solid that went into the washings).
    """
    readings: PlainReadings = {}
    if from_mixture(shape):
        readings |= as_weighed(shape, "mixture", truth.mixture, BOAT)
    return readings | collecting_solid.weighed(shape, truth.solid * (1 - faults.get("dissolved", 0.0)))
