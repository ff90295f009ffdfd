"""A claim as a figure: what was typed, how far its rounding reaches, and whether it bears the right unit.

A claim is no reading: it may be negative, far off, or have no unit. Nothing is refused here, it is judged.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from claykettle.core.errors import Refusal
from claykettle.core.quantity import Unit, claimed_unit, unit

_NUMBER = re.compile(
    r"\s*(?P<sign>[+\-−]?)\s*(?P<digits>\d+(?:[.,]\d*)?|[.,]\d+)"
    r"(?:\s*(?:[eE]|[x×·*]\s*10\s*\^?)\s*(?P<exponent>[+\-−]?\d{1,3}))?"
)
LARGEST_EXPONENT = 60
HALF = Decimal("0.5")
MOST = 200
"""So many characters of a claim are looked at."""


@dataclass(frozen=True)
class Claim:
    """A claim of a line. `value` and `half` (half a unit in its last digit) are in SI; `unit` is the one that it bears,
    the line's where it bears none; `amiss` says what is wrong with the unit, empty where it is right.
    """

    name: str
    text: str
    number: Decimal
    last: Decimal
    unit: Unit
    amiss: str = ""
    is_other_kind: bool = False

    @property
    def value(self) -> float:
        """The figure in SI."""
        return float(self.unit.to_si(self.number))

    @property
    def half(self) -> float:
        """Half a unit in its last digit, in SI."""
        return float(self.unit.step_to_si(self.last * HALF))

    def swapped(self) -> Iterator[float]:
        """The same figure with two neighbouring digits the other way round (SI)."""
        text = str(abs(self.number))
        for place in range(len(text) - 1):
            one, other = text[place], text[place + 1]
            if one.isdigit() and other.isdigit() and one != other:
                yield self._of(text[:place] + other + one + text[place + 2 :])
            elif place + 2 < len(text) and other == "." and one != text[place + 2]:
                yield self._of(text[:place] + text[place + 2] + "." + one + text[place + 3 :])

    def _of(self, digits: str) -> float:
        sign = -1 if self.number < 0 else 1
        return float(self.unit.to_si(sign * Decimal(digits)))


def read_claim(name: str, text: str, line_unit: str) -> Claim | None:
    """A claim as a figure; None where it is none at all."""
    typed = text.strip()[:MOST]
    match = _NUMBER.match(typed)
    if match is None:
        return None
    digits = match.group("digits").replace(",", ".")
    exponent = int((match.group("exponent") or "0").replace("−", "-"))
    if abs(exponent) > LARGEST_EXPONENT:
        return None
    number = Decimal(digits).scaleb(exponent)
    decimals = len(digits.partition(".")[2])
    last = Decimal(1).scaleb(exponent - decimals)
    if match.group("sign") in ("-", "−"):
        number = -number
    own = unit(line_unit)
    rest = typed[match.end() :].strip()
    if not rest:
        bare = own.symbol in ("1", "")
        return Claim(name, text, number, last, own, "" if bare else f"Its unit is missing, such as {own.shown}.")
    try:
        borne = claimed_unit(rest)
    except Refusal:
        return Claim(
            name, text, number, last, own, f"‘{rest[:20]}’ is no unit of this; write it in {own.shown or '1'}."
        )
    if borne.dimension != own.dimension:
        amiss = f"{borne.shown} measures something else; this is told in {own.shown or 'no unit at all'}."
        return Claim(name, text, number, last, own, amiss, is_other_kind=True)
    return Claim(name, text, number, last, borne)
