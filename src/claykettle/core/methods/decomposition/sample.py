"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product as every

from claykettle.core.method import Draw
from claykettle.core.methods.decomposition.bench import DecompositionTruth
from claykettle.core.methods.decomposition.options import DecompositionOptions
from claykettle.core.methods.decomposition.page import crucible
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    soda = (
        "2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)",
        "NaHCO3(s) -> NaOH(s) + CO2(g)",
        "2 NaHCO3(s) -> Na2O(s) + H2O(g) + 2 CO2(g)",
    )
    for net, equations, value in every(crucible.forms(), (soda, soda[:1]), ("last", "mean", "lowest")):
        yield Shape(DecompositionOptions.model_validate({"equations": equations, "constant_value": value}), *net)


def sample(draw: Draw) -> DecompositionTruth:
    """A truth as a class meets it, its figures drawn."""
    return DecompositionTruth(draw(0.02, 0.04), draw(0.001, 0.003), draw(0.4, 0.7))
