"""The matter of the simulated bench: a solid in its liquid, filtered, washed and dried."""

from __future__ import annotations

from claykettle.core.matter import Chance, Collected, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.filtration.bench import FiltrationTruth
from claykettle.core.methods.filtration.options import FiltrationOptions


def drawn(options: FiltrationOptions, chance: Chance) -> FiltrationTruth:
    """As much solid as should come, in two to three times as much mixture."""
    solid = options.expected.si if options.expected is not None else chance.between(0.8e-3, 1.4e-3)
    return FiltrationTruth(chance.between(2.2, 3.2) * solid, solid)


def parts(jar: Jar) -> tuple[Part, ...]:
    """The solid on its paper or in its dish."""
    empty = "dish" if jar.shape.options.collector == "dish" else "paper"
    return (Collected(jar.truth.solid, jar.chance, empty),)


REHEARSAL = Rehearsal(read_usual(__package__), parts, drawn=drawn)
