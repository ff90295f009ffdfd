"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.methods.precipitation.options import PrecipitationOptions
from claykettle.core.methods.precipitation.page import collecting_solid
from claykettle.core.quantity import grams

WET = 3.0
"""A solid that is still wet weighs up to so many times what it does dry (common practice)."""


def expects(trial: Trial) -> Expectations:
    """The solid by the theoretical yield; no leftover above what went in."""
    options: PrecipitationOptions = trial.options
    found: dict[str, Expectation] = {}
    theory = trial.value("theoretical_yield")
    if theory is not None:
        because = f"{grams(theory)} of {options.made.text} can come"
        found |= collecting_solid.expected(trial, theory, WET * theory, because)
    for number in options.held:
        taken = trial.value(f"reagent_{number}")
        if taken is not None and options.reagent(number).is_metal:
            because = f"{grams(taken)} of {options.reagent(number).formula.text} went in"
            found[f"leftover_{number}"] = Expectation(0.0, taken, because)
    return found
