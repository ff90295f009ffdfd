"""The class's route to a formula: grams in 100 g, moles of each, divided by the smallest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from claykettle.core.method import Trial
from claykettle.core.quantity import figures


@dataclass(frozen=True)
class Share:
    """One part of a compound: its name, what was found (g), grams in 100 g, moles of it in those, and how many times
    the smallest that is; all as a class writes them.
    """

    part: str
    found: str
    grams: str
    moles: str
    ratio: str


def per_hundred_grams(trial: Trial, parts: Sequence[tuple[str, str, str]]) -> list[Share]:
    """The route for the parts of a compound: name, line of its mass, line of its molar mass. Empty while one is open.

    The moles are written with four figures and the ratio with four, from unrounded figures (a class that rounds on the
    way may differ in the last).
    """
    rows = [(name, trial.value(mass), trial.value(molar)) for name, mass, molar in parts]
    known = [(name, mass, molar) for name, mass, molar in rows if mass is not None and molar is not None]
    total = sum(mass for _, mass, _ in known)
    if not rows or len(known) < len(rows) or min(mass for _, mass, _ in known) <= 0:
        return []
    moles = [mass / total * 0.1 / molar for _, mass, molar in known]
    return [
        Share(
            part=name,
            found=figures(mass * 1000, 4),
            grams=figures(mass / total * 100, 4),
            moles=figures(amount, 4),
            ratio=figures(amount / min(moles), 4),
        )
        for (name, mass, _), amount in zip(known, moles, strict=True)
    ]
