"""The matter of the simulated bench: a salt that gives up its water over a flame."""

from __future__ import annotations

from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.matter import Chance, Content, Fired, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.hydrate.expected import richest
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.methods.hydrate.page import crucible

DRY_AT_K = 560.0
SCORCHES_K = 900.0
"""Where a sulfate begins to lose more than its water (common practice: a full flame browns an edge)."""


def parts(jar: Jar) -> tuple[Part, ...]:
    """One vessel, and in it the crystals."""
    chance = jar.chance
    water = jar.truth.sample * jar.truth.water_per_salt / (1 + jar.truth.water_per_salt)
    content = Content(
        mass=jar.truth.sample,
        volatile=water,
        rate=chance.between(0.021, 0.027),
        reference=DRY_AT_K,
        left="water_left",
        burnt="salt_decomposed",
        scorches=SCORCHES_K,
    )
    names = ("vessel", crucible.loaded, crucible.series)
    return (Fired(content, names, wet=chance.between(5e-6, 1.5e-5), chance=chance),)


def named(options: HydrateOptions, chance: Chance) -> HydrateOptions | None:
    """One of the hydrates that it may be: the salt's usual one, or any of the list."""
    rows = [row for row in richest(options) or all_hydrates() if row.water >= 1]
    if not rows:
        return None
    found = rows[-1] if options.salt is not None else rows[chance.one_of(len(rows))]
    return options.model_copy(update={"accepted": found})


REHEARSAL = Rehearsal(read_usual(__package__), parts, named=named)
