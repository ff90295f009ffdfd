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


def charges_balance(formula: Formula) -> bool:
    """Whether every element of a two-element formula can bear one common charge so that the whole is neutral.

    False also where the table knows no charge: then nothing speaks for the formula but the data.
    """
    if len(formula.atoms) != 2:
        return False
    (first, count), (second, other) = formula.atoms
    return any(
        count * charge + other * opposite == 0
        for charge in common_charges(first)
        for opposite in common_charges(second)
    )
