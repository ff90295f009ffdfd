"""Which hydrates of a salt are known as solids, from data/hydrates.toml."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, lru_cache
from importlib.resources import files

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.salts import salt_of


@dataclass(frozen=True)
class KnownSalt:
    """A salt of the list: its name, its hydrates (the richest first) and what is seen of them."""

    formula: Formula
    name: str
    hydrates: tuple[Formula, ...]
    seen: str


@cache
def known_salts() -> tuple[KnownSalt, ...]:
    """Every salt of the list."""
    text = files("claykettle.core.chemistry").joinpath("data/hydrates.toml").read_text(encoding="utf-8")
    return tuple(_salt(row) for row in tomllib.loads(text)["salt"])


def _salt(row: dict[str, object]) -> KnownSalt:
    salt = parse_formula(str(row["formula"]))
    ratios = [Fraction(str(ratio)) for ratio in row["ratios"]]  # type: ignore[attr-defined]  # a TOML list of texts
    hydrates = tuple(salt.hydrate(ratio) for ratio in sorted(ratios, reverse=True))
    return KnownSalt(salt, str(row["name"]), hydrates, str(row["seen"]))


def all_hydrates() -> tuple[Formula, ...]:
    """Every hydrate of the list."""
    return tuple(hydrate for salt in known_salts() for hydrate in salt.hydrates)


def known_salt(formula: Formula) -> KnownSalt | None:
    """The listed salt with these atoms, however it was written; None for an unlisted one."""
    return next((row for row in known_salts() if row.formula.counts == formula.counts), None)


GIVE_ACID = {("Mg", 2), ("Al", 3), ("Fe", 3), ("Cr", 3), ("Zn", 2), ("La", 3), ("Ce", 3)}
"""Metals whose chloride and bromide take up their own water on heating and give off the acid (common practice)."""
KEEP_NITRATE = {"Na", "K", "Rb", "Cs", "Ca", "Sr", "Ba"}
"""Metals whose nitrate loses its water before it decomposes (common practice)."""


@lru_cache(maxsize=512)
def given_off(hydrate: Formula) -> str:
    """What a hydrate gives off with its water when it is heated, as a name; empty where that is water alone."""
    salt = salt_of(hydrate.anhydrous)
    if salt is None:
        return ""
    if salt.anion == "NO3" and salt.cation not in KEEP_NITRATE:
        return "brown, poisonous oxides of nitrogen"
    if salt.anion in ("Cl", "Br") and (salt.cation, salt.charge) in GIVE_ACID:
        return "hydrogen chloride" if salt.anion == "Cl" else "hydrogen bromide"
    return ""


def lower_hydrates(hydrate: Formula) -> tuple[Formula, ...]:
    """The listed hydrates of the same salt that hold less water, the richest first; empty for an unlisted salt."""
    known = known_salt(hydrate.anhydrous)
    rows = known.hydrates if known else ()
    return tuple(row for row in rows if row.water_ratio < hydrate.water_ratio)
