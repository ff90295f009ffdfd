"""The register of substances: what each is called, what it does to people, and where it goes when the work is done.

What ships stands in data/substances.toml; an instructor adds others. A waste stream that nobody named is open: it is
asked for, never assumed.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from claykettle.core.chemistry.formula import Formula, parse_formula

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
    was named.
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
        )
        for row in _table()["substance"]
    )


class Register:
    """All substances: of one formula that which was added last counts."""

    def __init__(self, added: Iterable[Substance] = ()):
        rows = (*shipped_substances(), *added)
        self.substances = tuple({row.formula.text: row for row in rows}.values())

    def find(self, formula: Formula) -> Substance | None:
        """The substance with these atoms; else one that differs from it only in its crystal water."""
        same = (row for row in reversed(self.substances) if row.formula.matter == formula.matter)
        dry = formula.anhydrous.matter
        alike = (row for row in reversed(self.substances) if row.formula.anhydrous.matter == dry)
        return next(same, None) or next(alike, None)

    def stream_of(self, formula: Formula, dissolved: bool) -> str:
        """The name of the stream that a substance goes to in this form, OPEN where it is not known."""
        found = self.find(formula)
        if found is None:
            return OPEN
        return found.dissolved if dissolved else found.solid


@cache
def shipped_register() -> Register:
    """The register as it ships."""
    return Register()
