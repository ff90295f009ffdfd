"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.recrystallization.bench import RecrystallizationTruth
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    alone = frozenset({"crude", "solvent", "crystals"})
    points = [["0 degC", 13.3], ["60 degC", 110.0]]
    rows: Sequence[dict[str, object]] = (
        {"solute": "KNO3"},
        {"solute": "KAl(SO4)2.12H2O"},
        {"solute": "KNO3", "solubility": points},
    )
    for row, density, split in product(
        rows, (None, "0.998 g/mL"), (frozenset[str](), frozenset({"crude", "crystals"}))
    ):
        options = RecrystallizationOptions.model_validate(row | {"solvent_density": density})
        yield Shape(options, alone - ({"solvent"} if density else set()), split)


def sample(draw: Draw) -> RecrystallizationTruth:
    """A truth as a class meets it, its figures drawn."""
    return RecrystallizationTruth(
        draw(0.008, 0.012), draw(0.018, 0.025), draw(328, 333), draw(275, 285), draw(0.004, 0.006)
    )
