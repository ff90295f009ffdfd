"""Where a reading must lie before it is taken: from the options, the plan and what was read so far."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Expectation:
    """A reading's lowest and highest believable figure (SI), and why, as part of a sentence.

    `about` is the figure that it will likely be, `when` under which circumstance (`when dry`).
    """

    low: float
    high: float
    because: str
    about: float | None = None
    when: str = ""

    def holds(self, value: float, slack: float = 0.0) -> bool:
        """Whether a figure (SI) lies inside, or no more than `slack` beyond."""
        return self.low - slack <= value <= self.high + slack


Expectations = Mapping[str, Expectation]
"""By the name of the reading."""
