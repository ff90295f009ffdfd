"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.decomposition.options import DecompositionOptions
from claykettle.core.methods.decomposition.page import crucible, residue_fraction
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class DecompositionTruth:
    """What is really in the crucible, in kg, and the fraction of the sample's mass that stays."""

    vessel: float
    sample: float
    fraction: float


def truth(shape: Shape, values: Values) -> DecompositionTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    sample, residue = nominal(values["sample_mass"]), nominal(values["residue_mass"])
    return DecompositionTruth(nominal(values["vessel"]), sample, residue / sample)


def expect(shape: Shape, truth: DecompositionTruth, expected: float) -> DecompositionTruth:
    """The same crucible and sample, with the fraction left that is expected."""
    return replace(truth, fraction=expected)


def accepted_result(options: DecompositionOptions) -> float | None:
    """What the equation leaves, where only one was asked about."""
    return residue_fraction(options.equations[0]) if len(options.equations) == 1 else None


def matched_result(options: DecompositionOptions, values: Values) -> float | None:
    """What the nearest equation leaves."""
    fraction = values.get("theoretical_fraction")
    return None if fraction is None else nominal(fraction)


def play(shape: Shape, truth: DecompositionTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `undecomposed` (fraction of the sample that heating left as it was), `damp` (fraction of the sample's mass
    that was moisture when weighed), `crumbs` (kg of a sample weighed by itself that never came into the crucible).
    """
    damp, undecomposed = faults.get("damp", 0.0), faults.get("undecomposed", 0.0)
    crumbs = faults.get("crumbs", 0.0) if crucible.net(shape) else 0.0
    pure = (truth.sample - crumbs) * (1 - damp)
    residue = pure * (truth.fraction + (1 - truth.fraction) * undecomposed)
    end = truth.vessel + residue
    return crucible.weighed(shape, truth.vessel, truth.sample, [end + 0.02 * (pure - residue), end, end])


def foresee(options: DecompositionOptions, sample: float, setting: Setting) -> DecompositionTruth:
    """What so much of the sample leaves by the first equation."""
    return DecompositionTruth(setting.vessel_mass.si, sample, residue_fraction(options.equations[0]))
