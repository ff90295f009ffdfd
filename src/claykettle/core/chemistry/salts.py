"""A salt taken apart into cation and anion, and whether it dissolves, by data/solubility_rules.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from importlib.resources import files
from typing import Any, Literal

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.formula import Formula, parse_formula

AMMONIUM = "NH4"
Dissolves = Literal["yes", "slight", "no"]


@dataclass(frozen=True)
class Salt:
    """A salt: its cation (an element or NH4) with its charge, and its anion without one."""

    cation: str
    charge: int
    anion: str

    @property
    def ion(self) -> str:
        """The cation as it stands in water: Co^2+."""
        return f"{self.cation}^{self.charge if self.charge > 1 else ''}+"


@dataclass(frozen=True)
class Solubility:
    """Whether a salt dissolves in water, and the rule that says so."""

    dissolves: Dissolves
    rule: str


@cache
def _table() -> Mapping[str, Any]:
    text = files("claykettle.core.chemistry").joinpath("data/solubility_rules.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


@cache
def _anions() -> tuple[tuple[str, Mapping[str, Fraction], int], ...]:
    rows = ((text, parse_formula(text).counts, charge) for text, charge in _table()["anions"].items())
    return tuple(rows)


def salt_of(formula: Formula) -> Salt | None:
    """The formula as a salt, its crystal water left aside; None where it is none that the rules know."""
    if formula.charge:
        return None
    counts = formula.anhydrous.counts
    return next(iter(_readings(counts)), None)


def _readings(counts: Mapping[str, Fraction]) -> Iterator[Salt]:
    for anion, parts, charge in sorted(_anions(), key=lambda row: -sum(row[1].values())):
        for cation, count, rest in _cations(counts):
            times = {rest.get(element, Fraction(0)) / amount for element, amount in parts.items()}
            if len(times) != 1 or set(rest) - set(parts):
                continue
            number = times.pop()
            positive = -charge * number / count
            known = (1,) if cation == AMMONIUM else common_charges(cation)
            if number > 0 and positive.denominator == 1 and int(positive) in known:
                yield Salt(cation, int(positive), anion)


def _cations(counts: Mapping[str, Fraction]) -> Iterator[tuple[str, Fraction, dict[str, Fraction]]]:
    """Every way to take a cation out of a formula: its name, how many, and what remains."""
    for element in counts:
        if any(charge > 0 for charge in common_charges(element)) and element != "H":
            yield element, counts[element], {name: count for name, count in counts.items() if name != element}
    nitrogen, hydrogen = counts.get("N", Fraction(0)), counts.get("H", Fraction(0))
    for number in range(1, int(min(nitrogen, hydrogen / 4)) + 1):
        rest = dict(counts) | {"N": nitrogen - number, "H": hydrogen - 4 * number}
        yield AMMONIUM, Fraction(number), {name: count for name, count in rest.items() if count}


def solubility_of(formula: Formula) -> Solubility | None:
    """Whether a salt dissolves in water at room temperature; None where the rules do not know it."""
    salt = salt_of(formula)
    if salt is None:
        return None
    always = _table()["always"]
    if salt.cation in always["cations"]:
        return Solubility(always["but"].get(f"{salt.cation} {salt.anion}", "yes"), always["says"])
    row = next(row for row in _table()["rule"] if salt.anion in row["anions"])
    for answer in ("yes", "no", "slight"):
        if {salt.cation, salt.ion} & set(row.get(answer, ())):
            return Solubility(answer, row["says"])
    return Solubility(row["dissolves"], row["says"])
