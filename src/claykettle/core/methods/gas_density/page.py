"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from collections.abc import Sequence

from claykettle.core.chemistry.conditions import air_density as density_of_air
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.judgement.constancy import settled_rules, settled_value
from claykettle.core.methods.gas_density.options import GasDensityOptions
from claykettle.core.methods.parts.room import declare_gas_law, declare_pressure
from claykettle.core.quantity import Number, Quantity, parse_half_width, parse_reading
from claykettle.core.sheet import SETTLING, Page, Pick, Shape

ASSUMED_HUMIDITY = Quantity(parse_reading("50 %", "ratio"), parse_half_width("25 %", "ratio"))
"""Where no humidity was read: anything a room may have."""


def _known(shape: Shape) -> bool:
    return shape.options.gas is not None


def no_humidity(shape: Shape) -> bool:
    return "humidity" not in shape.taken


page = Page("gas_density")


page.reading("flask_air", "flask with air", "g", "balance", pan="empty", drawn="flask")


page.reading(
    "flask_gas",
    "flask with gas",
    "g",
    "balance",
    series=True,
    pan="heated",
    drawn="flask",
    change="gas less air",
    rises=True,
    round="filling",
)


page.reading(
    "flask_water",
    "flask with water",
    "g",
    "coarse_balance",
    late="Fill and weigh the flask whenever it is free: it holds as much tomorrow.",
)


page.reading("temperature", "room temperature", "degC", "thermometer", room=lambda _: "temperature")


page.reading(
    "humidity",
    "humidity",
    "%",
    "hygrometer",
    optional=True,
    room=lambda _: "humidity",
    instead=lambda _: "50 % is taken, within 25 %: anything a room may have.",
)


page.given("humidity", "humidity, assumed", "%", lambda _: ASSUMED_HUMIDITY, no_humidity)


declare_pressure(page)


@page.table("density of the air", "g/L", "moist air, CIPM-2007", positive=True)
def air_density(temperature: Number, station_pressure: Number, humidity: Number) -> Number:
    return density_of_air(temperature, station_pressure, humidity)


@page.table("density of the water", "g/mL", "water at room temperature, Tanaka 2001", positive=True)
def water_density(temperature: Number) -> Number:
    return density_of_water(temperature)


@page.line(
    "volume of the flask",
    "mL",
    "((flask with water) − (flask with air)) / ((density of the water) − (density of the air))",
    positive=True,
)
def flask_volume(flask_water: Number, flask_air: Number, water_density: Number, air_density: Number) -> Number:
    return (flask_water - flask_air) / (water_density - air_density)


@page.line("mass of the air displaced", "g", "(density of the air) × (volume of the flask)")
def air_mass(air_density: Number, flask_volume: Number) -> Number:
    return air_density * flask_volume


@page.choice(
    "settled flask with gas", "g", settled_rules("(flask with gas)"), takes={"settling": "flask_gas" + SETTLING}
)
def settled_gas(flask_gas: Sequence[Number], settling: Number, options: GasDensityOptions) -> Pick:
    return settled_value(flask_gas, settling, options)


@page.line(
    "mass of gas",
    "g",
    "(settled flask with gas) − (flask with air) + (mass of the air displaced)",
    positive=True,
)
def gas_mass(settled_gas: Number, flask_air: Number, air_mass: Number) -> Number:
    return settled_gas - flask_air + air_mass


@page.line("density of the gas", "g/L", "(mass of gas) / (volume of the flask)")
def gas_density(gas_mass: Number, flask_volume: Number) -> Number:
    return gas_mass / flask_volume


declare_gas_law(page, "temperature", "room temperature")


@page.line(
    "molar mass",
    "g/mol",
    "(mass of gas) × (gas constant R) × (room temperature in kelvin) / "
    "((pressure at the bench) × (volume of the flask))",
    positive=True,
)
def molar_mass(
    gas_mass: Number, gas_constant: Number, kelvin: Number, station_pressure: Number, flask_volume: Number
) -> Number:
    return gas_mass * gas_constant * kelvin / (station_pressure * flask_volume)


@page.line("molar mass of the known gas", "g/mol", lambda options: options.gas.molar_mass_rule, when=_known)
def known_molar_mass(options: GasDensityOptions) -> Number:
    assert options.gas is not None  # the line stands only where it is given
    return options.gas.molar_mass


@page.line(
    "molar volume",
    "L/mol",
    "(volume of the flask) × (molar mass of the known gas) / (mass of gas)",
    when=_known,
)
def molar_volume(flask_volume: Number, known_molar_mass: Number, gas_mass: Number) -> Number:
    return flask_volume * known_molar_mass / gas_mass


@page.line(
    "percent error",
    "%",
    "((molar mass) − (molar mass of the known gas)) / (molar mass of the known gas) × 100 %",
    when=_known,
)
def percent_error(molar_mass: Number, known_molar_mass: Number) -> Number:
    return (molar_mass - known_molar_mass) / known_molar_mass


RESULTS = (
    "flask_volume",
    "air_density",
    "air_mass",
    "gas_mass",
    "gas_density",
    "molar_mass",
    "molar_volume",
    "percent_error",
)
