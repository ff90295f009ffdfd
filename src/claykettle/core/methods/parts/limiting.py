"""Which reagent runs out, and whether the readings can say so."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import LIMITING, Trial
from claykettle.core.quantity import nominal, standard_uncertainty
from claykettle.core.verdict import Verdict

CLOSE = 2.0
"""Within so many standard uncertainties of each other two reagents are too near to call."""
CHOICE = LIMITING
"""The line in which both methods choose the smallest of their `extent_N`, amount over coefficient."""


def limiting_number(trial: Trial) -> int | None:
    """The number of the reagent that runs out; None while one of them is not known."""
    picked = trial.values.picks.get(CHOICE)
    return None if picked is None else int(picked)


def judge_limiting(trial: Trial, names: Mapping[int, str]) -> Iterator[Verdict]:
    """`limiting-undecided` where two reagents (formulas by number) are so near that the readings cannot tell."""
    rows = sorted((value, n) for n in names if (value := trial.value(f"extent_{n}")) is not None)
    if limiting_number(trial) is None or len(rows) == 1:
        return
    (_, first), (_, second) = rows[:2]
    gap = trial.values[f"extent_{second}"] - trial.values[f"extent_{first}"]
    if nominal(gap) <= CLOSE * standard_uncertainty(gap):
        both = f"{names[first]} and {names[second]}"
        text = f"{both} are so nearly as much as the equation asks that these readings cannot say which runs out."
        yield Verdict("limiting-undecided", "watch", CHOICE, text)
