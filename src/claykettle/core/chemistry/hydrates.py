"""Which hydrates of a salt are known as solids, from data/hydrates.toml."""

from __future__ import annotations

import tomllib
from fractions import Fraction
from functools import cache
from importlib.resources import files

from claykettle.core.chemistry.formula import Formula


@cache
def _table() -> dict[str, tuple[Fraction, ...]]:
    text = files("claykettle.core.chemistry").joinpath("data/hydrates.toml").read_text(encoding="utf-8")
    rows = tomllib.loads(text)["hydrates"]
    return {salt: tuple(Fraction(ratio) for ratio in ratios) for salt, ratios in rows.items()}


def lower_hydrates(hydrate: Formula) -> tuple[Formula, ...]:
    """The listed hydrates of the same salt that hold less water, the richest first; empty for an unlisted salt."""
    salt = hydrate.anhydrous
    ratios = _table().get(salt.text, ())
    return tuple(salt.hydrate(ratio) for ratio in sorted(ratios, reverse=True) if ratio < hydrate.water_ratio)
