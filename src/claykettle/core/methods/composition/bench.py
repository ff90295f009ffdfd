"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.chemistry.formula import Formula
from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.composition.options import WATER, CompositionOptions
from claykettle.core.methods.composition.page import by_difference, collected_metal, crucible, metal_atoms
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class CompositionTruth:
    """What is really there, in kg: the vessel, the sample, and the shares of water and metal in it."""

    vessel: float
    sample: float
    water: float
    metal: float


def truth(shape: Shape, values: Values) -> CompositionTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    names = ("vessel", "sample_mass", "water_percent", "metal_percent")
    return CompositionTruth(*(nominal(values[name]) for name in names))


def expect(shape: Shape, truth: CompositionTruth, expected: float) -> CompositionTruth:
    """The same sample with so much water per metal; halogen per metal as accepted, else the nearest whole number."""
    options: CompositionOptions = shape.options
    metal, halogen = options.metal_formula.molar_mass, options.halogen_formula.molar_mass
    if options.accepted is not None:
        per_metal = float(options.accepted.counts[options.halogen] / options.accepted.counts[options.metal])
    else:
        per_metal = max(1.0, round((1 - truth.water - truth.metal) / halogen / (truth.metal / metal)))
    whole = metal + per_metal * halogen + expected * WATER.molar_mass
    return replace(truth, water=expected * WATER.molar_mass / whole, metal=metal / whole)


def _water_per_metal(formula: Formula, metal: str) -> float:
    return float(formula.water) / float(formula.counts[metal])


def accepted_result(options: CompositionOptions) -> float | None:
    """The accepted formula's water per metal."""
    return None if options.accepted is None else _water_per_metal(options.accepted, options.metal)


def accepted_word(options: CompositionOptions) -> str:
    """The formula on the label."""
    return "" if options.accepted is None else options.accepted.text


def beside(options: CompositionOptions, values: Values) -> Mapping[str, float]:
    """The halogen per metal of the formula on the label."""
    accepted = options.accepted
    if accepted is None:
        return {}
    return {"halogen_ratio": float(accepted.counts[options.halogen] / accepted.counts[options.metal])}


def matched_result(options: CompositionOptions, values: Values) -> float | None:
    """The nearest whole number of water per metal."""
    found = values.get("water_ratio")
    return None if found is None else float(round(nominal(found)))


def play(shape: Shape, truth: CompositionTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `water_left` (fraction of the water that heating leaves), `oxidised` (fraction of its mass that the metal
    took up), `metal_left` (fraction of the metal that stayed in solution), `other_metal` (kg of the other metal in it),
    `spattered` (kg of dry salt lost while heating: its metal is gone with it).
    """
    water, spattered = truth.sample * truth.water, faults.get("spattered", 0.0)
    metal = truth.sample * truth.metal * (1 - spattered / (truth.sample - water))
    end = truth.vessel + truth.sample - water * (1 - faults.get("water_left", 0.0)) - spattered
    solid = metal * (1 - faults.get("metal_left", 0.0)) * (1 + faults.get("oxidised", 0.0))
    heated = crucible.weighed(shape, truth.vessel, truth.sample, [end + 0.02 * water, end, end])
    if by_difference(shape):
        heated.pop(crucible.series)
    return heated | collected_metal.weighed(shape, solid + faults.get("other_metal", 0.0))


def foresee(options: CompositionOptions, sample: float, setting: Setting) -> CompositionTruth:
    """What so much of the accepted halide is made of. Raises Refusal `plan-open` where it is not named."""
    formula = options.accepted
    if formula is None:
        message = "Name the formula that you expect: how much water and metal there is depends on it."
        raise refuse("plan-open", message, "options.accepted")
    water = float(formula.water) * WATER.molar_mass / formula.molar_mass
    metal = metal_atoms(options) * options.metal_formula.molar_mass / formula.molar_mass
    return CompositionTruth(setting.vessel_mass.si, sample, water, metal)
