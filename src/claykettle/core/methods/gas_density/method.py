"""A gas weighed in a flask: its molar mass from its density, the air that it displaced put back.

Weigh the dry covered flask, which is full of air; fill it, weigh until two weighings agree; fill it with water for its
volume. What stands on the balance is the gas less the air it displaced, so that air is added again.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Any

from pydantic import Field

from claykettle.core.chemistry.conditions import GAS_CONSTANT
from claykettle.core.chemistry.conditions import air_density as density_of_air
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.gases import all_gases
from claykettle.core.errors import refuse
from claykettle.core.judgement.constancy import Process, judge_constancy, settled_rules, settled_value
from claykettle.core.judgement.ratios import judge_formula, misfit
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    FIRST,
    Cause,
    Foresight,
    FormulaField,
    Formulated,
    Headline,
    Judgement,
    LineReplaced,
    Method,
    ReadingScaled,
    ReadingShifted,
    SeriesOptions,
    Setting,
    Statement,
    Trial,
    TruthChanged,
)
from claykettle.core.methods.parts.pressure import judge_barometer, judge_place, judge_sea_level
from claykettle.core.methods.parts.room import RoomOptions, declare_gas_law, declare_pressure, or_nan
from claykettle.core.quantity import Number, Quantity, nominal, parse_half_width, parse_reading, with_uncertainty
from claykettle.core.sheet import SETTLING, Page, Pick, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate

ASSUMED_HUMIDITY = Quantity(parse_reading("50 %", "ratio"), parse_half_width("25 %", "ratio"))
"""Where no humidity was read: anything a room may have."""


class GasDensityOptions(RoomOptions, SeriesOptions):
    """What is known beforehand."""

    gas: FormulaField | None = Field(
        default=None,
        title="Gas, where it is known",
        description="Its formula, such as Ar; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )


def _known(shape: Shape) -> bool:
    return shape.options.gas is not None


def _no_humidity(shape: Shape) -> bool:
    return "humidity" not in shape.taken


page = Page("gas_density")
page.reading("flask_air", "flask with air", "g", "balance", pan="empty")
page.reading(
    "flask_gas",
    "flask with gas",
    "g",
    "balance",
    series=True,
    pan="heated",
    change="gas less air",
    rises=True,
    round="filling",
)
page.reading("flask_water", "flask with water", "g", "coarse_balance")
page.reading("temperature", "room temperature", "degC", "thermometer", room=lambda _: "temperature")
page.reading("humidity", "humidity", "%", "hygrometer", optional=True, room=lambda _: "humidity")
page.given("humidity", "humidity, assumed", "%", lambda _: ASSUMED_HUMIDITY, _no_humidity)
declare_pressure(page)


@page.table("density of the air", "g/L", "moist air, CIPM-2007", positive=True)
def air_density(temperature: Number, station_pressure: Number, humidity: Number) -> Number:
    return or_nan(density_of_air, temperature, station_pressure, humidity)


@page.table("density of the water", "g/mL", "water at room temperature, Tanaka 2001", positive=True)
def water_density(temperature: Number) -> Number:
    return or_nan(density_of_water, temperature)


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


# Judgement

FILLING = Process(
    "One weighing after filling cannot show that the flask is full. Lead gas in once more and weigh again.",
    "gas was lost, or the flask is colder or drier than before. Is the cover whole, the flask upright? Filling {next} "
    "decides.",
    "It is still filling: lead gas in five more minutes, with the generator fizzing, and weigh again.",
    rises=True,
    round="filling",
)


def gas_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """The gases of the bench held against the molar mass, the nearest first; a known one among them."""
    found = trial.values.get("molar_mass")
    if found is None:
        return ()
    formulas = {gas.formula: parse_formula(gas.formula) for gas in all_gases()}
    known = trial.options.gas
    if known is not None:
        formulas.setdefault(known.text, known)
    rows = (
        candidate(text, None, misfit(found, formula.molar_mass), expected=1000 * formula.molar_mass)
        for text, formula in formulas.items()
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial), *judge_barometer(trial), *judge_place(trial), *judge_sea_level(trial)]
    series = trial.series("flask_gas")
    if series:
        verdicts.append(judge_constancy("flask_gas", series, trial.options, FILLING))
    if any(verdict.level == "stop" for verdict in verdicts):
        return Judgement(tuple(verdicts))
    candidates = gas_candidates(trial)
    words: dict[str, Formulated] = {}
    if candidates:
        measured = (
            f"{with_uncertainty(1000 * (trial.value('molar_mass') or 0), 1000 * trial.uncertainty('molar_mass'))} g/mol"
        )
        words["formula"], verdict = judge_formula(
            "molar_mass", measured, candidates, "A larger flask or a finer balance"
        )
        verdicts.append(verdict)
    return Judgement(tuple(verdicts), candidates, words, tuple(_statements(trial)))


FINER = "A larger flask or a finer balance"


def _measured(trial: Trial) -> str:
    value, spread = trial.value("molar_mass") or 0.0, trial.uncertainty("molar_mass")
    return f"M = {with_uncertainty(1000 * value, 1000 * spread, 'g/mol')}"


def _order(trial: Trial) -> Iterator[Verdict]:
    """A flask full of water lighter than the dry one."""
    air, water = trial.typed("flask_air"), trial.typed("flask_water")
    if air and water and water.si <= air.si:
        text = f"The flask with water ({water.shown}) is not heavier than with air ({air.shown}): check both."
        yield Verdict(STEP, "stop", "flask_water", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    if _no_humidity(trial.sheet.shape) and trial.values.get("air_mass") is not None:
        yield Statement("Humidity", "None was read: 50 % is taken, give or take 25 %; it matters little.")


# The bench model and the causes of error


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


def matched_result(options: GasDensityOptions, values: Values) -> float | None:
    """None: that a gas of the list fits does not make it the one expected."""
    return None


WATER_MOLAR_MASS = 0.018015


def bench(shape: Shape, truth: GasDensityTruth, faults: Mapping[str, float]) -> dict[str, Any]:
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
    readings: dict[str, Any] = {
        "flask_air": truth.flask + air + faults.get("wet", 0.0),
        "flask_gas": [full, full],
        "flask_water": truth.flask + water,
        "temperature": truth.temperature,
        "barometer": shape.options.at_sea_level(truth.pressure),
    }
    return readings | {"humidity": truth.humidity} if "humidity" in shape.taken else readings


def _nothing(air_density: Number, flask_volume: Number) -> Number:
    return 0.0 * air_density * flask_volume


def foresee(options: GasDensityOptions, volume: float, setting: Setting) -> GasDensityTruth:
    """A flask of this volume (m³) and the gas in it. Raises Refusal where no gas is named."""
    if options.gas is None:
        raise refuse("plan-open", "Name the gas that you expect: what it weighs depends on it.", "options.gas")
    room = (setting.temperature.si, setting.barometer.si, setting.humidity.si)
    return GasDensityTruth(setting.vessel_mass.si, volume, options.gas.molar_mass, *room)


CAUSES = (
    Cause(
        "not-full",
        "flask not full, tilted, or its cover torn",
        TruthChanged("air_left"),
        "%",
        0.05,
        0.4,
        "a flask that is nearly half air is weighed once more and still gains",
    ),
    Cause(
        "wet-flask",
        "flask wet inside when weighed with air",
        TruthChanged("wet"),
        "g",
        5e-6,
        1e-4,
        "0.1 g of water is seen in a flask",
    ),
    Cause(
        "vapour",
        "water vapour past the drier",
        TruthChanged("vapour"),
        "%",
        0.01,
        0.03,
        "air at room temperature holds 3 % of water vapour at most",
    ),
    Cause(
        "prints",
        "fingerprints or breath on the flask",
        ReadingShifted("flask_gas"),
        "g",
        2e-6,
        3e-5,
        "fingerprints and mist weigh some milligrams",
    ),
    Cause(
        "air-left-out",
        "the air displaced left out of the calculation",
        LineReplaced({"air_mass": _nothing}),
        "g",
        limit="a slip of the calculation: done or not done",
    ),
    Cause(
        "sea-level",
        "a sea-level pressure taken for that at the bench",
        ReadingScaled("barometer"),
        "%",
        0.05,
        0.25,
        "a quarter more belongs to a laboratory at 2400 m",
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    places: Sequence[dict[str, Any]] = ({}, {"barometer": "sea_level", "elevation": "520 m"})
    for gas, place, taken, value in product((None, "Ar"), places, ((), ("humidity",)), ("last", "mean", "lowest")):
        options = GasDensityOptions.model_validate({"gas": gas, "constant_value": value} | place)
        yield Shape(options, taken=frozenset(taken))


def headline(options: GasDensityOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("M = {}", "gas_density", "{}")


METHOD = Method(
    name="gas_density",
    title="Gas weighed in a flask",
    page=page,
    options=GasDensityOptions,
    results=RESULTS,
    key=lambda options: "molar_mass",
    headline=headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(
        foresee,
        ("temperature", "barometer", "humidity", "vessel_mass"),
        label="volume of the flask",
        unit="mL",
        usual={"vessel_mass": "100 g"},
    ),
)
