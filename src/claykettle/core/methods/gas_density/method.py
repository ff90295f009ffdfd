"""A gas weighed in a flask: its molar mass from its density, the air that it displaced put back."""

from __future__ import annotations

from claykettle.core.method import Bench, Foresight, Judging, MethodOf, read_causes
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

METHOD = MethodOf[GasDensityOptions, GasDensityTruth](
    name="gas_density",
    title="Gas weighed in a flask",
    page=page,
    options=GasDensityOptions,
    results=RESULTS,
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
)
