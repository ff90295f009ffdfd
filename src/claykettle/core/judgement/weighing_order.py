"""Weighings that cannot be: what is loaded must be heavier than what is empty."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Trial
from claykettle.core.verdict import Verdict

STEP = "out-of-order"


def judge_loading(trial: Trial, empty: str, loaded: str) -> Iterator[Verdict]:
    """The loaded vessel against the empty one."""
    before, after = trial.typed(empty), trial.typed(loaded)
    if before and after and after.si <= before.si:
        label, first = trial.sheet.labels[loaded], trial.sheet.labels[empty]
        text = (
            f"{label.capitalize()} ({after.shown}) is not heavier than the {_named_empty(first)} ({before.shown}): "
            "one of the two is on the wrong line or mistyped. Correct it in the log."
        )
        yield Verdict(STEP, "stop", loaded, text)


def judge_heated(
    trial: Trial, series: str, empty: str, above: str | None = None, below: str | None = None
) -> Iterator[Verdict]:
    """Every weighing after heating against the empty vessel, and against what it must stay `below` or `above`."""
    bottom = trial.typed(empty)
    ceiling, floor = trial.typed(below or ""), trial.typed(above or "")
    for number, weighing in enumerate(trial.series(series), start=1):
        said = f"After {trial.sheet.readings[series].round} {number} ({weighing.shown}) lies"
        if bottom and weighing.si <= bottom.si:
            text = f"{said} below the {_named_empty(trial.sheet.labels[empty])} ({bottom.shown}): check both."
            yield Verdict(STEP, "stop", series, text)
        elif ceiling and weighing.si > ceiling.si:
            text = f"{said} above {trial.sheet.labels[below or '']} ({ceiling.shown}): check both."
            yield Verdict(STEP, "stop", series, text)
        elif floor and weighing.si < floor.si:
            text = (
                f"{said} below {trial.sheet.labels[above or '']} ({floor.shown}): the product cannot be lighter than "
                "what it was made from. Check both."
            )
            yield Verdict(STEP, "stop", series, text)


def _named_empty(label: str) -> str:
    return f"empty {label}"
