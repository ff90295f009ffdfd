"""Will it displace, will it gas? From the standard electrode potentials of data/electrode_potentials.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from claykettle.core.errors import refuse

UNDECIDED_V = 0.05
"""So small a difference is turned by concentrations: a factor of fifty in one of them is 0.05 V for two electrons."""
HYDROGEN = "H^+"


@dataclass(frozen=True)
class Couple:
    """An ion, what it becomes by taking electrons up, its standard potential in V, and what keeps the metal back."""

    ion: str
    gives: str
    volt: float
    slow: str = ""


@dataclass(frozen=True)
class Displacement:
    """Whether a metal drives an ion out: the difference of their potentials in V, and what may keep it back.

    `happens` is None where the difference is too small to say.
    """

    metal: Couple
    ion: Couple
    volt: float
    happens: bool | None


@cache
def couples() -> Mapping[str, Couple]:
    """All couples by their ion."""
    text = files("claykettle.core.chemistry").joinpath("data/electrode_potentials.toml").read_text(encoding="utf-8")
    rows = tomllib.loads(text)["couple"]
    return {row["ion"]: Couple(row["ion"], row["gives"], float(row["volt"]), row.get("slow", "")) for row in rows}


def couple_of_metal(symbol: str) -> Couple | None:
    """The couple in which a metal stands as such; of several that with the lowest potential: what it becomes first."""
    rows = [row for row in couples().values() if row.gives == symbol]
    return min(rows, key=lambda row: row.volt, default=None)


def displacement(metal: str, ion: str) -> Displacement:
    """Whether a metal (its symbol) drives an ion (`Cu^2+`) out of its solution, all at standard concentrations.

    Raises Refusal `no-potential` for what the table does not hold.
    """
    own, other = couple_of_metal(metal), couples().get(ion)
    if own is None or other is None:
        missing = metal if own is None else ion
        raise refuse("no-potential", f"No electrode potential of {missing} is listed here.")
    volt = other.volt - own.volt
    return Displacement(own, other, volt, None if abs(volt) < UNDECIDED_V else volt > 0)


def gives_hydrogen(metal: str) -> Displacement:
    """Whether a metal sets hydrogen free from an acid. Raises Refusal `no-potential`."""
    return displacement(metal, HYDROGEN)
