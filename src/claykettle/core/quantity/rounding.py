"""The one place where results are rounded.

Rule: the expanded uncertainty (k = 2) to two significant digits, the value to the same place
(GUM 7.2.6), halves to the even digit (ISO 80000-1:2009, B.3, rule A).
"""

from __future__ import annotations

from decimal import ROUND_HALF_EVEN, Context, Decimal
from functools import cache, lru_cache

COVERAGE = 2
_EXACT_FIGURES, _CONSTANT_FIGURES = 5, 7
"""Of a figure that is said, and of a constant on the way: 101.325 kPa is worked on with, 101.32 would not do."""
DUST = 1e-13
_WIDE = Context(prec=60, rounding=ROUND_HALF_EVEN)


def round_to_place(number: Decimal, exponent: int) -> Decimal:
    """`number` rounded to 10**exponent, halves to even."""
    return number.quantize(_place(exponent), context=_WIDE)


@cache
def _place(exponent: int) -> Decimal:
    return Decimal(1).scaleb(exponent)


def round_significant(number: Decimal, figures: int) -> Decimal:
    """`number` to `figures` significant figures; 0.0996 to two is 0.10, not 0.100."""
    if number == 0:
        return Decimal(0)
    rounded = round_to_place(number, number.adjusted() - figures + 1)
    if rounded.adjusted() == number.adjusted():
        return rounded
    return round_to_place(number, rounded.adjusted() - figures + 1)


def plain(number: Decimal) -> str:
    """A decimal written out, minus sign as a true minus, zero without a sign."""
    text = format(number if number else abs(number), "f")
    return text.replace("-", "−") if text[0] == "-" else text


def with_uncertainty(value: float, standard_uncertainty: float, unit: str = "") -> str:
    """`43.87 ± 0.17 %` from the value and its *standard* uncertainty (k = 1), both finite.

    With an uncertainty of zero (an exact figure) the value stands alone, to five significant figures.
    """
    if _is_exact(value, standard_uncertainty):
        return _unit(exact(value), unit)
    _, place, text = _expanded(standard_uncertainty)
    return _unit(f"{plain(round_to_place(_decimal(value), place))} ± {text}", unit)


@lru_cache(maxsize=1024)
def _expanded(standard_uncertainty: float) -> tuple[Decimal, int, str]:
    """The expanded uncertainty to two significant digits, its last place, and how it is written.

    Remembered, since one uncertainty is asked for by the result, by the working and by what is said of both.
    """
    expanded = round_significant(_decimal(COVERAGE * standard_uncertainty), 2)
    exponent = expanded.as_tuple().exponent
    return expanded, exponent if isinstance(exponent, int) else 0, plain(expanded)


def _is_exact(value: float, standard_uncertainty: float) -> bool:
    """Whether there is no uncertainty, or only what the computer's own rounding leaves of one."""
    return standard_uncertainty <= DUST * abs(value)


def exact(value: float, most: int = _EXACT_FIGURES) -> str:
    """A figure that is known exactly or has no uncertainty of its own, to five significant figures or so many."""
    rounded = round_significant(_decimal(value), most)
    return plain(rounded.normalize() if rounded != rounded.to_integral_value() else rounded.quantize(Decimal(1)))


def short(value: float, count: int = 3) -> str:
    """A figure to `count` significant figures at most, zeros at the end dropped: for a drawing's own words."""
    return exact(float(f"{value:.{count}g}"))


def percent(share: float, decimals: int = 1) -> str:
    """A share (1 is all of it) as `51.2 %`."""
    return f"{plain(round_to_place(_decimal(100 * share), -decimals))} %"


def figures(value: float, count: int) -> str:
    """A figure to `count` significant figures, zeros at the end kept: they say how far it is known."""
    return plain(round_significant(_decimal(value), count))


def intermediate(value: float, standard_uncertainty: float, least_decimals: int | None = None) -> str:
    """A line's value on the way to the result: one figure more than its uncertainty needs, so nothing is lost.

    With `least_decimals` zeros at the end go, but not beyond so many decimals.
    """
    if _is_exact(value, standard_uncertainty):
        return exact(value, _CONSTANT_FIGURES)
    place = _expanded(standard_uncertainty)[0].adjusted() - 2
    text = plain(round_to_place(_decimal(value), min(place, 0)))
    while least_decimals is not None and text.endswith("0") and len(text.partition(".")[2]) > max(least_decimals, 1):
        text = text[:-1]
    return text


def _decimal(value: float) -> Decimal:
    # repr gives the shortest digits that name the float: 2.675 is taken as typed, not as 2.67499…
    return Decimal(repr(value))


def _unit(text: str, unit: str) -> str:
    return f"{text} {unit}" if unit else text


def grams(mass: float) -> str:
    """A mass in kg as `1.2345 g`, to the tenth of a milligram."""
    return f"{exact(round(1000 * mass, 4))} g"
