"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.chemistry.conditions import ATMOSPHERE, air_density
from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.gases import known_gas
from claykettle.core.method import known
from claykettle.core.methods.gas_by_mass_loss.options import ROOM_K, MassLossOptions
from claykettle.core.methods.parts.dissolved import saturation_mol
from claykettle.core.quantity import Number, exact, nearest_of
from claykettle.core.sheet import Page, Pick, Shape

AIR_HUMIDITY = 0.5
"""Of the air that the headspace's gas took the place of."""


def per_gas(equation: Equation, gas: Formula) -> float:
    """Mol of the active substance per mol of the gas."""
    return float(equation.reactants[0].coefficient) / equation.formed(gas)


def net(shape: Shape) -> bool:
    return "sample" in shape.net


def _dish(shape: Shape) -> bool:
    return not net(shape)


def _given_amount(shape: Shape) -> bool:
    return shape.options.dissolved is not None and shape.options.dissolved.amount is not None


def _by_henry(shape: Shape) -> bool:
    return bool(shape.options.by_henry)


def _henry_warm(shape: Shape) -> bool:
    return _by_henry(shape) and shape.options.dissolved.temperature is not None


def _henry_room(shape: Shape) -> bool:
    return _by_henry(shape) and shape.options.dissolved.temperature is None


def _counts_dissolved(shape: Shape) -> bool:
    return shape.options.dissolved is not None


def _no_dissolved(shape: Shape) -> bool:
    return not _counts_dissolved(shape)


def _headspace(shape: Shape) -> bool:
    return shape.options.headspace_volume is not None


def _told_warm(shape: Shape) -> bool:
    dissolved = shape.options.dissolved
    return dissolved is not None and dissolved.temperature is not None


def _asks_warmth(shape: Shape) -> bool:
    """Whether a line needs the temperature that the options tell of the liquid."""
    return _told_warm(shape) and (_by_henry(shape) or _headspace(shape))


def _headspace_warm(shape: Shape) -> bool:
    return _headspace(shape) and _told_warm(shape)


def _headspace_room(shape: Shape) -> bool:
    return _headspace(shape) and not _told_warm(shape)


def _swept(shape: Shape) -> bool:
    return not _headspace(shape)


def _claims_mass(shape: Shape) -> bool:
    return shape.options.claim is not None and shape.options.claim.mass is not None


def _claims_percent(shape: Shape) -> bool:
    return shape.options.claim is not None and shape.options.claim.percent is not None


page = Page("gas_by_mass_loss")


page.reading("vessel_before", "vessel + acid", "g", "balance", pan="empty", drawn="beaker")


page.reading("sample", "sample", "g", "balance", net=True, pan="added", change="sample", drawn="beaker")


def _dish_holds(options: MassLossOptions) -> str:
    """A dish, and on it a tablet where that is what the label speaks of."""
    claim = options.claim
    return "tablet" if claim is not None and claim.per == "tablet" else "boat"


page.reading("dish_sample", "dish + sample", "g", "balance", instead_of="sample", change="sample", drawn=_dish_holds)


page.reading(
    "dish",
    "dish after tipping",
    "g",
    "balance",
    instead_of="sample",
    pan="added",
    drawn=_dish_holds,
    change="sample",
    tipped_from="dish_sample",
)


page.reading("vessel_after", "vessel after", "g", "balance", pan="spent", change="gas", drawn="beaker")


page.given("dissolved_given", "gas left dissolved", "mmol", lambda o: known(o.dissolved.amount), _given_amount)


page.given("liquid_volume", "volume of the liquid", "mL", lambda o: known(o.dissolved.volume), _by_henry)


page.given(
    "liquid_temperature", "temperature of the liquid", "degC", lambda o: known(o.dissolved.temperature), _asks_warmth
)


page.given("headspace_volume", "headspace", "mL", lambda o: known(o.headspace_volume), _headspace)


page.given("claimed_mass", "claimed mass per unit", "g", lambda o: known(o.claim.mass), _claims_mass)


page.given("claimed_percent", "claimed percentage", "%", lambda o: known(o.claim.percent), _claims_percent)


@page.line("mass of sample", "g", "(sample)", when=net, positive=True, name="sample_mass")
def sample_alone(sample: Number) -> Number:
    return sample


@page.line(
    "mass of sample", "g", "(dish + sample) − (dish after tipping)", when=_dish, positive=True, name="sample_mass"
)
def sample_tipped(dish_sample: Number, dish: Number) -> Number:
    return dish_sample - dish


@page.line("mass of gas lost", "g", "(vessel + acid) + (mass of sample) − (vessel after)", positive=True)
def gas_mass(vessel_before: Number, sample_mass: Number, vessel_after: Number) -> Number:
    return vessel_before + sample_mass - vessel_after


HEADSPACE = "headspace × (density of the gas − density of air), at 101.325 kPa"


def _in_place_of_air(options: MassLossOptions, volume: float, temperature: float) -> float:
    gas = known(known_gas(options.gas.text))  # a headspace is refused for a gas that the table does not hold
    air = air_density(temperature, ATMOSPHERE, AIR_HUMIDITY)
    return volume * (options.gas.molar_mass / gas.molar_volume(temperature, ATMOSPHERE) - air)


@page.table(
    "mass of gas in place of air", "g", f"{HEADSPACE}, at the liquid's temperature",
    when=_headspace_warm, name="headspace_mass",
)  # fmt: skip
def headspace_warm(headspace_volume: Number, liquid_temperature: Number, options: MassLossOptions) -> Number:
    return _in_place_of_air(options, headspace_volume, liquid_temperature)


@page.table("mass of gas in place of air", "g", f"{HEADSPACE} and 20 °C", when=_headspace_room, name="headspace_mass")
def headspace_room(headspace_volume: Number, options: MassLossOptions) -> Number:
    return _in_place_of_air(options, headspace_volume, ROOM_K)


@page.line(
    "mass of gas set free", "g", "(mass of gas lost) + (mass of gas in place of air)", when=_headspace, name="free_mass"
)
def free_with_headspace(gas_mass: Number, headspace_mass: Number) -> Number:
    return gas_mass + headspace_mass


@page.line("mass of gas set free", "g", "(mass of gas lost)", when=_swept, name="free_mass")
def free_swept_out(gas_mass: Number) -> Number:
    return gas_mass


@page.line("molar mass of the gas", "g/mol", lambda options: options.gas.molar_mass_rule)
def gas_molar_mass(options: MassLossOptions) -> Number:
    return options.gas.molar_mass


@page.line("amount of gas set free", "mol", "(mass of gas set free) / (molar mass of the gas)")
def free_amount(free_mass: Number, gas_molar_mass: Number) -> Number:
    return free_mass / gas_molar_mass


@page.line("amount left dissolved", "mmol", "(gas left dissolved)", when=_given_amount, name="dissolved_amount")
def dissolved_as_given(dissolved_given: Number) -> Number:
    return dissolved_given


HENRY = "Henry's law: constant × (101.325 kPa − vapour pressure of water) × (volume of the liquid)"


@page.table("amount left dissolved", "mmol", HENRY, when=_henry_warm, name="dissolved_amount")
def dissolved_warm(liquid_volume: Number, liquid_temperature: Number, options: MassLossOptions) -> Number:
    return saturation_mol(options.gas.text, liquid_volume, liquid_temperature)


@page.table("amount left dissolved", "mmol", f"{HENRY}, at 20 °C", when=_henry_room, name="dissolved_amount")
def dissolved_room(liquid_volume: Number, options: MassLossOptions) -> Number:
    return saturation_mol(options.gas.text, liquid_volume, ROOM_K)


@page.line(
    "amount of gas",
    "mol",
    "(amount of gas set free) + (amount left dissolved)",
    when=_counts_dissolved,
    name="gas_amount",
)
def gas_with_dissolved(free_amount: Number, dissolved_amount: Number) -> Number:
    return free_amount + dissolved_amount


@page.line("amount of gas", "mol", "(amount of gas set free)", when=_no_dissolved, name="gas_amount")
def gas_without_dissolved(free_amount: Number) -> Number:
    return free_amount


@page.line("molar mass of the active substance", "g/mol", lambda options: options.active.molar_mass_rule)
def active_molar_mass(options: MassLossOptions) -> Number:
    return options.active.molar_mass


@page.line("amount of sample, taken as pure", "mol", "(mass of sample) / (molar mass of the active substance)")
def sample_amount(sample_mass: Number, active_molar_mass: Number) -> Number:
    return sample_mass / active_molar_mass


@page.line("sample per gas", "1", "(amount of sample, taken as pure) / (amount of gas)")
def mole_ratio(sample_amount: Number, gas_amount: Number) -> Number:
    return sample_amount / gas_amount


def _ratio_rules(options: MassLossOptions) -> dict[str, str]:
    return {str(i): exact(per_gas(row, options.gas)) for i, row in enumerate(options.equations, start=1)}


@page.choice("active substance per gas", "1", _ratio_rules)
def active_ratio(mole_ratio: Number, options: MassLossOptions) -> Pick:
    ratios = [per_gas(row, options.gas) for row in options.equations]
    index, ratio = nearest_of(mole_ratio, ratios, "active_ratio")
    return Pick(str(index + 1), ratio)


@page.line(
    "mass of active substance",
    "g",
    "(amount of gas) × (active substance per gas) × (molar mass of the active substance)",
)
def active_mass(gas_amount: Number, active_ratio: Number, active_molar_mass: Number) -> Number:
    return gas_amount * active_ratio * active_molar_mass


@page.line("percent purity", "%", "(mass of active substance) / (mass of sample) × 100 %")
def percent_purity(active_mass: Number, sample_mass: Number) -> Number:
    return active_mass / sample_mass


def _per_unit(options: MassLossOptions) -> str:
    return f"(mass of active substance) / ({options.units_used} × (claimed mass per unit)) × 100 %"


@page.line("percent of the claim", "%", _per_unit, when=_claims_mass, name="percent_of_claim")
def of_claimed_mass(active_mass: Number, claimed_mass: Number, options: MassLossOptions) -> Number:
    return active_mass / (options.units_used * claimed_mass)


@page.line(
    "percent of the claim",
    "%",
    "(percent purity) / (claimed percentage) × 100 %",
    when=_claims_percent,
    name="percent_of_claim",
)
def of_claimed_percent(percent_purity: Number, claimed_percent: Number) -> Number:
    return percent_purity / claimed_percent


RESULTS = (
    "sample_mass",
    "gas_mass",
    "dissolved_amount",
    "gas_amount",
    "mole_ratio",
    "active_mass",
    "percent_purity",
    "percent_of_claim",
)
