"""The crystals of each portion on one scale, to be compared at a glance."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class MeasuredPortion:
    """The lengths of one portion's crystals and their mean in mm; the mean and its ± (k = 2) are None until known."""

    label: str
    cooling: str
    lengths: tuple[float, ...]
    mean: float | None
    half_width: float | None


@dataclass(frozen=True)
class SizesPicture:
    """The portions in their order."""

    portions: tuple[MeasuredPortion, ...]
