"""A reading: digits and unit exactly as typed, and the one place where typed text becomes a number."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from claykettle.core.errors import refuse
from claykettle.core.quantity.units import Unit, typed_unit, units_of

LONGEST = 60
LARGEST_EXPONENT = 30
MOST_DIGITS = 20
"""More than any instrument shows and any computer prints; what follows keeps every one of them."""

# What lies beyond is no reading of a teaching laboratory but a slip (common practice), in SI: (lowest, highest).
_BELIEVABLE: dict[str, tuple[str, str]] = {
    "mass": ("0", "100"),
    "volume": ("0", "0.1"),
    "temperature": ("0", "2000"),
    "pressure": ("0", "1e7"),
    "length": ("-500", "9000"),  # elevations too
    "amount": ("0", "1e3"),
    "concentration": ("0", "1e5"),
    "density": ("0", "3e4"),
    "linear_density": ("0", "1e3"),
    "acceleration": ("9", "10"),
    "ratio": ("0", "1e6"),
    "time": ("0", "1e8"),
}

_NUMBER = re.compile(r"(?P<sign>[+\-−]?)(?P<digits>\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE](?P<exponent>[+\-−]?\d{1,9}))?")


@dataclass(frozen=True)
class Reading:
    """One measured figure. `text` is what was typed, never altered; `number` is it in `unit`."""

    text: str
    number: Decimal
    unit: Unit
    last_digit: Decimal

    @property
    def si(self) -> Decimal:
        """The figure in SI, exact."""
        return self.unit.to_si(self.number)

    @property
    def last_digit_si(self) -> Decimal:
        """One unit in the last digit typed, as a difference in SI."""
        return self.unit.step_to_si(self.last_digit)

    @property
    def decimals(self) -> int:
        """How many decimals stand in the typed figure."""
        exponent = self.last_digit.as_tuple().exponent
        return max(0, -exponent) if isinstance(exponent, int) else 0

    @property
    def digits(self) -> str:
        """The figure without its unit, as typed."""
        return digits_of(self.text)

    @property
    def shown(self) -> str:
        """The figure as typed with its unit set for a page."""
        return f"{self.digits} {self.unit.shown}"


@dataclass(frozen=True)
class Quantity:
    """A figure that was given and not read at the bench: exact, or with a half-width (SI, a difference)."""

    reading: Reading
    half_width: Decimal | None = None

    @property
    def si(self) -> float:
        """The figure as a plain SI number."""
        return float(self.reading.si)


@lru_cache(maxsize=4096)
def parse_reading(text: str, dimension: str, default_unit: str | None = None) -> Reading:
    """Read `31.20 g`, `31,20 g` or, with a default unit, `31.20`.

    `dimension` is one of data/units.toml. Raises Refusal with code `empty`, `not-a-number`, `no-unit`,
    `unknown-unit`, `wrong-dimension`, `negative` or `out-of-range`; the message says how to mend it.
    """
    stripped = text.strip()
    if not stripped:
        raise refuse("empty", "Nothing was typed; type the figure the instrument shows.")
    if len(text) > LONGEST:
        raise refuse(
            "not-a-number", f"This is longer than any reading ({len(text)} characters); type digits and a unit."
        )
    match = _NUMBER.match(stripped)
    if match is None or not stripped.isprintable():
        raise refuse("not-a-number", f"'{_clip(stripped)}' is not a number; type digits such as 31.204.")
    rest = stripped[match.end() :].strip()
    _refuse_leftovers(stripped, rest)
    number, last_digit = _decimal(match)
    unit = _unit(rest, dimension, default_unit, match.group(0))
    reading = Reading(text, number, unit, last_digit)
    _refuse_unbelievable(reading, dimension)
    return reading


def digits_of(text: str) -> str:
    """The figure of a typed reading without its unit, to the letter; a text that is no number stays whole."""
    match = _NUMBER.match(text.strip())
    return match.group(0) if match else text


def bears_unit(text: str) -> bool:
    """Whether a typed reading has a unit of its own behind its digits."""
    match = _NUMBER.match(text.strip())
    return match is not None and match.end() < len(text.strip())


def with_unit(text: str, unit: str) -> str:
    """A figure with its unit, as a run file writes it; text that bears its unit already stays as it is."""
    return text if bears_unit(text) else f"{text} {unit}"


def parse_half_width(text: str, dimension: str) -> Decimal:
    """A half-width such as `0.001 g`, in SI, as a difference. Raises Refusal, also `not-positive` for zero."""
    reading = parse_reading(text, dimension)
    if reading.number <= 0:
        raise refuse("not-positive", f"A half-width must be above zero, not '{_clip(text)}'.")
    return reading.unit.step_to_si(reading.number)


def _clip(text: str) -> str:
    return text if len(text) <= 24 else text[:23] + "…"


def _refuse_leftovers(text: str, rest: str) -> None:
    if rest.startswith((".", ",")):
        raise refuse("not-a-number", f"'{_clip(text)}' has more than one decimal mark; write no thousands separators.")
    if rest[:1].isdigit():
        raise refuse("not-a-number", f"'{_clip(text)}' has a gap between its digits; type them together.")


def _decimal(match: re.Match[str]) -> tuple[Decimal, Decimal]:
    digits = match["digits"].replace(",", ".")
    exponent = int((match["exponent"] or "0").replace("−", "-"))
    if abs(exponent) > LARGEST_EXPONENT:
        raise refuse("out-of-range", f"An exponent of {exponent} is beyond ±{LARGEST_EXPONENT}.")
    whole, _, decimals = digits.partition(".")
    if not (whole + decimals).isascii():
        raise refuse("not-a-number", f"'{_clip(digits)}' is not in digits 0 to 9.")
    if len(whole + decimals) > MOST_DIGITS:
        count = len(whole + decimals)
        raise refuse("not-a-number", f"These are {count} digits, more than any instrument shows; type it again.")
    number = Decimal(f"{whole or '0'}.{decimals or '0'}").scaleb(exponent)
    sign = -1 if match["sign"] in ("-", "−") else 1
    return sign * number, Decimal(1).scaleb(exponent - len(decimals))


def _unit(rest: str, dimension: str, default_unit: str | None, digits: str) -> Unit:
    if rest:
        return typed_unit(rest, dimension)
    if default_unit is None:
        example = units_of(dimension)[0]
        raise refuse("no-unit", f"'{digits}' has no unit; write for example '{digits} {example}'.")
    return typed_unit(default_unit, dimension)


def _refuse_unbelievable(reading: Reading, dimension: str) -> None:
    low, high = (Decimal(limit) for limit in _BELIEVABLE[dimension])
    if reading.number < 0 and low == 0 and dimension != "temperature":
        what = "A mass" if dimension == "mass" else "This reading"
        raise refuse("negative", f"{what} cannot be below zero: '{_clip(reading.text)}'. Check the sign, or re-zero.")
    if not low <= reading.si <= high:
        message = f"'{_clip(reading.text)}' is beyond anything on a teaching bench; check the digits and the unit."
        raise refuse("out-of-range", message)
