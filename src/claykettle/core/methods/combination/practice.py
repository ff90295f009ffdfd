"""The matter of the simulated bench: an element that takes up another in a lidded crucible."""

from __future__ import annotations

from math import gcd

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.matter import Chance, Content, Fired, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import crucible

GLOWS_K = 1050.0


def parts(jar: Jar) -> tuple[Part, ...]:
    """One crucible with its lid, and in it the element."""
    chance, truth = jar.chance, jar.truth
    options: CombinationOptions = jar.shape.options
    gain = truth.ratio * float(atomic_weight(options.second)) / float(atomic_weight(options.first))
    content = Content(
        mass=truth.element,
        volatile=-truth.element * gain,
        rate=chance.between(0.010, 0.014),
        reference=GLOWS_K,
        left="unreacted",
    )
    names = ("vessel", crucible.loaded, crucible.series)
    return (Fired(content, names, wet=chance.between(5e-6, 1.5e-5), chance=chance, cover="on"),)


def named(options: CombinationOptions, chance: Chance) -> CombinationOptions | None:
    """A product whose common charges balance; None where the table knows none."""
    rows = [
        (charge, -opposite)
        for charge in common_charges(options.first)
        for opposite in common_charges(options.second)
        if charge > 0 > opposite
    ]
    if not rows:
        return None
    charge, opposite = rows[chance.one_of(len(rows))]
    shared = gcd(charge, opposite)
    text = f"{options.first}{opposite // shared}{options.second}{charge // shared}"
    return options.model_copy(update={"product": parse_formula(text)})


REHEARSAL = Rehearsal(read_usual(__package__), parts, named=named)
