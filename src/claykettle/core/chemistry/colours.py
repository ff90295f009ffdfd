"""Which dissolved ions are seen by their colour, from data/ion_colours.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.salts import salt_of


@cache
def _colours() -> Mapping[str, str]:
    text = files("claykettle.core.chemistry").joinpath("data/ion_colours.toml").read_text(encoding="utf-8")
    colours: Mapping[str, str] = tomllib.loads(text)["colours"]
    return colours


def colour_of(formula: Formula) -> str:
    """The colour that a dissolved salt or ion shows; empty for a colourless one, or one that is not listed."""
    if formula.charge:
        return _colours().get(formula.text, "")
    salt = salt_of(formula)
    if salt is None:
        return ""
    return _colours().get(salt.ion) or _colours().get(salt.anion, "")
