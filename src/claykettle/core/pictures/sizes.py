"""The crystals of each portion on one scale, to be compared at a glance."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class MeasuredPortion:
    """The lengths of one portion's crystals and their mean in mm; mean and its ± (k = 2) are None until known.

    `text` is the mean.
    """

    label: str
    cooling: str
    lengths: tuple[float, ...]
    mean: float | None
    half_width: float | None
    text: str = ""


@dataclass(frozen=True)
class SizesPicture:
    """The portions in their order."""

    portions: tuple[MeasuredPortion, ...]
