"""The matter of the simulated bench: a solid that falls out at once, and what hands make of it."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.matter import Chance, Collected, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.parts.by_equation import portions, theoretical_kg
from claykettle.core.methods.precipitation.bench import PrecipitationTruth
from claykettle.core.methods.precipitation.options import PrecipitationOptions

SOLUTION, EXCESS = (2.0e-5, 3.0e-5), 0.3
"""m³ of a solution that is taken first, and how much more of the others (common practice)."""


def class_of(truth: PrecipitationTruth, options: PrecipitationOptions, chance: Chance) -> PrecipitationTruth:
    """What a class brings onto the paper: nearly all."""
    return replace(truth, solid=chance.between(0.955, 0.995) * truth.solid)


def drawn(options: PrecipitationOptions, chance: Chance) -> PrecipitationTruth:
    """What comes where a solution is taken first, and a plan that sizes what is weighed says nothing."""
    rows = portions(options, chance.between(*SOLUTION), EXCESS)
    return PrecipitationTruth(rows, theoretical_kg(options, rows))


def parts(jar: Jar) -> tuple[Part, ...]:
    """The solid on its paper or in its dish."""
    empty = "dish" if jar.shape.options.collector == "dish" else "paper"
    return (Collected(jar.truth.solid, jar.chance, empty),)


def really(options: PrecipitationOptions, reading: str, factor: float) -> PrecipitationOptions:
    """The options with the concentration that a solution really has, where `factor` times as much is on its label."""
    document = options.model_dump(mode="json", exclude_defaults=True)
    place = int(reading.rpartition("_")[2]) - 1
    given = options.reagent(place + 1).concentration
    if given is None:
        return options
    document["reagents"][place]["concentration"] = f"{given.si / 1000 / factor:.9g} mol/L"
    return PrecipitationOptions.model_validate(document)


REHEARSAL = Rehearsal(read_usual(__package__), parts, class_of, drawn, really=really)
