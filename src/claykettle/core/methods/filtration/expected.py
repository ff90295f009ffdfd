"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectations, Trial
from claykettle.core.methods.filtration.page import collecting_solid
from claykettle.core.quantity import grams

WET = 3.0
"""A solid that is still wet weighs up to so many times what it does dry (common practice)."""


def expects(trial: Trial) -> Expectations:
    """The solid by what should come, or by what the mixture was."""
    for line, said in (("expected_mass", "should come"), ("mixture", "of the mixture went in")):
        most = trial.value(line)
        if most is not None:
            about = most if line == "expected_mass" else None
            return collecting_solid.expected(trial, about, WET * most, f"{grams(most)} {said}")
    return {}
