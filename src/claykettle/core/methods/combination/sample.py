"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product as every

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Draw
from claykettle.core.methods.combination.bench import CombinationTruth
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import crucible
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    element, partner = parse_formula("Sn"), parse_formula("S")
    two = (parse_formula("SnS"), parse_formula("SnS2"))
    for net, with_product, candidates, level, value in every(
        crucible.forms(), (True, False), ((), two), ("formula", "percent"), ("last", "mean", "lowest")
    ):
        options = CombinationOptions(
            element=element,
            partner=partner,
            product=two[0] if with_product else None,
            candidates=candidates,
            level=level,
            constant_value=value,
        )
        yield Shape(options, *net)


def sample(draw: Draw) -> CombinationTruth:
    """A truth as a class meets it, its figures drawn."""
    return CombinationTruth(draw(0.02, 0.04), draw(0.0005, 0.002), draw(0.8, 2.2))
