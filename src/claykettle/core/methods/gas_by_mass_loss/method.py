"""A gas set free in an open vessel, found by its loss of mass; backwards to the active substance and the claim."""

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
)
from claykettle.core.methods.gas_by_mass_loss.bench import (
    MassLossTruth,
    claimed_result,
    expect,
    foresee,
    held,
    is_counted,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.gas_by_mass_loss.expected import expects
from claykettle.core.methods.gas_by_mass_loss.judge import (
    accepted_result,
    accepted_word,
    calibrates,
    consumes,
    headline,
    judge,
    judge_trials,
    physical,
)
from claykettle.core.methods.gas_by_mass_loss.options import MassLossOptions
from claykettle.core.methods.gas_by_mass_loss.page import RESULTS, page
from claykettle.core.methods.gas_by_mass_loss.sample import sample, shapes
from claykettle.core.methods.parts.acid import remains_of
from claykettle.core.methods.parts.gas_facts import gas_facts


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """What the active substance leaves in its acid, by the equation found, else the first."""
    options: MassLossOptions = trial.options
    equation = next((row for row in options.equations if row.text == found), options.equations[0])
    mass = trial.value("active_mass")
    mol = None if mass is None else mass / options.active.molar_mass
    yield from remains_of(equation, options.active, options.acid, mol)


def facts(options: MassLossOptions) -> Mapping[str, str]:
    """The gas that leaves."""
    return gas_facts([options.gas.text])


METHOD = MethodOf[MassLossOptions, MassLossTruth](
    name="gas_by_mass_loss",
    title="Gas by loss of mass",
    aim=read_aim(__package__),
    page=page,
    options=MassLossOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=lambda options: "percent_purity",
        whole="all of the sample",
        headline=headline,
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        claimed=claimed_result,
        physical=physical,
        matched=matched_result,
        over_trials=judge_trials,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, {"is_counted": is_counted, "held": held}),
    ),
    foresight=Foresight(
        foresee,
        ("vessel_mass", "vessel_volume", "concentration", "excess"),
        consumes=consumes,
        usual={"vessel_mass": "110 g", "vessel_volume": "250 mL", "concentration": "3 mol/L", "excess": "200 %"},
    ),
    aftercare=Aftercare(
        remains=remains,
        calibrates=calibrates,
    ),
    rehearsal=practised_in(__package__),
)
