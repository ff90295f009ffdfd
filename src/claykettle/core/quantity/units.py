"""The closed list of units, read from data/units.toml.

A unit library is kept for the tests' dimension check; here a list of some forty exact factors is
the safer allow-list, and it keeps a typed text from ever reaching an expression parser.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import cache, cached_property
from importlib.resources import files

from claykettle.core.errors import refuse


@dataclass(frozen=True)
class Unit:
    """One unit: its symbol, dimension, exact factor to SI and offset (temperatures only)."""

    symbol: str
    dimension: str
    factor: Decimal
    offset: Decimal
    shown: str

    def to_si(self, number: Decimal) -> Decimal:
        """`number` of this unit in SI."""
        return number * self.factor + self.offset

    def step_to_si(self, number: Decimal) -> Decimal:
        """A difference of `number` of this unit in SI: the offset of a temperature scale plays no part."""
        return number * self.factor

    def from_si(self, value: float) -> float:
        """An SI value in this unit; divides by the exact factor so that 0.0312 kg is 31.2 g."""
        return (value - self._floats[1]) / self._floats[0]

    def step_from_si(self, value: float) -> float:
        """An SI difference in this unit."""
        return value / self._floats[0]

    @cached_property
    def _floats(self) -> tuple[float, float]:
        return float(self.factor), float(self.offset)


@dataclass(frozen=True)
class _Table:
    typed: Mapping[str, Unit]
    all: Mapping[str, Unit]
    si: Mapping[str, str]
    names: Mapping[str, str]


@cache
def _table() -> _Table:
    text = files("claykettle.core.quantity").joinpath("units.toml").read_text(encoding="utf-8")
    data = tomllib.loads(text)

    def unit(symbol: str, row: Mapping[str, str]) -> Unit:
        offset = Decimal(row.get("offset", "0"))
        shown = row.get("shown", symbol)
        return Unit(symbol, row["dimension"], Decimal(row["factor"]), offset, shown)

    typed = {symbol: unit(symbol, row) for symbol, row in data["units"].items()}
    derived = {symbol: unit(symbol, row) for symbol, row in data["derived"].items()}
    dimensions = data["dimensions"]
    return _Table(
        typed,
        typed | derived,
        {name: row["si"] for name, row in dimensions.items()},
        {name: row["name"] for name, row in dimensions.items()},
    )


# What people type for a unit on the list; the list itself stays closed.
_SPELLINGS = {"µg": "ug", "μg": "ug", "µL": "uL", "μL": "uL", "°C": "degC", "℃": "degC", "°F": "degF", "cm³": "cm3"}
_SPELLINGS |= {"g/cm³": "g/cm3", "kg/m³": "kg/m3", "m/s²": "m/s2", "ml": "mL", "l": "L"}


def unit(symbol: str) -> Unit:
    """The unit of a result or a declaration. Raises Refusal (`unknown-unit`) off the list."""
    found = _table().all.get(symbol)
    if found is None:
        raise refuse("unknown-unit", f"'{symbol}' is not a unit of Clay Kettle.")
    return found


def typed_unit(symbol: str, dimension: str) -> Unit:
    """The unit that a reading bears.

    Raises Refusal `unknown-unit` off the closed list and `wrong-dimension` where it measures something else.
    """
    found = _table().typed.get(_SPELLINGS.get(symbol, symbol))
    wanted = ", ".join(units_of(dimension))
    if found is None:
        raise refuse("unknown-unit", f"'{symbol[:20]}' is not a unit known here; use one of {wanted}.")
    if found.dimension != dimension:
        names = _table().names
        message = (
            f"'{symbol}' measures {names[found.dimension]}, but {names[dimension]} is wanted; use one of {wanted}."
        )
        raise refuse("wrong-dimension", message)
    return found


_WORDS = {"percent": "%", "gram": "g", "grams": "g", "mole": "mol", "moles": "mol", "litre": "L", "litres": "L"}
_OVER = re.compile(r"^(?P<above>.+?)\s*[·*]?\s*(?P<below>mol|mL|L|g|K|min)\^?(?:-1|−1|⁻¹)$")


def claimed_unit(text: str) -> Unit:
    """The unit that somebody wrote behind a figure of their own, of readings or of results: `g mol⁻¹` is `g/mol`.

    Raises Refusal `unknown-unit` off the list.
    """
    symbol = " ".join(text.split()).rstrip(".")
    over = _OVER.match(symbol)
    if over is not None:
        symbol = f"{over['above'].strip()}/{over['below']}"
    return unit(_WORDS.get(symbol.lower(), _SPELLINGS.get(symbol, symbol)))


def units_of(dimension: str) -> tuple[str, ...]:
    """The symbols on the list that measure `dimension`."""
    return tuple(symbol for symbol, row in _table().typed.items() if row.dimension == dimension)


def typed_units() -> tuple[str, ...]:
    """All units a reading may bear."""
    return tuple(_table().typed)


def si_symbol(dimension: str) -> str:
    """The SI unit in which the core computes a dimension."""
    return _table().si[dimension]
