"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.crystal_growth.bench import CrystalGrowthTruth
from claykettle.core.methods.crystal_growth.options import INDICES, CrystalGrowthOptions
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    rows = (["A: slow", "B: fast"], ["slow: board", "ice: in ice", "tap: tap water", "oven: switched off, overnight"])
    timed = frozenset(f"cooling_time_{number}" for number in INDICES)
    for portions, taken in product(rows, (frozenset[str](), timed)):
        options = CrystalGrowthOptions.model_validate({"solute": "KAl(SO4)2.12H2O", "portions": portions})
        here = frozenset(f"cooling_time_{number}" for number in options.numbers)
        yield Shape(options, taken=taken & here)


def sample(draw: Draw) -> CrystalGrowthTruth:
    """A truth as a class meets it, its figures drawn."""
    return CrystalGrowthTruth(draw(2e-5, 5e-5), draw(5e-3, 9e-3), draw(2e-3, 4e-3))
