"""Instruments of the simulated bench: what they show of a true figure, and whether it is steady.

An instrument errs normally with the standard deviation that its half-width stands for (half-width / √3, as a run file
takes it), its rounding included. A balance settles for some seconds after it was loaded, and wanders over what is warm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from claykettle.core.matter import Chance
from claykettle.core.quantity import Unit

SETTLES_S = 3.0
"""How long a balance runs before its figure stands (common practice)."""
RUNS = 8.0
"""How far its figure is off at first, in half-widths."""


@dataclass(frozen=True)
class Shown:
    """A figure as an instrument shows it, with its unit; `steady` where it stands still."""

    text: str
    steady: bool
    value: float


@dataclass(frozen=True)
class Instrument:
    """What takes a reading: its half-width (SI) and the unit that it shows."""

    half_width: float
    unit: Unit

    @property
    def decimals(self) -> int:
        """How many decimals it shows: as fine as its half-width."""
        shown = float(self.unit.step_from_si(self.half_width))
        return max(0, -math.floor(math.log10(shown) + 1e-9))

    @property
    def division(self) -> float:
        """The step of its last digit, in SI."""
        return float(self.unit.factor) * 10.0**-self.decimals

    def error(self, chance: Chance) -> float:
        """By how much it errs this time (SI), before it rounds."""
        rest = self.half_width**2 / 3 - self.division**2 / 12
        return chance.about(0.0, math.sqrt(max(rest, 0.0)))

    def show(
        self, true: float, error: float, wanders: float = 0.0, settled_s: float = math.inf, least: float = -math.inf
    ) -> Shown:
        """What it shows of a true figure (SI) with this error, so many seconds after it was loaded; its scale begins at
        `least`.
        """
        runs = RUNS * self.half_width * math.exp(-settled_s) if settled_s < SETTLES_S else 0.0
        value = max(true + error + wanders + runs, least)
        number = self.unit.from_si(value)
        text = f"{number:.{self.decimals}f} {self.unit.symbol}"
        steady = abs(wanders) < self.division and runs == 0.0
        return Shown(text.replace("-0." + "0" * self.decimals, "0." + "0" * self.decimals), steady, value)
