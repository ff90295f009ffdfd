"""What tells two salts apart by eye, flame or test tube, from data/ion_tests.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files
from typing import Any

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.salts import salt_of


@cache
def _data() -> Mapping[str, Any]:
    text = files("claykettle.core.chemistry").joinpath("data/ion_tests.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


def flame(salt: Formula) -> str:
    """The colour that the salt's metal gives a flame; empty where it gives none worth naming."""
    colours: Mapping[str, str] = _data()["flame"]
    return next((colour for metal, colour in colours.items() if metal in salt.counts), "")


def anion_test(salt: Formula) -> str:
    """The usual test for the salt's anion and what it gives, such as `acid: fizzes`; empty for an unlisted anion."""
    known = salt_of(salt)
    text = salt.anhydrous.text
    for row in _data()["anion"]:
        part: str = row["part"]
        # an anion that the rules know by itself is that one: a chlorate is no chloride
        if known.anion == part if known is not None else part in text and f"{part}O" not in text:
            return f"{row['test']}: {row['gives']}"
    return ""
