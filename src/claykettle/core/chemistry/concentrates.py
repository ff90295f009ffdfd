"""What the bottles of the store hold, from data/concentrates.toml, and how concentrated that is."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True)
class Concentrate:
    """A bottle of the store: percent by mass and density as its label says, and the caution of diluting it."""

    formula: str
    name: str
    percent: str
    density: str
    caution: str


@cache
def _table() -> Mapping[str, Concentrate]:
    text = files("claykettle.core.chemistry").joinpath("data/concentrates.toml").read_text(encoding="utf-8")
    return {formula: Concentrate(formula, **row) for formula, row in tomllib.loads(text).items()}


def concentrate_of(formula: str) -> Concentrate | None:
    """The bottle of this substance, None where the table holds none."""
    return _table().get(formula)
