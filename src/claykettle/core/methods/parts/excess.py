"""A yield over 100 % needs a named suspect; within two standard uncertainties it is none."""

from __future__ import annotations

import math
from collections.abc import Iterator

from claykettle.core.method import Bound, Trial
from claykettle.core.quantity import grams, with_uncertainty
from claykettle.core.verdict import Verdict

TWICE = 2.0
GOOD = 0.5
"""More than half of what can come, pure and dry, counts as a good yield (common practice)."""
DUST = 1e-9
SHORT = 0.05
"""So much less than can come a class is content with, where all of it should have come (common practice)."""


def yield_bound(result: str) -> Bound:
    """Twice what can come is no yield."""
    because = "so much can never come: it is dripping wet, its paper or dish was not taken off, or a line is wrong."
    return Bound(result, -math.inf, TWICE, because)


def judge_good(trial: Trial, result: str, what: str) -> Iterator[Verdict]:
    """`yield-good` for a pure, dry product of which more than half came; never beside a yield over 100 %."""
    value, spread = trial.value(result), trial.uncertainty(result)
    if value is None or not GOOD <= value <= 1 + 2 * spread:
        return
    shown = with_uncertainty(100 * value, 100 * spread, "%")
    text = f"{shown} of what can come as {what}: more than half counts as a good yield."
    yield Verdict("yield-good", "good", result, text)


def judge_short(trial: Trial, result: str, theory: str, what: str, class_reaches: float | None) -> Iterator[Verdict]:
    """Of a solid that should have come whole: `yield-good` within what a class reaches, else `yield-short`."""
    value, spread, possible = trial.value(result), trial.uncertainty(result), trial.value(theory)
    if value is None or possible is None or value > 1 + 2 * spread:
        return
    shown, missing = with_uncertainty(100 * value, 100 * spread, "%"), grams((1 - value) * possible)
    reach = SHORT if class_reaches is None else class_reaches
    if 1 - value <= 2 * spread:
        yield Verdict("yield-good", "good", result, f"{shown} of what can come: all of it, as far as can be told.")
    elif 1 - value <= reach + DUST:
        text = f"{shown} of what can come: a good yield. {missing} of {what} did not reach the balance."
        yield Verdict("yield-good", "good", result, text)
    else:
        text = (
            f"{shown} of what can come: {missing} of {what} did not reach the balance. Fine solid through the paper, "
            "left in the beaker or on the rod, or the reaction had not ended."
        )
        yield Verdict("yield-short", "watch", result, text)


def judge_yield(trial: Trial, result: str, suspects: str) -> Iterator[Verdict]:
    """`yield-over-100` where the yield lies above 100 % by more than two standard uncertainties."""
    value, spread = trial.value(result), trial.uncertainty(result)
    if value is None or value <= 1 + 2 * spread:
        return
    shown = with_uncertainty(100 * value, 100 * spread, "%")
    yield Verdict("yield-over-100", "watch", result, f"A yield of {shown} lies over 100 %: {suspects}.")
