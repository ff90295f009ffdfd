"""The matter of the simulated bench: a flask full of air that a gas fills, and water at the end."""

from __future__ import annotations

import math

from claykettle.core.chemistry.conditions import air_density
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.matter import Chance, Flask, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.gas_density.options import GasDensityOptions


def parts(jar: Jar) -> tuple[Part, ...]:
    """One flask. A cylinder's gas does not come to an end in an evening; the acid of a generator does."""
    truth = jar.truth
    air = air_density(truth.temperature, truth.pressure, truth.humidity) * truth.volume
    return (Flask(air, wet=jar.chance.between(1e-5, 4e-5), chance=jar.chance, lasts=math.inf),)


UNNAMED = ("Ar", "CO2")
"""What an unlabelled bottle holds: heavier than air, and harmless with a window open (common practice)."""


def named(options: GasDensityOptions, chance: Chance) -> GasDensityOptions:
    """One of these gases."""
    return options.model_copy(update={"gas": parse_formula(UNNAMED[chance.one_of(len(UNNAMED))])})


REHEARSAL = Rehearsal(read_usual(__package__), parts, named=named)
