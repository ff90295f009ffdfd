"""Recrystallization: how much solvent, how much can come back, how much came."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import (
    LIQUOR,
    WATER,
    Aftercare,
    Bench,
    Foresight,
    Judging,
    MethodOf,
    Remain,
    Trial,
    dissolved,
    practised_in,
    read_aim,
    read_causes,
    solid,
)
from claykettle.core.methods.recrystallization.bench import (
    RecrystallizationTruth,
    expect,
    foresee,
    larger,
    play,
    possible,
    truth,
)
from claykettle.core.methods.recrystallization.expected import expects
from claykettle.core.methods.recrystallization.judge import headline, judge
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.methods.recrystallization.page import RESULTS, page
from claykettle.core.methods.recrystallization.pictures import plotted
from claykettle.core.methods.recrystallization.sample import sample, shapes
from claykettle.core.pictures.pictures import Pictures

WATER_DENSITY = 1000.0
"""kg/m³, near enough for a bottle's fill."""


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The crystals, and what the mother liquor keeps."""
    solute = trial.options.solute
    crude, crystals = trial.value("crude"), trial.value("crystals")
    yield solid(solute, crystals)
    kept = None if crude is None or crystals is None else max(0.0, crude - crystals)
    yield dissolved(solute, None if kept is None else kept / solute.molar_mass, LIQUOR)
    options, mass = trial.options, trial.value("solvent_mass")
    density = options.solvent_density.si if options.solvent_density is not None else WATER_DENSITY
    volume = None if mass is None else mass / density
    if options.solvent == "H2O":
        yield dissolved(WATER, None, LIQUOR, volume)
    else:
        yield Remain(None, options.solvent, "dissolved", None, LIQUOR, volume)


METHOD = MethodOf[RecrystallizationOptions, RecrystallizationTruth](
    name="recrystallization",
    title="Recrystallization",
    aim=read_aim(__package__),
    page=page,
    options=RecrystallizationOptions,
    results=RESULTS,
    judging=Judging(
        key=lambda options: "recovery_percent",
        whole="all of the crude",
        headline=headline,
        judge=judge,
        matched=lambda options, values: possible(values),
        pictures=lambda trial: Pictures(curve=plotted(trial)),
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__),
        larger=larger,
    ),
    foresight=Foresight(
        foresee, ("temperature", "excess"), label="crude", usual={"excess": "10 %", "temperature": "5 degC"}
    ),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
