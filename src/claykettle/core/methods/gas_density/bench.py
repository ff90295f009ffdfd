"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.chemistry.conditions import GAS_CONSTANT
from claykettle.core.chemistry.conditions import air_density as density_of_air
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.gas_density.options import GasDensityOptions
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class GasDensityTruth:
    """What is really there: empty flask in kg, its volume in m³, molar mass in kg/mol, room in K, Pa and humidity."""

    flask: float
    volume: float
    molar_mass: float
    temperature: float
    pressure: float
    humidity: float


def truth(shape: Shape, values: Values) -> GasDensityTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return GasDensityTruth(
        nominal(values["flask_air"]) - nominal(values["air_mass"]),
        nominal(values["flask_volume"]),
        nominal(values["molar_mass"]),
        nominal(values["temperature"]),
        nominal(values["station_pressure"]),
        nominal(values["humidity"]),
    )


def expect(shape: Shape, truth: GasDensityTruth, expected: float) -> GasDensityTruth:
    """The same flask and room, with a gas of the molar mass that is expected."""
    return replace(truth, molar_mass=expected)


def accepted_result(options: GasDensityOptions) -> float | None:
    """The known gas's molar mass."""
    return None if options.gas is None else options.gas.molar_mass


def accepted_word(options: GasDensityOptions) -> str:
    """The gas."""
    return "" if options.gas is None else options.gas.text


def matched_result(options: GasDensityOptions, values: Values) -> float | None:
    """None: that a gas of the list fits does not make it the one expected."""
    return None


WATER_MOLAR_MASS = 0.018015


def play(shape: Shape, truth: GasDensityTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings that honest instruments show of this truth; the flask is weighed in air, full of it.

    Faults: `air_left` (fraction of the flask that stayed air), `vapour` (fraction of the gas that was water vapour),
    `wet` (kg of water in the flask when it was weighed with air, gone later).
    """
    air = density_of_air(truth.temperature, truth.pressure, truth.humidity) * truth.volume
    vapour = faults.get("vapour", 0.0)
    weight = truth.molar_mass * (1 - vapour) + WATER_MOLAR_MASS * vapour
    gas = truth.pressure * truth.volume / (GAS_CONSTANT * truth.temperature) * weight
    left = faults.get("air_left", 0.0)
    full = truth.flask + gas * (1 - left) + air * left
    water = density_of_water(truth.temperature) * truth.volume
    readings: PlainReadings = {
        "flask_air": truth.flask + air + faults.get("wet", 0.0),
        "flask_gas": [full, full],
        "flask_water": truth.flask + water,
        "temperature": truth.temperature,
        "barometer": shape.options.at_sea_level(truth.pressure),
    }
    return readings | {"humidity": truth.humidity} if "humidity" in shape.taken else readings


def nothing(air_density: Number, flask_volume: Number) -> Number:
    return 0.0 * air_density * flask_volume


def foresee(options: GasDensityOptions, volume: float, setting: Setting) -> GasDensityTruth:
    """A flask of this volume (m³) and the gas in it. Raises Refusal where no gas is named."""
    if options.gas is None:
        raise refuse("plan-open", "Name the gas that you expect: what it weighs depends on it.", "options.gas")
    room = (setting.temperature.si, setting.barometer.si, setting.humidity.si)
    return GasDensityTruth(setting.vessel_mass.si, volume, options.gas.molar_mass, *room)
