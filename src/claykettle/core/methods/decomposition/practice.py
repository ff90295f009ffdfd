"""The matter of the simulated bench: a solid that gives off gas over a flame and leaves another."""

from __future__ import annotations

from claykettle.core.matter import Content, Fired, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.decomposition.page import crucible

DECOMPOSES_K = 1050.0


def parts(jar: Jar) -> tuple[Part, ...]:
    """One crucible, and in it what is roasted."""
    chance, truth = jar.chance, jar.truth
    content = Content(
        mass=truth.sample,
        volatile=truth.sample * (1 - truth.fraction),
        rate=chance.between(0.010, 0.014),
        reference=DECOMPOSES_K,
        left="undecomposed",
    )
    names = ("vessel", crucible.loaded, crucible.series)
    return (Fired(content, names, wet=chance.between(5e-6, 1.5e-5), chance=chance, cover="ajar"),)


REHEARSAL = Rehearsal(read_usual(__package__), parts)
