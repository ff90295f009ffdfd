"""The forward model: what honest instruments show of a truth, fault by fault."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class StoneTruth:
    """What is really there, in kg and m³."""

    stone: float
    before: float
    volume: float


def truth(shape: Shape, values: Values) -> StoneTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return StoneTruth(*(nominal(values[name]) for name in ("stone", "volume_before", "stone_volume")))


def expect(shape: Shape, truth: StoneTruth, expected: float) -> StoneTruth:
    """A stone as heavy, of another density."""
    return replace(truth, volume=truth.stone / expected)


def play(shape: Shape, truth: StoneTruth, faults: Mapping[str, float]) -> dict[str, float]:
    """The readings (SI) of a stone; `bubbles` is air that went under with it, in m³."""
    after = truth.before + truth.volume + faults.get("bubbles", 0.0)
    return {"stone": truth.stone, "volume_before": truth.before, "volume_after": after}
