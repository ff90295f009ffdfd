"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Draw
from claykettle.core.methods.hydrate.bench import HydrateTruth
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.methods.hydrate.page import crucible
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    salt, accepted = parse_formula("ZnSO4"), parse_formula("ZnSO4.7H2O")
    for net, with_salt, has_accepted, level, value in product(
        crucible.forms(), (True, False), (True, False), ("formula", "percent"), ("last", "mean", "lowest")
    ):
        options = HydrateOptions(
            salt=salt if with_salt else None,
            accepted=accepted if has_accepted else None,
            level=level,
            constant_value=value,
        )
        yield Shape(options, *net)


def sample(draw: Draw) -> HydrateTruth:
    """A truth as a class meets it, its figures drawn."""
    return HydrateTruth(draw(0.02, 0.04), draw(0.001, 0.003), draw(0.3, 1.2))
