"""Standard atomic weights from data/atomic_weights.toml."""

from __future__ import annotations

import difflib
import tomllib
from decimal import Decimal
from functools import cache
from importlib.resources import files

from claykettle.core.errors import refuse


@cache
def _data() -> tuple[dict[str, Decimal], frozenset[str]]:
    text = files("claykettle.core.chemistry").joinpath("data/atomic_weights.toml").read_text(encoding="utf-8")
    data = tomllib.loads(text)
    return {symbol: Decimal(weight) for symbol, weight in data["weights"].items()}, frozenset(data["unweighed"])


def is_element(symbol: str) -> bool:
    """Whether an element bears this symbol, with a standard atomic weight or without."""
    weights, unweighed = _data()
    return symbol in weights or symbol in unweighed


def atomic_weight(symbol: str) -> Decimal:
    """The conventional abridged standard atomic weight (IUPAC 2021), dimensionless, as g/mol.

    Raises Refusal `no-atomic-weight` for an element that has none, `unknown-element` for anything else.
    """
    weights, unweighed = _data()
    if symbol in unweighed:
        raise refuse("no-atomic-weight", f"{symbol} has no standard atomic weight, so nothing can be computed with it.")
    if symbol not in weights:
        raise refuse("unknown-element", f"'{symbol}' is not an element.")
    return weights[symbol]


def similar_symbols(text: str) -> tuple[str, ...]:
    """Up to three element symbols that `text` may have meant, for a message."""
    weights, _ = _data()
    by_case = [symbol for symbol in weights if symbol.lower() == text.lower()]
    close = difflib.get_close_matches(text.capitalize(), weights, n=3, cutoff=0.5)
    return tuple(dict.fromkeys(by_case + close))[:3]
