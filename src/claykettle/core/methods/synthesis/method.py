"""Preparative synthesis: the reagent table, what limits, crude and pure yield, melting range, drip of an addition."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import (
    LIQUOR,
    WATER,
    Aftercare,
    Bench,
    Foresight,
    Headline,
    Judging,
    MethodOf,
    PlannedTable,
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
from claykettle.core.methods.synthesis.bench import (
    SynthesisTruth,
    beside,
    expect,
    first_is_weighed,
    foresee,
    larger,
    play,
    truth,
)
from claykettle.core.methods.synthesis.expected import expects
from claykettle.core.methods.synthesis.judge import judge, physical
from claykettle.core.methods.synthesis.options import SynthesisOptions, as_planned, planned
from claykettle.core.methods.synthesis.page import RESULTS, page
from claykettle.core.methods.synthesis.pictures import tabled
from claykettle.core.methods.synthesis.sample import sample, shapes
from claykettle.core.pictures.pictures import Pictures


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The product, what the equation leaves beside it, and what was there in excess or as a catalyst."""
    options: SynthesisOptions = trial.options
    pure, crude = trial.value("pure"), trial.value("crude")
    yield solid(options.made, crude if pure is None else pure)
    possible = trial.value("reaction_possible")
    yield from in_solution(options.equation, possible, (options.made,), LIQUOR)
    for n in range(1, len(options.taken) + 1):
        reagent, amount = options.reagent(n), trial.value(f"amount_{n}")
        volume = trial.value(f"reagent_{n}") if reagent.is_measured else None
        if amount is not None and reagent.role == "reactant" and possible is not None:
            amount -= possible * options.per_extent(n)
        if amount is None or amount > 1e-12:
            yield dissolved(reagent.formula, amount, LIQUOR, volume)
        elif volume is not None:
            # all of it reacted, and its water is still there
            yield dissolved(WATER, None, LIQUOR, volume)


def facts(options: SynthesisOptions) -> Mapping[str, str]:
    """Which reagents are measured by volume."""
    indices = range(1, len(options.taken) + 1)
    return {f"taken_{index}": "liquid" if options.reagent(index).is_measured else "solid" for index in indices}


METHOD = MethodOf[SynthesisOptions, SynthesisTruth](
    name="synthesis",
    title="Synthesis",
    aim=read_aim(__package__),
    page=page,
    options=SynthesisOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=lambda options: "pure_percent_yield",
        whole="all that can come",
        headline=lambda options: Headline("{} yield", "theoretical_yield", f"{{}} {options.made.text} can come"),
        judge=judge,
        physical=physical,
        matched=lambda options, values: 1.0,
        fallback="crude_percent_yield",
        pictures=lambda trial: Pictures(reacting=reacting(trial), table=tabled(trial)),
        expects=expects,
        beside=beside,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, {"first_is_weighed": first_is_weighed}),
        larger=larger,
    ),
    foresight=Foresight(
        foresee,
        ("excess",),
        label="first reagent",
        consumes=consumes,
        solutions=solutions,
        usual={"excess": "50 %"},
        table=PlannedTable(planned, ("theoretical_yield", "atom_economy"), as_planned),
    ),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
