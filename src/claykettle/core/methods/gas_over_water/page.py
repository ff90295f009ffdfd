"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.chemistry.conditions import ZERO_CELSIUS
from claykettle.core.chemistry.gases import known_gas
from claykettle.core.method import known
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.parts import tube
from claykettle.core.methods.parts.metals import CHARGES
from claykettle.core.methods.parts.tube import both, not_taken, taken
from claykettle.core.quantity import Number, exact
from claykettle.core.sheet import Page, Shape


def _weighed(shape: Shape) -> bool:
    return not {"sample_length", "sample_volume"} & shape.taken


def _known(shape: Shape) -> bool:
    return shape.options.reagent is not None


def unknown(shape: Shape) -> bool:
    return not _known(shape)


def _hydrogen(shape: Shape) -> bool:
    return bool(shape.options.gas.text == "H2")


def _real(shape: Shape) -> bool:
    return _known(shape) and known_gas(shape.options.gas.text) is not None


page = Page("gas_over_water")


page.reading(
    "sample",
    "sample",
    "g",
    "balance",
    net=True,
    sole=True,
    pan="added",
    change="sample",
    usual=("0.002 g", "5 g"),
    when=_weighed,
)


page.reading("sample_length", "length of the ribbon", "cm", "ruler", optional=True)


page.reading("sample_volume", "volume of the sample", "mL", "liquid_volume", optional=True)


tube.declare_readings(page)


def _option(name: str, label: str, unit: str, reading: str) -> None:
    """A quantity that a form of the sample needs: given, or else named as missing."""
    asked = taken(reading)

    def is_given(shape: Shape) -> bool:
        return getattr(shape.options, name) is not None

    page.given(name, label, unit, lambda options: known(getattr(options, name)), both(asked, is_given))
    page.reading(name, label, unit, "", when=both(asked, lambda shape: not is_given(shape)))


_option("linear_density", "mass per length", "mg/mm", "sample_length")


_option("density", "density of the sample", "g/mL", "sample_volume")


tube.declare_given(page)


@page.line("mass of sample", "g", "(sample)", when=_weighed, positive=True, name="sample_mass")
def sample_weighed(sample: Number) -> Number:
    return sample


@page.line(
    "mass of sample",
    "g",
    "(length of the ribbon) × (mass per length)",
    when=taken("sample_length"),
    positive=True,
    name="sample_mass",
)
def sample_by_length(sample_length: Number, linear_density: Number) -> Number:
    return sample_length * linear_density


@page.line(
    "mass of sample",
    "g",
    "(volume of the sample) × (density of the sample)",
    when=both(taken("sample_volume"), not_taken("sample_length")),
    positive=True,
    name="sample_mass",
)
def sample_by_volume(sample_volume: Number, density: Number) -> Number:
    return sample_volume * density


tube.declare_volumes(page)


tube.declare_dry_gas(page)


@page.line("amount of gas", "mol", "(P × V / T of the gas) / (gas constant R)")
def gas_amount(reduced: Number, gas_constant: Number) -> Number:
    return reduced / gas_constant


@page.line("molar mass of the reagent", "g/mol", lambda o: known(o.reagent).molar_mass_rule, when=_known)
def reagent_molar_mass(options: GasOverWaterOptions) -> Number:
    return known(options.reagent).molar_mass


@page.line("amount of sample", "mol", "(mass of sample) / (molar mass of the reagent)", when=_known)
def sample_amount(sample_mass: Number, reagent_molar_mass: Number) -> Number:
    return sample_mass / reagent_molar_mass


@page.line("gas per reagent", "1", lambda o: exact(o.gas_per_reagent), when=_known)
def gas_ratio(options: GasOverWaterOptions) -> Number:
    return options.gas_per_reagent


@page.line("expected amount of gas", "mol", "(amount of sample) × (gas per reagent)", when=_known)
def expected_gas_amount(sample_amount: Number, gas_ratio: Number) -> Number:
    return sample_amount * gas_ratio


@page.line("molar volume at the bench", "L/mol", "(gas volume) / (expected amount of gas)", when=_known)
def molar_volume(gas_volume: Number, expected_gas_amount: Number) -> Number:
    return gas_volume / expected_gas_amount


@page.line("standard temperature", "K", "273.15 K")
def standard_temperature(options: GasOverWaterOptions) -> Number:
    return ZERO_CELSIUS


@page.line("standard pressure", "kPa", lambda o: f"{o.standard_pressure_pa / 1000:g} kPa")
def standard_pressure(options: GasOverWaterOptions) -> Number:
    return options.standard_pressure_pa


@page.line(
    "volume at standard conditions",
    "mL",
    "(P × V / T of the gas) × (standard temperature) / (standard pressure)",
)
def standard_volume(reduced: Number, standard_temperature: Number, standard_pressure: Number) -> Number:
    return reduced * standard_temperature / standard_pressure


@page.line(
    "standard molar volume",
    "L/mol",
    "(volume at standard conditions) / (expected amount of gas)",
    when=_known,
)
def molar_volume_standard(standard_volume: Number, expected_gas_amount: Number) -> Number:
    return standard_volume / expected_gas_amount


@page.line(
    "molar volume of an ideal gas",
    "L/mol",
    "(gas constant R) × (standard temperature) / (standard pressure)",
    when=_known,
)
def ideal_molar_volume(gas_constant: Number, standard_temperature: Number, standard_pressure: Number) -> Number:
    return gas_constant * standard_temperature / standard_pressure


@page.line(
    "percent error",
    "%",
    "((standard molar volume) − (molar volume of an ideal gas)) / (molar volume of an ideal gas) × 100 %",
    when=_known,
)
def percent_error(molar_volume_standard: Number, ideal_molar_volume: Number) -> Number:
    return (molar_volume_standard - ideal_molar_volume) / ideal_molar_volume


@page.table(
    "molar volume of the real gas",
    "L/mol",
    "(gas constant R) × T / P + second virial coefficient, at standard conditions",
    when=_real,
)
def real_molar_volume(standard_temperature: Number, options: GasOverWaterOptions) -> Number:
    gas = known_gas(options.gas.text)
    assert gas is not None  # the line stands only for a gas of the table
    return gas.molar_volume(standard_temperature, options.standard_pressure_pa)


@page.line(
    "percent error against the real gas",
    "%",
    "((standard molar volume) − (molar volume of the real gas)) / (molar volume of the real gas) × 100 %",
    when=_real,
)
def percent_error_real(molar_volume_standard: Number, real_molar_volume: Number) -> Number:
    return (molar_volume_standard - real_molar_volume) / real_molar_volume


@page.line("percent reacted", "%", "(amount of gas) / (expected amount of gas) × 100 %", when=_known)
def percent_reacted(gas_amount: Number, expected_gas_amount: Number) -> Number:
    return gas_amount / expected_gas_amount


@page.line("percent purity", "%", "(percent reacted)", when=_known)
def percent_purity(percent_reacted: Number) -> Number:
    return percent_reacted


@page.line("volume per gram", "mL/g", "(gas volume) / (mass of sample)")
def volume_per_gram(gas_volume: Number, sample_mass: Number) -> Number:
    return gas_volume / sample_mass


@page.line("standard volume per gram", "mL/g", "(volume at standard conditions) / (mass of sample)")
def volume_per_gram_standard(standard_volume: Number, sample_mass: Number) -> Number:
    return standard_volume / sample_mass


@page.line("equivalent mass", "g/mol", "(mass of sample) / (2 × (amount of gas))", when=_hydrogen)
def equivalent_mass(sample_mass: Number, gas_amount: Number) -> Number:
    return sample_mass / (2 * gas_amount)


def _molar_mass_line(charge: int) -> None:
    @page.line(
        f"molar mass at charge {charge}",
        "g/mol",
        f"{charge} × (equivalent mass)",
        when=unknown,
        name=f"molar_mass_{charge}",
    )
    def molar_mass(equivalent_mass: Number) -> Number:
        return charge * equivalent_mass


for _charge in CHARGES:
    _molar_mass_line(_charge)


RESULTS = (
    "sample_mass",
    "gas_volume",
    "vapour_pressure",
    "head_pressure",
    "station_pressure",
    "dry_gas_pressure",
    "gas_amount",
    "sample_amount",
    "expected_gas_amount",
    "molar_volume",
    "molar_volume_standard",
    "percent_error",
    "percent_error_real",
    "percent_reacted",
    "percent_purity",
    "volume_per_gram",
    "volume_per_gram_standard",
    "equivalent_mass",
    *(f"molar_mass_{charge}" for charge in CHARGES),
)
