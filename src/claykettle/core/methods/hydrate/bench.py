"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.hydrate.judge import water_fraction
from claykettle.core.methods.hydrate.options import WATER, HydrateOptions
from claykettle.core.methods.hydrate.page import crucible
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class HydrateTruth:
    """What is really in the vessel, in kg, with the water as mass per mass of dry salt."""

    vessel: float
    sample: float
    water_per_salt: float


def truth(shape: Shape, values: Values) -> HydrateTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    salt, water = nominal(values["residue_mass"]), nominal(values["water_mass"])
    vessel = values.get("vessel")
    return HydrateTruth(nominal(vessel), salt + water, water / salt)


def expect(shape: Shape, truth: HydrateTruth, expected: float) -> HydrateTruth:
    """The same vessel and sample, with the water that the expected ratio (or fraction) asks for."""
    options: HydrateOptions = shape.options
    if options.asks_formula:
        return replace(truth, water_per_salt=expected * WATER.molar_mass / options.known_salt.molar_mass)
    return replace(truth, water_per_salt=expected / (1 - expected))


def accepted_result(options: HydrateOptions) -> float | None:
    """The accepted hydrate's ratio or water fraction."""
    if options.accepted is None:
        return None
    return float(options.accepted.water_ratio) if options.asks_formula else water_fraction(options.accepted)


def accepted_word(options: HydrateOptions) -> str:
    """The formula on the label."""
    return "" if options.accepted is None else options.accepted.text


def matched_result(options: HydrateOptions, values: Values) -> float | None:
    """The matching formula's ratio."""
    taken = values.get("taken_ratio")
    return None if taken is None else nominal(taken)


def play(shape: Shape, truth: HydrateTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `water_left` (fraction of the water that heating leaves), `sample_wet` and `effloresced`
    (fraction of the crystal water too much or already gone when weighed), `salt_decomposed` (fraction of the
    salt's mass lost as gas), `vessel_wet` (kg of water on the vessel until it is heated).
    """
    salt = truth.sample / (1 + truth.water_per_salt)
    water = truth.sample - salt
    loaded = salt + water * (1 + faults.get("sample_wet", 0.0) - faults.get("effloresced", 0.0))
    residue = salt * (1 - faults.get("salt_decomposed", 0.0)) + water * faults.get("water_left", 0.0)
    end = truth.vessel + residue
    wet = faults.get("vessel_wet", 0.0)
    return crucible.weighed(shape, truth.vessel + wet, loaded, [end + 0.02 * water, end, end])


def foresee(options: HydrateOptions, sample: float, setting: Setting) -> HydrateTruth:
    """What so much of the hydrate will be. Raises Refusal where it is not named: its water decides."""
    hydrate = options.accepted or next(iter(options.candidates or ()), None)
    if hydrate is None:
        message = "Name the hydrate that you expect: how much water leaves depends on it."
        raise refuse("plan-open", message, "options.accepted")
    water = water_fraction(hydrate)
    return HydrateTruth(setting.vessel_mass.si, sample, water / (1 - water))
