"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.method import known
from claykettle.core.methods.composition.options import WATER, CompositionOptions
from claykettle.core.methods.parts.collecting import Collecting
from claykettle.core.methods.parts.crucible import Crucible
from claykettle.core.quantity import Number
from claykettle.core.sheet import Page, Shape

page = Page("composition")


def by_difference(shape: Shape) -> bool:
    """Whether the dry salt was not weighed: its halogen is taken as accepted then, and water is what is left."""
    return "vessel_residue" in shape.missed and shape.options.accepted is not None


def weighed_dry(shape: Shape) -> bool:
    """Its opposite."""
    return not by_difference(shape)


def _said_by_difference(options: CompositionOptions) -> str:
    if options.accepted is None:
        return ""
    return f"halogen is taken as in {options.accepted.text}, and water is what is left of the sample."


crucible = Crucible(
    page,
    vessel="vessel",
    before="sample",
    after="residue",
    change="water_mass",
    change_label="water driven off",
    moved="water",
    heated=weighed_dry,
    instead=_said_by_difference,
)


crucible.declare()


@page.line("percent water", "%", "(water driven off) / (mass of sample) × 100 %")
def water_percent(water_mass: Number, sample_mass: Number) -> Number:
    return water_mass / sample_mass


@page.line("molar mass of water", "g/mol", lambda options: WATER.molar_mass_rule)
def water_molar_mass(options: CompositionOptions) -> Number:
    return WATER.molar_mass


@page.line("amount of water", "mol", "(water driven off) / (molar mass of water)")
def water_amount(water_mass: Number, water_molar_mass: Number) -> Number:
    return water_mass / water_molar_mass


collected_metal = Collecting(page, "metal_mass", "mass of metal")


collected_metal.declare()


@page.line("percent metal", "%", "(mass of metal) / (mass of sample) × 100 %")
def metal_percent(metal_mass: Number, sample_mass: Number) -> Number:
    return metal_mass / sample_mass


@page.line("mass of halogen", "g", "(mass of residue) − (mass of metal)", when=weighed_dry, positive=True)
def halogen_mass(residue_mass: Number, metal_mass: Number) -> Number:
    return residue_mass - metal_mass


@page.line("percent halogen", "%", "(mass of halogen) / (mass of sample) × 100 %")
def halogen_percent(halogen_mass: Number, sample_mass: Number) -> Number:
    return halogen_mass / sample_mass


@page.line("molar mass of the metal", "g/mol", lambda options: options.metal_formula.molar_mass_rule)
def metal_molar_mass(options: CompositionOptions) -> Number:
    return options.metal_formula.molar_mass


@page.line("molar mass of the halogen", "g/mol", lambda options: options.halogen_formula.molar_mass_rule)
def halogen_molar_mass(options: CompositionOptions) -> Number:
    return options.halogen_formula.molar_mass


@page.line("amount of metal", "mol", "(mass of metal) / (molar mass of the metal)")
def metal_amount(metal_mass: Number, metal_molar_mass: Number) -> Number:
    return metal_mass / metal_molar_mass


@page.line("amount of halogen", "mol", "(mass of halogen) / (molar mass of the halogen)", when=weighed_dry)
def halogen_amount(halogen_mass: Number, halogen_molar_mass: Number) -> Number:
    return halogen_mass / halogen_molar_mass


@page.line("halogen per metal", "1", "(amount of halogen) / (amount of metal)", when=weighed_dry)
def halogen_ratio(halogen_amount: Number, metal_amount: Number) -> Number:
    return halogen_amount / metal_amount


def accepted_halogens(options: CompositionOptions) -> float:
    """Halogen per metal of the accepted formula."""
    counts = known(options.accepted).counts
    return float(counts[options.halogen] / counts[options.metal])


@page.line(
    "halogen per metal",
    "1",
    lambda options: f"{accepted_halogens(options):g}",
    when=by_difference,
    name="halogen_ratio",
)
def halogen_ratio_as_accepted(options: CompositionOptions) -> Number:
    return accepted_halogens(options)


@page.line(
    "amount of halogen",
    "mol",
    "(halogen per metal) × (amount of metal)",
    when=by_difference,
    name="halogen_amount",
)
def halogen_with_the_metal(halogen_ratio: Number, metal_amount: Number) -> Number:
    return halogen_ratio * metal_amount


@page.line(
    "mass of halogen",
    "g",
    "(amount of halogen) × (molar mass of the halogen)",
    when=by_difference,
    name="halogen_mass",
)
def halogen_by_amount(halogen_amount: Number, halogen_molar_mass: Number) -> Number:
    return halogen_amount * halogen_molar_mass


@page.line("mass of residue", "g", "(mass of metal) + (mass of halogen)", when=by_difference, name="residue_mass")
def residue_of_its_parts(metal_mass: Number, halogen_mass: Number) -> Number:
    return metal_mass + halogen_mass


@page.line(
    "water driven off",
    "g",
    "(mass of sample) − (mass of residue)",
    when=by_difference,
    positive=True,
    name="water_mass",
)
def water_left_over(sample_mass: Number, residue_mass: Number) -> Number:
    return sample_mass - residue_mass


@page.line("water per metal", "1", "(amount of water) / (amount of metal)")
def water_ratio(water_amount: Number, metal_amount: Number) -> Number:
    return water_amount / metal_amount


def _accepted(shape: Shape) -> bool:
    return shape.options.accepted is not None


def metal_atoms(options: CompositionOptions) -> float:
    return float(known(options.accepted).counts[options.metal])


@page.line(
    "molar mass of the accepted formula", "g/mol", lambda options: options.accepted.molar_mass_rule, when=_accepted
)
def accepted_molar_mass(options: CompositionOptions) -> Number:
    return known(options.accepted).molar_mass


@page.line(
    "theoretical percent metal",
    "%",
    lambda options: (
        f"{metal_atoms(options):g} × (molar mass of the metal) / (molar mass of the accepted formula) × 100 %"
    ),
    when=_accepted,
)
def theoretical_metal_percent(
    metal_molar_mass: Number, accepted_molar_mass: Number, options: CompositionOptions
) -> Number:
    return metal_atoms(options) * metal_molar_mass / accepted_molar_mass


@page.line(
    "percent error",
    "%",
    "((percent metal) − (theoretical percent metal)) / (theoretical percent metal) × 100 %",
    when=_accepted,
)
def percent_error(metal_percent: Number, theoretical_metal_percent: Number) -> Number:
    return (metal_percent - theoretical_metal_percent) / theoretical_metal_percent


RESULTS = (
    "sample_mass",
    "residue_mass",
    "water_mass",
    "metal_mass",
    "halogen_mass",
    "water_percent",
    "metal_percent",
    "halogen_percent",
    "water_amount",
    "metal_amount",
    "halogen_amount",
    "halogen_ratio",
    "water_ratio",
    "theoretical_metal_percent",
    "percent_error",
)
