"""Filtering as a run of its own: paper, rinses, drying series, and what share of a mixture stayed behind."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import (
    Aftercare,
    Bench,
    Headline,
    Judging,
    MethodOf,
    Remain,
    Trial,
    practised_in,
    read_aim,
    read_causes,
    solid,
)
from claykettle.core.methods.filtration.bench import FiltrationTruth, expect, play, truth
from claykettle.core.methods.filtration.expected import expects
from claykettle.core.methods.filtration.judge import judge, physical, seen
from claykettle.core.methods.filtration.options import FiltrationOptions
from claykettle.core.methods.filtration.page import RESULTS, page
from claykettle.core.methods.filtration.sample import sample, shapes
from claykettle.core.methods.parts import collecting


def facts(options: FiltrationOptions) -> Mapping[str, str]:
    """Whether a metal is collected."""
    return {"collects": "metal" if options.solid is not None and len(options.solid.atoms) == 1 else "solid"}


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The solid, and a filtrate of which the run knows nothing."""
    options: FiltrationOptions = trial.options
    mass = trial.value("solid_mass")
    if options.solid is not None:
        yield solid(options.solid, mass)
    else:
        yield Remain(None, "the solid", "solid")
    yield Remain(None, "what was dissolved", "dissolved")


METHOD = MethodOf[FiltrationOptions, FiltrationTruth](
    name="filtration",
    title="Filtering, washing, drying",
    aim=read_aim(__package__),
    page=page,
    options=FiltrationOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        answers=("expected",),
        key=lambda options: "solid_mass",
        headline=lambda options: Headline("{} of solid", "solid_percent", "{} of the mixture"),
        judge=judge,
        accepted=lambda options: None if options.expected is None else options.expected.si,
        physical=physical,
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
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
