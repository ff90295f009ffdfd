"""Is a reading where the plan wanted it? Outside, the run stays usable: recompute, do not throw away."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import TYPE_CHECKING

from claykettle.core.method import Trial
from claykettle.core.quantity import nominal
from claykettle.core.verdict import Verdict

if TYPE_CHECKING:
    from claykettle.core.method import Window

# "About" is read as within a tenth of the stated figure (common practice in procedures).
ABOUT = Decimal("0.1")


def judge_window(trial: Trial, planned: Mapping[str, Window]) -> list[Verdict]:
    """One verdict for each planned reading that lies outside its window."""
    verdicts: list[Verdict] = []
    for name, window in planned.items():
        value = _measured(trial, name)
        if value is None:
            continue
        low, high, words = limits(window)
        if (low is not None and value < low) or (high is not None and value > high):
            label = trial.sheet.labels.get(name, name)
            side = "below" if low is not None and value < low else "above"
            text = (
                f"The {label} lies {side} its window ({words}). The run stays usable: carry on with the exact figure."
            )
            verdicts.append(Verdict("outside-window", "watch", name, text))
    return verdicts


def limits(window: Window) -> tuple[Decimal | None, Decimal | None, str]:
    """Lowest and highest figure of a window in SI, and the window in words."""
    if window.about is not None:
        middle = window.about.si
        return middle * (1 - ABOUT), middle * (1 + ABOUT), f"about {window.about.shown}"
    low, high = window.low, window.high
    words = " ".join(f"{word} {row.shown}" for word, row in (("from", low), ("up to", high)) if row is not None)
    return (low.si if low else None), (high.si if high else None), words


def _measured(trial: Trial, name: str) -> Decimal | None:
    """The planned quantity as typed; a net reading weighed gross is taken from its line."""
    typed = trial.typed(name)
    if typed is not None:
        return typed.si
    line = trial.values.get(f"{name}_mass") if trial.values.get(name) is None else trial.values.get(name)
    return None if line is None or isinstance(line, list) else Decimal(repr(round(nominal(line), 15)))
