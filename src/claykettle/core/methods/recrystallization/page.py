"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.method import known
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import Page, Pick, Shape

page = Page("recrystallization")


def _by_volume(shape: Shape) -> bool:
    return shape.options.solvent_density is not None


def _by_mass(shape: Shape) -> bool:
    return not _by_volume(shape)


page.reading(
    "crude", "crude", "g", "balance", net=True, sole=True, pan="added", change="crude", usual=("0.05 g", "200 g")
)


page.reading("solvent", "solvent", "g", "balance", when=_by_mass, net=True, sole=True)


page.reading("solvent", "solvent", "mL", "liquid_volume", when=_by_volume)


page.given(
    "solvent_density",
    "density of the solvent",
    "g/mL",
    lambda options: known(options.solvent_density),
    when=_by_volume,
)


page.reading("hot_temperature", "hot temperature", "degC", "thermometer")


page.reading("cold_temperature", "cold temperature", "degC", "thermometer")


page.reading("crystals", "dry crystals", "g", "balance", net=True, sole=True)


@page.line("mass of solvent", "g", "(solvent)", when=_by_mass, positive=True, name="solvent_mass")
def solvent_weighed(solvent: Number) -> Number:
    return solvent


@page.line(
    "mass of solvent",
    "g",
    "(solvent) × (density of the solvent)",
    when=_by_volume,
    positive=True,
    name="solvent_mass",
)
def solvent_measured(solvent: Number, solvent_density: Number) -> Number:
    return solvent * solvent_density


@page.line(
    "salt in the substance",
    "1",
    lambda options: (
        "1" if options.salt_share == 1 else f"{options.curve.basis.molar_mass_rule} / {options.solute.molar_mass_rule}"
    ),
)
def salt_share(options: RecrystallizationOptions) -> Number:
    return options.salt_share


@page.table("hot solubility", "1", "read off the curve at the hot temperature, g of salt per g of solvent")
def hot_solubility(hot_temperature: float, options: RecrystallizationOptions) -> float:
    return options.curve.at(hot_temperature)


@page.table("cold solubility", "1", "read off the curve at the cold temperature, g of salt per g of solvent")
def cold_solubility(cold_temperature: float, options: RecrystallizationOptions) -> float:
    return options.curve.at(cold_temperature)


def beside_its_water(solubility: Number, share: Number) -> Number:
    """What is left of a kg of the substance's salt beyond what its own crystal water dissolves."""
    return share - solubility * (1 - share)


@page.choice(
    "least solvent",
    "g",
    {
        "needed": "(crude) × ((salt in the substance) − (hot solubility) × (1 − (salt in the substance))) / "
        "(hot solubility)",
        "none": "0 × (crude)",
    },
)
def least_solvent(crude: Number, salt_share: Number, hot_solubility: Number) -> Pick:
    more = beside_its_water(hot_solubility, salt_share)
    # a hydrate may dissolve in its own crystal water
    return Pick("needed", crude * more / hot_solubility) if nominal(more) > 0 else Pick("none", crude * 0)


def held(solubility: Number, share: Number, solvent: Number, crude: Number) -> Pick:
    """How much of the crude the solvent holds."""
    more = beside_its_water(solubility, share)
    if nominal(more) <= 0:
        return Pick("all", crude)
    held = solubility * solvent / more
    return Pick("held", held) if nominal(held) < nominal(crude) else Pick("all", crude)


def _held_rules(which: str) -> dict[str, str]:
    return {
        "held": f"({which} solubility) × (mass of solvent) / "
        f"((salt in the substance) − ({which} solubility) × (1 − (salt in the substance)))",
        "all": "(crude)",
    }


@page.choice("dissolved when hot", "g", _held_rules("hot"), name="dissolved_hot")
def dissolved_when_hot(hot_solubility: Number, salt_share: Number, solvent_mass: Number, crude: Number) -> Pick:
    return held(hot_solubility, salt_share, solvent_mass, crude)


@page.choice("kept when cold", "g", _held_rules("cold"), name="kept_cold")
def kept_when_cold(cold_solubility: Number, salt_share: Number, solvent_mass: Number, crude: Number) -> Pick:
    return held(cold_solubility, salt_share, solvent_mass, crude)


@page.line("greatest recovery", "g", "(dissolved when hot) − (kept when cold)")
def greatest_recovery(dissolved_hot: Number, kept_cold: Number) -> Number:
    return dissolved_hot - kept_cold


@page.line("greatest recovery of the crude", "%", "(greatest recovery) / (crude) × 100 %")
def greatest_recovery_percent(greatest_recovery: Number, crude: Number) -> Number:
    return greatest_recovery / crude


@page.line("recovery", "%", "(dry crystals) / (crude) × 100 %")
def recovery_percent(crystals: Number, crude: Number) -> Number:
    return crystals / crude


@page.choice(
    "recovery of what is possible",
    "%",
    {"some": "(dry crystals) / (greatest recovery) × 100 %"},
)
def recovery_of_possible(crystals: Number, greatest_recovery: Number) -> Pick | None:
    return Pick("some", crystals / greatest_recovery) if nominal(greatest_recovery) > 0 else None


RESULTS = (
    "least_solvent",
    "dissolved_hot",
    "kept_cold",
    "greatest_recovery",
    "greatest_recovery_percent",
    "recovery_percent",
    "recovery_of_possible",
)
