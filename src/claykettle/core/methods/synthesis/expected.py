"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.quantity import grams

WET = 1.5
"""A crude that is not quite dry may weigh half as much again (common practice)."""


def expects(trial: Trial) -> Expectations:
    """The crude by the theoretical yield, the pure by the crude."""
    options: SynthesisOptions = trial.options
    found: dict[str, Expectation] = {}
    theory, crude = trial.value("theoretical_yield"), trial.value("crude")
    if theory is not None:
        because = f"{grams(theory)} of {options.made.text} can come"
        found["crude"] = found["pure"] = Expectation(0.0, WET * theory, because)
    if crude is not None:
        found["pure"] = Expectation(0.0, crude, f"{grams(crude)} of crude was there")
    return found
