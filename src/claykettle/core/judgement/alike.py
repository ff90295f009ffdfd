"""A trial far off the others in what all must share, such as the volume per gram: asked about before it is kept."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from statistics import median

from claykettle.core.judgement.digits import swapped
from claykettle.core.judgement.question import Question
from claykettle.core.quantity import Reading, figures
from claykettle.core.sheet import LineDef

FAR, NEAR = 0.2, 0.05
"""A fifth off is no scatter of a practical; a swap explains it that brings it within a twentieth (common practice)."""


def question_of_alike(
    line: LineDef, value: float, others: Sequence[float], reading: Reading, with_digits: Callable[[str], float | None]
) -> Question | None:
    """What is doubtful about a trial's `value` of a line (SI) beside those of the other trials.

    `with_digits` gives the value that other digits of the reading would make, None where there is none.
    """
    if not others:
        return None
    middle = median(others)
    if _off(value, middle) <= FAR:
        return None
    rows = _listed(line, others)
    said = f"That makes {_figure(line, value)} of {line.label}; the other trials gave {rows}."
    for other in swapped(reading):
        found = with_digits(other.digits)
        if found is not None and _off(found, middle) <= NEAR:
            return Question("off-others", f"{said} Digits swapped? {other.digits} would fit.", other.digits)
    return Question("off-others", f"{said} Was another sample or another tube read?")


def _off(value: float, middle: float) -> float:
    return abs(value - middle) / abs(middle) if middle else float("inf")


def _figure(line: LineDef, value: float) -> str:
    return f"{figures(line.shown_unit.from_si(value), 3)} {line.shown_unit.shown}".rstrip()


def _listed(line: LineDef, values: Iterable[float]) -> str:
    shown = ", ".join(figures(line.shown_unit.from_si(value), 3) for value in values)
    return f"{shown} {line.shown_unit.shown}".rstrip()
