"""The matter of the simulated bench: a saturated solution that cools, and the crystals that dry."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.matter import Cooling, Drying, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.recrystallization.bench import RecrystallizationTruth, kept
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions

WETNESS = 0.2
"""kg of liquor on each kg of crystals that were drawn dry."""


def parts(jar: Jar) -> tuple[Part, ...]:
    """The solution in its bath, and the crystals on their glass."""
    options: RecrystallizationOptions = jar.shape.options
    coldest, hottest = options.curve.temperatures[0], options.curve.temperatures[-1]

    def at(truth: RecrystallizationTruth, temperature: float) -> RecrystallizationTruth:
        cold = min(max(temperature, coldest), hottest)
        crystals = truth.crude - kept(options, truth, truth.solvent, cold)
        return replace(truth, cold=cold, crystals=max(0.0, crystals))

    wet = {"crystals": WETNESS * jar.truth.crystals}
    return (Cooling(jar.truth.hot, at, "cold_temperature"), Drying(wet, {"crystals": "crystals"}))


REHEARSAL = Rehearsal(read_usual(__package__), parts)
