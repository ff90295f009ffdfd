"""The matter of the simulated bench: equal portions of one solution, one of which cools slowly."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.matter import Chance, Growing, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.crystal_growth.bench import CrystalGrowthTruth
from claykettle.core.methods.crystal_growth.options import CrystalGrowthOptions

HOT_K = 338.0


def drawn(options: CrystalGrowthOptions, chance: Chance) -> CrystalGrowthTruth:
    """Two to four times as long where it cooled slowly (common practice)."""
    others = chance.between(2.0e-3, 3.5e-3)
    return CrystalGrowthTruth(chance.between(2.4e-5, 4.0e-5), chance.between(2.0, 3.2) * others, others)


def grown(truth: CrystalGrowthTruth, length: float) -> CrystalGrowthTruth:
    """The same portions, the first with crystals of this mean length."""
    return replace(truth, first=length)


def parts(jar: Jar) -> tuple[Part, ...]:
    """The portion that is to cool slowly; the other stands in ice from the start and is done long before."""
    slow, fast = jar.truth.first, jar.truth.others
    longest = {"board": slow, "insulated": 1.2 * slow, "water": (slow + fast) / 2, "ice": fast}
    return (Growing(HOT_K, longest, grown),)


REHEARSAL = Rehearsal(read_usual(__package__), parts, drawn=drawn)
