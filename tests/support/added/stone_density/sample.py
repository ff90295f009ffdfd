"""Every form of its page, and a truth as a class meets it."""

from collections.abc import Iterator

from claykettle.core.methods.stone_density.bench import StoneTruth
from claykettle.core.methods.stone_density.options import StoneOptions

from claykettle.core.method import Draw
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take."""
    yield Shape(StoneOptions())


def sample(draw: Draw) -> StoneTruth:
    """A truth as a class meets it, its figures drawn."""
    return StoneTruth(draw(0.01, 0.05), draw(2e-5, 5e-5), draw(4e-6, 2e-5))
