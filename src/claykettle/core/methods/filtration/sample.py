"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.filtration.bench import HELD, FiltrationTruth
from claykettle.core.methods.filtration.options import FiltrationOptions
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    forms = product(("paper", "papers_mean", "dish"), (None, "1.00 g"), ("", "net", "split"))
    for collector, expected, mixed in forms:
        options = FiltrationOptions.model_validate({"collector": collector, "expected": expected})
        taken = frozenset({"mixture"} if mixed else ())
        yield Shape(options, taken, taken if mixed == "split" else frozenset(), taken)
        if collector == "paper":
            yield Shape(options, taken, frozenset(), taken, frozenset({"paper"}))


def sample(draw: Draw) -> FiltrationTruth:
    """A truth as a class meets it, its figures drawn."""
    dry = draw(0.8e-3, 1.2e-3)
    return FiltrationTruth(HELD * dry, dry)
