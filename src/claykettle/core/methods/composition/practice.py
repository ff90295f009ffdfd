"""The matter of the simulated bench: a halide that is dried, and its metal that is displaced, filtered and dried."""

from __future__ import annotations

from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.matter import Chance, Collected, Content, Fired, Part, Reacting
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.composition.options import CompositionOptions
from claykettle.core.methods.composition.page import crucible

DRY_AT_K = 560.0


def parts(jar: Jar) -> tuple[Part, ...]:
    """The vessel, the displacement in its beaker, and the metal on its paper."""
    chance, truth = jar.chance, jar.truth
    content = Content(
        mass=truth.sample,
        volatile=truth.sample * truth.water,
        rate=chance.between(0.021, 0.027),
        reference=DRY_AT_K,
        left="water_left",
    )
    names = ("vessel", crucible.loaded, crucible.series)
    empty = "dish" if jar.shape.options.collector == "dish" else "paper"
    return (
        Fired(content, names, wet=chance.between(5e-6, 1.5e-5), chance=chance),
        Reacting("metal_left"),
        Collected(truth.sample * truth.metal, chance, empty),
    )


def named(options: CompositionOptions, chance: Chance) -> CompositionOptions | None:
    """A listed hydrate of the metal with this halogen; None where none is."""
    wanted = {options.metal, options.halogen}
    rows = [row for row in all_hydrates() if set(row.anhydrous.counts) == wanted and row.water >= 2]
    return options.model_copy(update={"accepted": rows[chance.one_of(len(rows))]}) if rows else None


REHEARSAL = Rehearsal(read_usual(__package__), parts, named=named)
