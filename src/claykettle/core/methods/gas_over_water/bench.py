"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import prod

from claykettle.core.chemistry.conditions import GAS_CONSTANT, ZERO_CELSIUS, vapour_pressure_pa
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.chemistry.gases import known_gas
from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting, known
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.parts import tube
from claykettle.core.methods.parts.tube import TubeSetting, dead_volume_read, is_burette
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class GasOverWaterTruth:
    """What is really there: sample in kg, mol of gas set free per kg of it, water in K, pressure at the bench in Pa."""

    sample: float
    gas_per_kg: float
    temperature: float
    pressure: float
    setting: TubeSetting


def truth(shape: Shape, values: Values) -> GasOverWaterTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    sample = nominal(values["sample_mass"])
    names = ("start_volume", "temperature_start", "level_difference", "level_difference_start", "dead_volume")
    found = [values.get(name) for name in names]
    return GasOverWaterTruth(
        sample,
        nominal(values["gas_amount"]) / sample,
        nominal(values["temperature"]),
        nominal(values["station_pressure"]),
        TubeSetting(*(None if value is None else nominal(value) for value in found)),
    )


def expect(shape: Shape, truth: GasOverWaterTruth, expected: float) -> GasOverWaterTruth:
    """The same sample, room and tube, with as much gas as the expected molar volume (or equivalent mass) asks for."""
    options: GasOverWaterOptions = shape.options
    if options.reagent is None:
        return replace(truth, gas_per_kg=1 / (2 * expected))
    whole = options.gas_per_reagent / options.reagent.molar_mass
    if options.density is not None:
        return replace(truth, gas_per_kg=expected * whole)
    return replace(truth, gas_per_kg=expected * whole * options.standard_pressure_pa / (GAS_CONSTANT * ZERO_CELSIUS))


def accepted_result(options: GasOverWaterOptions) -> float | None:
    """The molar volume of the real gas where it is known, else of an ideal one.

    None for an unknown metal, and for a liquid measured by its volume: how much of the reagent it holds is asked.
    """
    if options.reagent is None or options.density is not None:
        return None
    gas = known_gas(options.gas.text)
    if gas is not None:
        return gas.molar_volume(ZERO_CELSIUS, options.standard_pressure_pa)
    return GAS_CONSTANT * ZERO_CELSIUS / options.standard_pressure_pa


def is_metal(options: GasOverWaterOptions) -> bool:
    """Whether what is weighed is an element, or an unknown metal: it may bear an oxide."""
    return options.reagent is None or len(options.reagent.atoms) == 1


def accepted_word(options: GasOverWaterOptions) -> str:
    """Whose molar volume it is."""
    return f"a mole of {options.gas.text}" if known_gas(options.gas.text) is not None else "a mole of an ideal gas"


def matched_result(options: GasOverWaterOptions, values: Values) -> float | None:
    """None: several metals may fit, and none of them is the one expected."""
    return None


def play(shape: Shape, truth: GasOverWaterTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings that honest instruments show of this truth.

    Faults: `leak` and `unreacted` (fraction of the gas that is lost, of the reagent that is left), `skin` (fraction of
    the sample that was oxide or dirt), `air` (m³ of air in the tube, trapped or pushed in, at the bench's pressure).
    """
    options: GasOverWaterOptions = shape.options
    setting, t = tube.as_read(truth.setting, shape), truth.temperature
    left = [1 - faults.get(name, 0.0) for name in ("leak", "unreacted", "skin")]
    gas = truth.sample * truth.gas_per_kg * prod(left)
    weight = density_of_water(t) * (options.gravity or tube.GRAVITY).si
    dry = truth.pressure - vapour_pressure_pa(t) - weight * (setting.level or 0.0)
    held = 0.0
    if "volume_start" in shape.taken:
        at_start = setting.start_kelvin or t
        start_dry = truth.pressure - vapour_pressure_pa(at_start) - weight * (setting.level_start or 0.0)
        held = start_dry * known(setting.start) / at_start
    end = (gas * GAS_CONSTANT + held) * t / dry + faults.get("air", 0.0)
    readings: PlainReadings = {
        "volume_end": tube.on_scale(options, end, setting.dead),
        "temperature": t,
        "barometer": options.at_sea_level(truth.pressure),
    }
    optional: dict[str, float | None] = {
        "volume_start": tube.on_scale(options, setting.start or 0.0, setting.dead),
        "temperature_start": setting.start_kelvin,
        "level_difference": setting.level,
        "level_difference_start": setting.level_start,
    }
    readings |= {name: value for name, value in optional.items() if name in shape.taken and value is not None}
    if dead_volume_read(shape) and setting.dead is not None:
        readings["dead_volume"] = setting.dead
    return readings | _sample(shape, truth.sample)


BOAT = 0.0048


def _sample(shape: Shape, mass: float) -> dict[str, float]:
    options: GasOverWaterOptions = shape.options
    if "sample_length" in shape.taken:
        return {"sample_length": mass / known(options.linear_density).si}
    if "sample_volume" in shape.taken:
        return {"sample_volume": mass / known(options.density).si}
    if "sample" in shape.split:
        return {"sample_tare": BOAT, "sample_gross": BOAT + mass}
    return {"sample": mass}


def foresee(options: GasOverWaterOptions, sample: float, setting: Setting) -> GasOverWaterTruth:
    """What so much of the reagent sets free. Raises Refusal for an unknown one."""
    if options.reagent is None:
        message = (
            "Name the metal that it may be, with its equation: the one with the smallest equivalent mass makes the "
            "most gas, and its limit is safe for all."
        )
        raise refuse("plan-open", message, "options.reagent")
    dead = setting.dead_volume.si if is_burette(options) else None
    tube = TubeSetting(start=0.0, start_kelvin=None, level=0.0, level_start=0.0, dead=dead)
    per_kg = options.gas_per_reagent / options.reagent.molar_mass
    return GasOverWaterTruth(sample, per_kg, setting.temperature.si, setting.barometer.si, tube)
