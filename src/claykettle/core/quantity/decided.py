"""Figures that hang on a decision: the smallest of several, a constant chosen by the nearest. Their uncertainty knows
that the decision may fall the other way inside the band.

The gap between what was taken and what was not is one reading's rectangle, the widest, and a normal rest. Over it the
moments of the smaller of two, and of a choice between two constants, are averaged (for a normal gap: C. E. Clark,
Operations Research 9, 145, 1961, from memory). The part that follows the readings stays correlated with them; what is
left of the variance is a component of its own, under the name of the decision. The value stays that of the decision as
it fell.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Any

from uncertainties import ufloat

from claykettle.core.quantity.uncertainty import RECTANGULAR, Number, nominal, standard_uncertainty, variances

SURE = 6.0
"""Beyond so many standard uncertainties of the gap the other way plays no part in a float."""
PIECES = 48
"""Into so many pieces the rectangle is cut."""
_NORMAL = NormalDist()


@dataclass(frozen=True)
class _Gap:
    """A gap that is above zero as it stands, and what it is below zero: how often, and the moments of that part."""

    width: float
    flips: float
    mean: float
    square: float
    beside: float
    """Mean of that part times the gap's deviation."""
    moved: float
    """Mean of having flipped times the gap's deviation."""

    @classmethod
    def of(cls, gap: Number) -> _Gap | None:
        """None where it never flips."""
        value, width = nominal(gap), standard_uncertainty(gap)
        if width <= 0 or value >= SURE * width:
            return None
        widest = max(variances(gap).values())
        rest = math.sqrt(max(width**2 - widest, (1e-3 * width) ** 2))
        sums = [0.0] * 5
        for piece in range(PIECES):
            off = RECTANGULAR * math.sqrt(widest) * ((2 * piece + 1) / PIECES - 1)
            at = value + off
            t = at / rest
            below, density = _NORMAL.cdf(-t), _NORMAL.pdf(t)
            first = at * below - rest * density
            second = (at**2 + rest**2) * below - at * rest * density
            # the deviation is off + rest·z; z times what lies below brings rest·below and -density
            for index, part in enumerate(
                (below, first, second, off * first + rest**2 * below, off * below - rest * density)
            ):
                sums[index] += part / PIECES
        return cls(width, *sums)


def least(rows: Mapping[str, Number], name: str) -> tuple[str, Number]:
    """Key and value of the smallest of `rows`; `name` is the decision's, for its own part in the budget."""
    keys = sorted(rows, key=lambda key: nominal(rows[key]))
    value = rows[keys[0]]
    for key in keys[1:]:
        value = _smaller(value, rows[key], name)
    return keys[0], value


def _smaller(first: Number, second: Number, name: str) -> Number:
    """The smaller of two of which `first` is the smaller as they stand: with what of the gap lies below zero."""
    gap = second - first
    found = _Gap.of(gap)
    if found is None:
        return first
    drawn: Any = first + found.beside / found.width**2 * (gap - nominal(gap))
    return _widened(drawn, found.square - found.mean**2 - (found.beside / found.width) ** 2, name)


def nearest_of(
    found: Number, marks: Sequence[float], name: str, taken: Sequence[float] | None = None
) -> tuple[int, Number]:
    """Place of the mark that lies nearest to what was found, and what is `taken` there (the mark itself without).

    The next mark on the side on which the figure lies may be the nearer one within the band.
    """
    value, rows = nominal(found), marks if taken is None else taken
    index = min(range(len(marks)), key=lambda place: abs(marks[place] - value))
    beyond = [place for place in range(len(marks)) if (marks[place] - marks[index]) * (value - marks[index]) > 0]
    if not beyond:
        return index, rows[index]
    other = min(beyond, key=lambda place: abs(marks[place] - value))
    bound = (marks[index] + marks[other]) / 2
    gap = bound - found if marks[other] > marks[index] else found - bound
    return index, _chosen(rows[index], rows[other], gap, name)


def _chosen(picked: float, other: float, gap: Number, name: str) -> Number:
    """The constant `picked`, where `other` would be taken if `gap` (now above zero) fell below it."""
    found = _Gap.of(gap)
    if found is None:
        return picked
    step = other - picked
    drawn: Any = picked + step * found.moved / found.width**2 * (gap - nominal(gap))
    rest = found.flips * (1 - found.flips) - (found.moved / found.width) ** 2
    return _widened(drawn, step**2 * rest, name)


def _widened(drawn: Number, variance: float, name: str) -> Number:
    """A number with an uncertainty more, under a name of its own."""
    return drawn + ufloat(0.0, math.sqrt(variance), tag=name) if variance > 0 else drawn
