"""What a gas tube shows: the gas it holds, which way it counts, both water levels; and the fall of the pressure."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Tube:
    """The tube as it stands, volumes of gas in mL and levels in mm (water inside above that outside).

    `counts_down` tells a burette turned over, whose zero is at the open end; `mark` is its last mark, `dead` the volume
    beyond it. What is not known yet is None. `moved_by` tells which reading, while it is typed, moves which of these.
    `held_text` is the gas in it, `said` the whole in words; `name` and the `places` after the mark of its figures let a
    drawing say the same of a figure that is still being typed.
    """

    counts_down: bool
    mark: float | None
    dead: float | None
    start: float | None
    end: float | None
    level: float | None
    level_start: float | None
    held_text: str
    said: str
    moved_by: Mapping[str, str]
    name: str
    places: int


@dataclass(frozen=True)
class Fall:
    """One step of the fall from the barometer to the dry gas: what it is, from where to where, in kPa and as text."""

    label: str
    upper: float
    lower: float
    text: str


@dataclass(frozen=True)
class GasPicture:
    """The tube, and the fall of the pressure as far as it is known."""

    tube: Tube
    fall: tuple[Fall, ...]
