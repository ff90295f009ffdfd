"""The register of substances: what each is called, what it does to people, and where it goes when the work is done.

What ships stands in data/substances.toml; an instructor adds others. A waste stream that nobody named is open: it is
asked for, never assumed.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache
from importlib.resources import files
from typing import Any

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import Refusal

OPEN = ""
"""The stream of a substance for which none was named."""


@dataclass(frozen=True)
class Stream:
    """Where waste goes: a short name, the container, and what to do."""

    name: str
    title: str
    say: str


@dataclass(frozen=True)
class Substance:
    """One substance. `density` in g/mL as text, empty where it is not known; `own` tells that it was added here.

    `dissolved` and `solid` name the waste stream of its solution and of what is left of it as a solid, OPEN where none
    was named; `also` are other names and abbreviations.
    """

    formula: Formula
    name: str
    density: str
    hazards: tuple[str, ...]
    dissolved: str
    solid: str
    remarks: str
    source: str
    own: bool = False
    also: tuple[str, ...] = ()

    @property
    def names(self) -> tuple[str, ...]:
        """Everything that it is called."""
        return (self.name, *self.name.split(", "), *self.also)

    @property
    def harms(self) -> tuple[str, ...]:
        """The hazards, without the sentence that says there are none."""
        return tuple(row for row in self.hazards if not row.startswith(NONE_KNOWN))


NONE_KNOWN = "none known"
SHIPPED = "as on labels (EC 1272/2008, Annex VI), from memory"


@cache
def _table() -> Mapping[str, Any]:
    text = files("claykettle.core.chemistry").joinpath("data/substances.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


@cache
def streams() -> Mapping[str, Stream]:
    """All waste streams by their name."""
    return {name: Stream(name, row["title"], row["say"]) for name, row in _table()["streams"].items()}


@cache
def shipped_substances() -> tuple[Substance, ...]:
    """What ships, in the order of the file."""
    return tuple(
        Substance(
            parse_formula(row["formula"]),
            row["name"],
            row.get("density", ""),
            tuple(row["hazards"]),
            row["dissolved"],
            row["solid"],
            row.get("remarks", ""),
            SHIPPED,
            also=tuple(_table()["also"].get(row["formula"], ())),
        )
        for row in _table()["substance"]
    )


class Register:
    """All substances: of one formula that which was added last counts."""

    def __init__(self, added: Iterable[Substance] = ()):
        rows = (*shipped_substances(), *added)
        self.substances = tuple({row.formula.text: row for row in rows}.values())
        self._by_text = {row.formula.text: row for row in self.substances}
        self._by_matter: dict[frozenset[tuple[str, Fraction]], list[Substance]] = {}
        self._by_dry_matter: dict[frozenset[tuple[str, Fraction]], Substance] = {}
        for row in self.substances:
            self._by_matter.setdefault(_key(row.formula), []).append(row)
            self._by_dry_matter[_key(row.formula.anhydrous)] = row

    def find(self, formula: Formula) -> Substance | None:
        """The substance of this formula; else one with the same atoms, or of isomers all that it may be.

        Else one that differs from it only in its crystal water, under its own formula and with no density.
        """
        exact = self._by_text.get(formula.text)
        if exact is not None:
            return exact
        same = self._by_matter.get(_key(formula), [])
        if same:
            return same[0] if len(same) == 1 else _one_of(same)
        alike = self._by_dry_matter.get(_key(formula.anhydrous))
        return None if alike is None else _with_other_water(alike, formula)

    def named(self, text: str) -> Substance | None:
        """The substance of this name or abbreviation, large and small letters alike; None for an unknown one."""
        wanted = text.strip().casefold()
        return next((row for row in reversed(self.substances) if wanted in map(str.casefold, row.names)), None)

    def stream_of(self, formula: Formula, dissolved: bool) -> str:
        """The name of the stream that a substance goes to in this form, OPEN where it is not known."""
        found = self.find(formula)
        if found is None:
            return OPEN
        return found.dissolved if dissolved else found.solid


def _key(formula: Formula) -> frozenset[tuple[str, Fraction]]:
    return frozenset(formula.matter.items())


def _one_of(isomers: Sequence[Substance]) -> Substance:
    """What may be any of these: all their names, all their hazards."""
    hazards = tuple(dict.fromkeys(text for row in isomers for text in row.hazards))
    return replace(isomers[0], name=" or ".join(row.name for row in isomers), density="", hazards=hazards)


def _with_other_water(found: Substance, formula: Formula) -> Substance:
    """The same salt with the water that this formula has: what it does is known, how dense it is is not."""
    words = [word for word in found.name.split() if not word.strip(",").endswith("hydrate")]
    name = " ".join(words).rstrip(",")
    if name == found.name:
        name += ", with other water" if formula.water else ", without its water"
    return replace(found, formula=formula, name=name, density="", also=())


@cache
def shipped_register() -> Register:
    """The register as it ships."""
    return Register()


ACTINIUM = "Ac"
"""What abbreviations write for acetyl; no laboratory of ours has the element."""


def formula_of(text: str) -> Formula:
    """A formula as typed, or that of a shipped substance by its name or abbreviation (`AcOH` is no actinium).

    Raises Refusal as `parse_formula`.
    """
    try:
        formula = parse_formula(text)
    except Refusal:
        named = shipped_register().named(text)
        if named is None:
            raise
        return named.formula
    # the register is looked into only where a formula cannot be what was meant: most are never anything else
    named = shipped_register().named(text) if ACTINIUM in formula.counts else None
    return formula if named is None else named.formula
