"""The results of a class on one scale: their middle, which no strange bench moves, its band, and who lies outside.

The middle is the median, its spread the scaled median absolute deviation (MADe), its standard uncertainty 1.25 s*/√p, a
bench outside where its z is over 3: ISO 13528 (2015), C.2 and 7.7, from memory. The standard's algorithm A uses more of
the data, and was tried: of three or four benches one strange one carries it along (decision 0060).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

LEAST = 3
"""Of fewer results there is no middle that one of them does not decide."""
NORMAL = 1.483
"""So many median absolute deviations are one standard deviation of a normal distribution."""
OUTSIDE = 3.0


@dataclass(frozen=True)
class Middle:
    """The middle of a class, the spread of its results, and the expanded uncertainty (k = 2) of the middle."""

    value: float
    spread: float
    expanded: float


def middle(values: Sequence[float], uncertainties: Sequence[float]) -> Middle | None:
    """The middle of some results; None for fewer than three. `uncertainties` are their own standard ones.

    No spread is believed below what the instruments explain: equal benches make no outlier of one that differs by less
    than its balance can tell.
    """
    if len(values) < LEAST:
        return None
    value = median(values)
    spread = max(NORMAL * median(abs(one - value) for one in values), median(uncertainties))
    return Middle(value, spread, 2 * 1.25 * spread / math.sqrt(len(values)))


def spreads(values: Sequence[float], uncertainties: Sequence[float]) -> tuple[float, float] | None:
    """The scatter of some results as a robust standard deviation (MADe), and what their instruments explain of it; None
    for fewer than three.
    """
    if len(values) < LEAST:
        return None
    centre = median(values)
    return NORMAL * median(abs(one - centre) for one in values), median(uncertainties)


def outside(value: float, uncertainty: float, found: Middle) -> bool:
    """Whether a result lies outside what the class found: further off than three times the spread, its own included."""
    spread = math.hypot(found.spread, uncertainty)
    return spread > 0 and abs(value - found.value) > OUTSIDE * spread
