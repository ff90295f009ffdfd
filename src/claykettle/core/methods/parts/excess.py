"""A yield over 100 % needs a named suspect; within two standard uncertainties it is none."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Trial
from claykettle.core.quantity import with_uncertainty
from claykettle.core.verdict import Verdict


def judge_yield(trial: Trial, result: str, suspects: str) -> Iterator[Verdict]:
    """`yield-over-100` where the yield lies above 100 % by more than two standard uncertainties."""
    value, spread = trial.value(result), trial.uncertainty(result)
    if value is None or value <= 1 + 2 * spread:
        return
    shown = with_uncertainty(100 * value, 100 * spread, "%")
    yield Verdict("yield-over-100", "watch", result, f"A yield of {shown} lies over 100 %: {suspects}.")
