"""Thermal decomposition: heat, weigh what stays, and see which equation it speaks for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import (
    Aftercare,
    Bench,
    Foresight,
    Judging,
    MethodOf,
    Remain,
    Trial,
    practised_in,
    read_aim,
    read_causes,
    solid,
)
from claykettle.core.methods.decomposition.bench import (
    DecompositionTruth,
    accepted_result,
    expect,
    foresee,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.decomposition.expected import expects
from claykettle.core.methods.decomposition.judge import grouped, headline, judge
from claykettle.core.methods.decomposition.options import DecompositionOptions
from claykettle.core.methods.decomposition.page import RESULTS, crucible, page
from claykettle.core.methods.decomposition.sample import sample, shapes
from claykettle.core.methods.parts.crucible import USUAL, lidded
from claykettle.core.methods.parts.gas_facts import gas_facts


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The residue: the solids of the equation found, else of the first."""
    options: DecompositionOptions = trial.options
    equation = next((row for row in options.equations if row.text == found), options.equations[0])
    sample, mass = equation.reactants[0], trial.value("sample_mass")
    extent = None if mass is None else mass / sample.formula.molar_mass / float(sample.coefficient)
    for row in equation.products:
        if row.state == "s":
            kg = None if extent is None else extent * float(row.coefficient) * row.formula.molar_mass
            yield solid(row.formula, kg)


def facts(options: DecompositionOptions) -> Mapping[str, str]:
    """What goes off."""
    return gas_facts(options.gases)


METHOD = MethodOf[DecompositionOptions, DecompositionTruth](
    name="decomposition",
    title="Thermal decomposition",
    aim=read_aim(__package__),
    page=page,
    options=DecompositionOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=lambda options: "residue_percent",
        headline=headline,
        judge=judge,
        accepted=accepted_result,
        matched=matched_result,
        grouped=grouped,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, names=crucible.names),
    ),
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    aftercare=Aftercare(
        remains=remains,
    ),
    lidded=lidded,
    rehearsal=practised_in(__package__),
)
