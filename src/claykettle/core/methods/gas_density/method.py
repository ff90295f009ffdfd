"""A gas weighed in a flask: its molar mass from its density, the air that it displaced put back."""

from __future__ import annotations

from collections.abc import Mapping

from claykettle.core.method import Bench, Foresight, Judging, MethodOf, practised_in, read_aim, read_causes
from claykettle.core.methods.gas_density.bench import (
    GasDensityTruth,
    accepted_result,
    accepted_word,
    expect,
    foresee,
    matched_result,
    nothing,
    play,
    truth,
)
from claykettle.core.methods.gas_density.expected import expects
from claykettle.core.methods.gas_density.judge import headline, judge, physical
from claykettle.core.methods.gas_density.options import GasDensityOptions
from claykettle.core.methods.gas_density.page import RESULTS, page
from claykettle.core.methods.gas_density.sample import sample, shapes
from claykettle.core.methods.parts.gas_facts import gas_facts

AIR = 0.028965
"""kg/mol, of dry air (CIPM-2007)."""


def facts(options: GasDensityOptions) -> Mapping[str, str]:
    """Whether the gas fills from below or from above, and what it does; heavier than air where it is the question."""
    if options.gas is None:
        return {"gas_kind": "harmless", "weight": "heavier"}
    return {**gas_facts([options.gas.text]), "weight": "lighter" if options.gas.molar_mass < AIR else "heavier"}


METHOD = MethodOf[GasDensityOptions, GasDensityTruth](
    name="gas_density",
    title="Gas weighed in a flask",
    aim=read_aim(__package__),
    page=page,
    options=GasDensityOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=lambda options: "molar_mass",
        headline=headline,
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        physical=physical,
        matched=matched_result,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, {"nothing": nothing}),
    ),
    foresight=Foresight(
        foresee,
        ("temperature", "barometer", "humidity", "vessel_mass"),
        label="volume of the flask",
        unit="mL",
        usual={"vessel_mass": "100 g"},
    ),
    rehearsal=practised_in(__package__),
)
