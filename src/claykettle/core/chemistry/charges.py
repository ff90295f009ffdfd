"""Can the common charges of two elements balance? From data/ion_charges.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from claykettle.core.chemistry.formula import Formula


@cache
def _table() -> Mapping[str, tuple[int, ...]]:
    text = files("claykettle.core.chemistry").joinpath("data/ion_charges.toml").read_text(encoding="utf-8")
    return {symbol: tuple(row) for symbol, row in tomllib.loads(text)["charges"].items()}


def common_charges(symbol: str) -> tuple[int, ...]:
    """The usual charges of an element's ions, empty where the table knows none."""
    return _table().get(symbol, ())


def charged_elements(charge: int) -> tuple[str, ...]:
    """The elements that form ions of this charge, in the order of the table."""
    return tuple(symbol for symbol, charges in _table().items() if charge in charges)


MIXED = {"Fe", "Mn", "Co", "Pb"}
"""Metals whose oxide with two charges at once, M3O4, is common on a teaching bench (common practice)."""


def charges_balance(formula: Formula) -> bool | None:
    """Whether every element of a two-element formula can bear a common charge so that the whole is neutral.

    One charge each, or a metal with two at once in an oxide where that is common. None where the table knows no charge
    of one of them: then chemistry says nothing here, and only the data speak.
    """
    if len(formula.atoms) != 2:
        return False
    (first, count), (second, other) = formula.atoms
    charges, opposites = common_charges(first), common_charges(second)
    if not charges or not opposites:
        return None
    if any(count * charge + other * opposite == 0 for charge in charges for opposite in opposites):
        return True
    return first in MIXED and second == "O" and (int(count), int(other)) == (3, 4)
