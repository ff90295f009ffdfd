"""A curve with the two temperatures on it: what the solvent holds hot, and what it keeps cold."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SolubilityPoint:
    """A point of the curve: °C, and g of the substance as weighed per 100 g of solvent; `text` is the grams."""

    celsius: float
    grams: float
    text: str


@dataclass(frozen=True)
class CurvePicture:
    """The curve, and what is known of the run on it; `hot` and `cold` are None while they are not read or beyond it.

    `taken` is the crude per 100 g of solvent, None while one of the two is not known. `basis` says what the curve's
    figures are of, `back_text` how much can come back, `said` the whole in words.
    """

    name: str
    basis: str
    points: tuple[SolubilityPoint, ...]
    hot: SolubilityPoint | None
    cold: SolubilityPoint | None
    taken: float | None
    taken_text: str
    back_text: str
    said: str
