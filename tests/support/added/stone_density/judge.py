"""What is said of a trial beyond its numbers."""

from collections.abc import Iterator

from claykettle.core.methods.stone_density.options import StoneOptions

from claykettle.core.method import Headline, Judgement, Trial
from claykettle.core.verdict import Verdict

LIGHTEST = 1000.0
"""A stone that is lighter than water (kg/m³) floats: it was not under."""


def headline(options: StoneOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("{}")


def key(options: StoneOptions) -> str:
    """The result that trials are compared by."""
    return "density"


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    return Judgement(tuple(_floats(trial)))


def _floats(trial: Trial) -> Iterator[Verdict]:
    found = trial.value("density")
    if found is not None and found < LIGHTEST:
        yield Verdict("floats", "watch", "density", "It is lighter than water: was all of it under?")
