"""The matter of the simulated bench: a preparation that takes its time, and crude and pure product that dry."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.matter import Chance, Drying, Part, Reacting
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.parts.by_equation import portions, theoretical_kg
from claykettle.core.methods.synthesis.bench import SynthesisTruth
from claykettle.core.methods.synthesis.options import SynthesisOptions

WETNESS = 0.15
"""kg of liquid on each kg of crystals that were drawn dry."""


SOLUTION, EXCESS = (2.0e-5, 3.0e-5), 0.3
"""m³ of a solution that is taken first, and how much more of the others (common practice)."""


def class_of(truth: SynthesisTruth, options: SynthesisOptions, chance: Chance) -> SynthesisTruth:
    """What a class gets out: seven to nine tenths of what is foreseen, and most of that through a purification."""
    crude = chance.between(0.85, 1.1) * truth.crude
    return replace(truth, crude=crude, pure=chance.between(0.72, 0.86) * crude)


def drawn(options: SynthesisOptions, chance: Chance) -> SynthesisTruth:
    """What comes where a liquid or a solution is taken first, and a plan that sizes what is weighed says nothing."""
    rows = portions(options, chance.between(*SOLUTION), EXCESS)
    crude = 0.75 * theoretical_kg(options, rows)
    return SynthesisTruth(rows, crude, 0.8 * crude)


def parts(jar: Jar) -> tuple[Part, ...]:
    """The reaction, and the products on their glasses."""
    wet = {"crude": WETNESS * jar.truth.crude, "pure": WETNESS * jar.truth.pure}
    return (Reacting("incomplete"), Drying(wet, {"crude": "crude", "pure": "pure"}))


REHEARSAL = Rehearsal(read_usual(__package__), parts, class_of, drawn)
