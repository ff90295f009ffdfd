"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Draw
from claykettle.core.methods.composition.bench import CompositionTruth
from claykettle.core.methods.composition.options import WATER, CompositionOptions
from claykettle.core.methods.composition.page import crucible
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    accepted = parse_formula("CoCl2.6H2O")
    ways = ("last", "mean", "lowest")
    for number, (form, collector, named) in enumerate(
        product(crucible.forms(), ("paper", "papers_mean", "dish"), (True, False))
    ):
        options = CompositionOptions(
            metal="Co",
            accepted=accepted if named else None,
            collector=collector,
            constant_value=ways[number % len(ways)],
        )
        yield Shape(options, *form)
        if named:
            yield Shape(options, *form, missed=frozenset({crucible.series}))


def sample(draw: Draw) -> CompositionTruth:
    """A truth as a class meets it, its figures drawn."""
    vessel, taken, water = draw(0.02, 0.04), draw(0.001, 0.003), draw(4, 8)
    salt, metal = parse_formula("CoCl2").molar_mass, parse_formula("Co").molar_mass
    whole = salt + water * WATER.molar_mass
    return CompositionTruth(vessel, taken, water * WATER.molar_mass / whole, metal / whole)
