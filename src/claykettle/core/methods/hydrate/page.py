"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.judgement.ratios import INSIDE, misfits
from claykettle.core.methods.hydrate.options import WATER, HydrateOptions
from claykettle.core.methods.parts.crucible import Crucible
from claykettle.core.quantity import Number, exact, nominal, standard_uncertainty
from claykettle.core.sheet import Page, Pick, Shape

page = Page("hydrate")


crucible = Crucible(
    page,
    vessel="vessel",
    before="sample",
    after="residue",
    change="water_mass",
    change_label="water driven off",
    moved="water",
)


crucible.declare()


def _formula_level(shape: Shape) -> bool:
    return bool(shape.options.asks_formula)


def _accepted(shape: Shape) -> bool:
    return shape.options.accepted is not None


def _matched(shape: Shape) -> bool:
    return _formula_level(shape) and not _accepted(shape)


@page.line("percent water", "%", "(water driven off) / (mass of sample) × 100 %")
def water_percent(water_mass: Number, sample_mass: Number) -> Number:
    return water_mass / sample_mass


@page.line("molar mass of water", "g/mol", lambda options: WATER.molar_mass_rule)
def water_molar_mass(options: HydrateOptions) -> Number:
    return WATER.molar_mass


@page.line("molar mass of the salt", "g/mol", lambda options: options.known_salt.molar_mass_rule, when=_formula_level)
def salt_molar_mass(options: HydrateOptions) -> Number:
    return options.known_salt.molar_mass


@page.line("amount of water", "mol", "(water driven off) / (molar mass of water)", when=_formula_level)
def water_amount(water_mass: Number, water_molar_mass: Number) -> Number:
    return water_mass / water_molar_mass


@page.line("amount of salt", "mol", "(mass of residue) / (molar mass of the salt)", when=_formula_level)
def salt_amount(residue_mass: Number, salt_molar_mass: Number) -> Number:
    return residue_mass / salt_molar_mass


@page.line("ratio x", "1", "(amount of water) / (amount of salt)", when=_formula_level)
def water_ratio(water_amount: Number, salt_amount: Number) -> Number:
    return water_amount / salt_amount


@page.choice("ratio taken", "1", "the simplest whole or half number inside the band of ratio x", when=_matched)
def taken_ratio(water_ratio: Number, options: HydrateOptions) -> Pick | None:
    return _match(water_ratio, options)


@page.line(
    "theoretical percent water",
    "%",
    "(ratio taken) × (molar mass of water) / "
    "((molar mass of the salt) + (ratio taken) × (molar mass of water)) × 100 %",
    when=_matched,
    name="theoretical_water_percent",
)
def theoretical_from_match(taken_ratio: Number, water_molar_mass: Number, salt_molar_mass: Number) -> Number:
    return taken_ratio * water_molar_mass / (salt_molar_mass + taken_ratio * water_molar_mass)


@page.line(
    "molar mass of the accepted hydrate", "g/mol", lambda options: options.accepted.molar_mass_rule, when=_accepted
)
def accepted_molar_mass(options: HydrateOptions) -> Number:
    return options.known_accepted.molar_mass


@page.line(
    "theoretical percent water",
    "%",
    lambda options: (
        f"{exact(float(options.accepted.water))} × (molar mass of water) / (molar mass of the accepted hydrate) × 100 %"
    ),
    when=_accepted,
    name="theoretical_water_percent",
)
def theoretical_from_accepted(water_molar_mass: Number, accepted_molar_mass: Number, options: HydrateOptions) -> Number:
    return float(options.known_accepted.water) * water_molar_mass / accepted_molar_mass


@page.line(
    "percent error",
    "%",
    "((percent water) − (theoretical percent water)) / (theoretical percent water) × 100 %",
    when=lambda shape: _accepted(shape) or _formula_level(shape),
)
def percent_error(water_percent: Number, theoretical_water_percent: Number) -> Number:
    return (water_percent - theoretical_water_percent) / theoretical_water_percent


RESULTS = (
    "sample_mass",
    "residue_mass",
    "water_mass",
    "water_percent",
    "water_amount",
    "salt_amount",
    "water_ratio",
    "theoretical_water_percent",
    "percent_error",
)


def _match(ratio: Number, options: HydrateOptions) -> Pick | None:
    """The simplest candidate ratio inside the band; on plain numbers (a replay) the nearest one."""
    if standard_uncertainty(ratio) > 0:
        plain = [float(x) for x in options.ratios]
        inside = [x for x, off in zip(options.ratios, misfits(ratio, plain), strict=True) if abs(off) <= INSIDE]
    else:
        inside = [min(options.ratios, key=lambda x: abs(nominal(ratio) - float(x)))]
    if not inside or options.salt is None:
        return None
    salt = options.salt
    simplest = min(inside, key=lambda x: salt.hydrate(x).sum_of_indices)
    return Pick(str(simplest), float(simplest))
