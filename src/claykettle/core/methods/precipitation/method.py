"""Precipitation and displacement: what runs out, how much can come, how much came, what is left over."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import (
    WATER,
    Aftercare,
    Bench,
    Foresight,
    Form,
    Headline,
    Judging,
    MethodOf,
    Remain,
    Trial,
    dissolved,
    in_solution,
    practised_in,
    read_aim,
    read_causes,
    solid,
)
from claykettle.core.methods.parts.by_equation import consumes, reacting, solutions
from claykettle.core.methods.precipitation.bench import (
    WORDS,
    PrecipitationTruth,
    beside,
    expect,
    foresee,
    larger,
    play,
    truth,
)
from claykettle.core.methods.precipitation.expected import expects
from claykettle.core.methods.precipitation.judge import judge, physical, seen
from claykettle.core.methods.precipitation.options import PrecipitationOptions, Reagent
from claykettle.core.methods.precipitation.page import RESULTS, page
from claykettle.core.methods.precipitation.sample import sample, shapes
from claykettle.core.pictures.pictures import Pictures


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The solid, what the equation leaves in the filtrate, and what is there in excess."""
    options: PrecipitationOptions = trial.options
    yield solid(options.made, trial.value("actual_yield"))
    yield from in_solution(options.equation, trial.value("reaction_possible"), (options.made,))
    for index in range(1, len(options.taken) + 1):
        formula, mol = options.reagent(index).formula, trial.value(f"excess_{index}")
        if mol != 0:
            form: Form = "solid" if options.reagent(index).is_metal else "dissolved"
            yield Remain(formula, formula.text, form, mol)
        if options.reagent(index).concentration is not None:
            yield dissolved(WATER, None, volume=trial.value(f"reagent_{index}"))


def facts(options: PrecipitationOptions) -> Mapping[str, str]:
    """What each reagent is, whether a metal drives another one out, and whether a metal is collected."""
    rows = {f"taken_{index}": _kind(options.reagent(index)) for index in range(1, len(options.taken) + 1)}
    return {
        **rows,
        "displaces": "yes" if "metal" in rows.values() else "no",
        "collects": "metal" if len(options.made.atoms) == 1 else "solid",
    }


def _kind(reagent: Reagent) -> str:
    return "metal" if reagent.is_metal else "solid" if reagent.concentration is None else "solution"


METHOD = MethodOf[PrecipitationOptions, PrecipitationTruth](
    name="precipitation",
    title="Precipitation and displacement",
    aim=read_aim(__package__),
    page=page,
    options=PrecipitationOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=lambda options: "percent_yield",
        whole="all that can come",
        headline=lambda options: Headline("{} yield", "actual_yield", f"{{}} {options.made.text}"),
        judge=judge,
        physical=physical,
        matched=lambda options, values: 1.0,
        seen=seen,
        pictures=lambda trial: Pictures(reacting=reacting(trial)),
        expects=expects,
        beside=beside,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, WORDS),
        larger=larger,
    ),
    foresight=Foresight(
        foresee,
        ("vessel_volume", "concentration", "excess"),
        label="first reagent",
        consumes=consumes,
        solutions=solutions,
        usual={"vessel_volume": "250 mL", "concentration": "0.25 mol/L", "excess": "20 %"},
    ),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
