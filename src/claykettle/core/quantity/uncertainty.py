"""Numbers that carry uncertainty, after the GUM (JCGM 100:2008).

One independent variable a reading: a weighing used twice stays correlated with itself. The
propagation is the `uncertainties` library's; this module is its only user.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from statistics import stdev
from typing import Any

from uncertainties import ufloat, wrap

from claykettle.core.errors import Refusal

Number = Any
"""What a line computes with: float, a number with uncertainty, or (in the tests) a number with units."""

RECTANGULAR = math.sqrt(3)
_NONE: Mapping[Any, float] = {}


def reading_variable(value: float, half_width: float, name: str) -> Number:
    """One independent variable; u = half-width / √3, a rectangular distribution (GUM 4.3.7)."""
    return ufloat(value, half_width / RECTANGULAR, tag=name)


STEP = 1e-6
"""By so much of an argument (or so much, at zero) the slope of a table is looked for on each side of it."""


def through(table: Callable[..., float], arguments: Sequence[Number]) -> Number:
    """A table's value for numbers that may carry uncertainty: plain floats go in, slopes are taken beside them.

    At the end of its range, and at a seam between two formulas, the slope is that of the side which has one. Raises
    what the table raises.
    """
    places = range(len(arguments))
    slopes = [lambda *at, place=place: _slope(table, at, place) for place in places]
    return wrap(table, slopes)(*arguments)


def _slope(table: Callable[..., float], at: Sequence[float], place: int) -> float:
    step = STEP * abs(at[place]) or STEP
    here = table(*at)
    sides: list[float] = []
    for move in (step, -step):
        moved = [*at[:place], at[place] + move, *at[place + 1 :]]
        try:
            sides.append((table(*moved) - here) / move)
        except Refusal:
            continue
    if not sides:
        return 0.0
    up, down = sides[0], sides[-1]
    # across a seam one side steps over the jump and seems far steeper than the other
    return (up + down) / 2 if 0.5 * abs(up) <= abs(down) <= 2 * abs(up) else min(sides, key=abs)


def mean_spread(values: Sequence[float]) -> float:
    """How far one that was not weighed may lie off the mean of n alike: u = s √(1 + 1/n); 0 for fewer than two."""
    count = len(values)
    return stdev(values) * math.sqrt(1 + 1 / count) if count > 1 else 0.0


def spread_variable(values: Sequence[float], name: str, half_width: float = 0.0) -> Number:
    """Zero, with the uncertainty of a mean of `values` that stands for one not weighed; 0 for fewer than two.

    Ten alike on a coarse balance are no surer than one: what its `half_width` gives is the least.
    """
    if len(values) < 2:
        return 0.0
    spread = max(mean_spread(values), half_width / RECTANGULAR)
    return ufloat(0.0, spread, tag=name) if spread > 0 else 0.0


def nominal(value: Number) -> float:
    """The plain value of a number of any kind, in SI; decisions are taken on it."""
    if type(value) is float:
        return value
    plain: Any = getattr(value, "nominal_value", None)
    if plain is None:
        plain = getattr(value, "magnitude", value)
    return float(plain)


def standard_uncertainty(value: Number) -> float:
    """The standard uncertainty of a number; zero for one that carries none."""
    return float(getattr(value, "std_dev", 0.0))


def covariances(values: Sequence[Number]) -> tuple[tuple[float, ...], ...]:
    """The covariance matrix of numbers, by the readings that they share; zeros for what carries no uncertainty."""
    parts = [
        {variable: slope * variable.std_dev for variable, slope in getattr(value, "derivatives", _NONE).items()}
        for value in values
    ]
    return tuple(
        tuple(math.fsum(part * two.get(variable, 0.0) for variable, part in one.items()) for two in parts)
        for one in parts
    )


def sensitivity(value: Number, name: str) -> float | None:
    """The derivative of a number by the variable of this name; None where it does not depend on one."""
    for variable, slope in getattr(value, "derivatives", {}).items():
        if variable.tag == name:
            return float(slope)
    return None


def variances(value: Number) -> dict[str, float]:
    """What each reading adds to the variance of a number, by the reading's name; empty for an exact number.

    Several weighings of one series count together under the series' name.
    """
    # the library's error_components does the same, and takes twice as long over it
    found: dict[str, float] = {}
    for variable, slope in getattr(value, "derivatives", _NONE).items():
        name = variable.tag or "?"
        found[name] = found.get(name, 0.0) + (slope * variable.std_dev) ** 2
    return found


def shares(by_reading: Mapping[str, float]) -> list[tuple[str, float]]:
    """Each reading's share of a variance (they sum to 1), largest first; empty where there is none."""
    total = math.fsum(by_reading.values())
    if total <= 0:
        return []
    rows = sorted((-variance / total, name) for name, variance in by_reading.items() if variance > 0)
    return [(name, -share) for share, name in rows]


def weighted_mean(values: Sequence[Number], weights: Sequence[float]) -> Number:
    """Σ w·v / Σ w; it keeps what the values share, so a barometer common to all does not average out."""
    return sum(w * v for w, v in zip(weights, values, strict=True)) / math.fsum(weights)


def own_uncertainty(value: Number, shared: Iterable[str]) -> float:
    """Standard uncertainty without the variables named in `shared`, which move all trials alike."""
    if not hasattr(value, "error_components"):
        return 0.0
    names = set(shared)
    parts = (part**2 for variable, part in value.error_components().items() if variable.tag not in names)
    return math.sqrt(math.fsum(parts))
