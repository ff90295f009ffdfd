"""Composition of a hydrated metal halide: water by heating, metal by displacement, halide as what is left."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from claykettle.core.chemistry.equation import reaction_of
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import (
    Aftercare,
    Bench,
    Foresight,
    Headline,
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
from claykettle.core.methods.composition.bench import (
    CompositionTruth,
    accepted_result,
    accepted_word,
    beside,
    expect,
    foresee,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.composition.expected import expects
from claykettle.core.methods.composition.judge import judge, physical, seen
from claykettle.core.methods.composition.options import HALIDES, WATER, CompositionOptions
from claykettle.core.methods.composition.page import RESULTS, page
from claykettle.core.methods.composition.sample import sample, shapes
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.crucible import USUAL


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The metal that was driven out, and the filtrate with the halide of the other metal."""
    options: CompositionOptions = trial.options
    yield solid(options.metal_formula, trial.value("metal_mass"))
    halide, halogen = options.halide_left, trial.value("halogen_amount")
    if halide is None:
        yield Remain(None, f"{HALIDES[options.halogen]} of the other metal", "dissolved")
        return
    each = float(halide.counts[options.halogen])
    yield dissolved(halide, None if halogen is None else halogen / each)
    yield Remain(parse_formula(options.displaced_by or ""), options.displaced_by or "", "solid")


def parts(options: CompositionOptions) -> Sequence[tuple[str, str, str]]:
    """Metal, halogen and water."""
    return (
        (options.metal_formula.text, "metal_mass", "metal_molar_mass"),
        (options.halogen_formula.text, "halogen_mass", "halogen_molar_mass"),
        (WATER.text, "water_mass", "water_molar_mass"),
    )


def _dried(found: str) -> str:
    return reaction_of(f"{found} -> {parse_formula(found).anhydrous.text} + H2O")


METHOD = MethodOf[CompositionOptions, CompositionTruth](
    name="composition",
    title="Composition of a hydrated halide",
    aim=read_aim(__package__),
    page=page,
    options=CompositionOptions,
    results=RESULTS,
    facts=lambda options: {"collects": "metal"},
    judging=Judging(
        parts=parts,
        reaction=lambda options, found: _dried(found) if found is not None else "",
        key=lambda options: "water_ratio",
        headline=lambda options: Headline(
            f"{{}} H₂O per {options.metal}", "halogen_ratio", f"{{}} {options.halogen} per {options.metal}"
        ),
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        beside=beside,
        physical=physical,
        matched=matched_result,
        seen=seen,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, collecting.WORDS),
    ),
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
