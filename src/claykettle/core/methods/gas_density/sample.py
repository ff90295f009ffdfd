"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.gas_density.bench import GasDensityTruth
from claykettle.core.methods.gas_density.options import GasDensityOptions
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    places: Sequence[dict[str, object]] = ({}, {"barometer": "sea_level", "elevation": "520 m"})
    for gas, place, taken, value in product((None, "Ar"), places, ((), ("humidity",)), ("last", "mean", "lowest")):
        options = GasDensityOptions.model_validate({"gas": gas, "constant_value": value} | place)
        yield Shape(options, taken=frozenset(taken))


def sample(draw: Draw) -> GasDensityTruth:
    """A truth as a class meets it, its figures drawn."""
    return GasDensityTruth(
        draw(0.06, 0.12), draw(2e-4, 4e-4), draw(0.028, 0.06), draw(290, 300), draw(8.4e4, 9.6e4), draw(0.2, 0.9)
    )
