"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.parts.by_equation import as_weighed, portions, taken_of, theoretical_kg
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.methods.synthesis.page import MELTING, is_purified
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class SynthesisTruth:
    """What is really there: what is taken of each reagent (kg or m³), the dry crude and the dry pure product in kg."""

    reagents: tuple[float, ...]
    crude: float
    pure: float


def truth(shape: Shape, values: Values) -> SynthesisTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    rows = taken_of(shape.options, values)
    crude = nominal(values["crude"])
    return SynthesisTruth(rows, crude, nominal(values["pure"]) if is_purified(shape) else crude)


def larger(truth: SynthesisTruth, times: float) -> SynthesisTruth:
    """The same in so many times the amount."""
    return SynthesisTruth(tuple(times * row for row in truth.reagents), times * truth.crude, times * truth.pure)


def expect(shape: Shape, truth: SynthesisTruth, expected: float) -> SynthesisTruth:
    """The same reagents, with the yield that is expected, and a purification that loses nothing of it."""
    wanted = expected * theoretical_kg(shape.options, truth.reagents)
    return replace(truth, crude=wanted, pure=wanted)


def beside(options: SynthesisOptions, values: Values) -> Mapping[str, float]:
    """All that can come, as crude: what the purification lost is not missing there."""
    return {"crude_percent_yield": 1.0} if values.get("pure_percent_yield") is not None else {}


DISH = 0.0200
"""A watch glass (common practice)."""


MELTS = {"start": 400.0, "end": 401.5}


DRIP = {"addition_volume": 50e-6, "addition_time": 360.0}
"""50 mL in six minutes (common practice)."""


def play(shape: Shape, truth: SynthesisTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg, m³, K and s that honest instruments show of this truth.

    Faults: `incomplete` (fraction that had not reacted), `lost` (fraction lost in work-up and filter), `kept_back`
    (fraction of the pure product left in the mother liquor more than need be), `still_wet` (kg of solvent in both).
    """
    options: SynthesisOptions = shape.options
    made = (1 - faults.get("incomplete", 0.0)) * (1 - faults.get("lost", 0.0))
    wet = faults.get("still_wet", 0.0)
    readings: PlainReadings = {}
    for n, amount in zip(range(1, len(options.taken) + 1), truth.reagents, strict=False):
        readings |= as_weighed(shape, f"reagent_{n}", amount, DISH)
    readings |= as_weighed(shape, "crude", truth.crude * made + wet, DISH)
    if is_purified(shape):
        readings |= as_weighed(shape, "pure", truth.pure * made * (1 - faults.get("kept_back", 0.0)) + wet, DISH)
    readings |= {name: MELTS[name.rsplit("_", 1)[1]] for name in MELTING if name in shape.taken}
    return readings | {name: value for name, value in DRIP.items() if name in shape.taken}


def foresee(options: SynthesisOptions, first: float, setting: Setting) -> SynthesisTruth:
    """What so much of the first reagent (kg) gives: other reactants with the setting's excess, three quarters come.

    Raises Refusal `plan-open` where the first reagent is not a reactant that is weighed.
    """
    reagent = options.reagent(1)
    if reagent.is_measured or reagent.role != "reactant":
        message = "Name a reactant that is weighed first; liquids, solutions and catalysts come after it."
        raise refuse("plan-open", message, "options.reagents")
    rows = portions(options, first, setting.excess.si)
    crude = 0.75 * theoretical_kg(options, rows)
    return SynthesisTruth(rows, crude, 0.8 * crude)


def first_is_weighed(options: SynthesisOptions) -> bool:
    """Whether a balance, and no measure for liquids, takes the first reagent."""
    return not options.reagent(1).is_measured
