"""What a run of a method is for, as an instructor says it when a class is planned; the words stand in `aim.toml`."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Mapping
from importlib.resources import files
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import WorksheetError

FILE = "aim.toml"
Words = Annotated[str, Field(max_length=120)]


class Aim(BaseModel):
    """What benches do (`find the water of`), what one bench does (`finds …`), and with what.

    `matter` are the options, or what they say together, that name it: the first of them that is given; `otherwise` the
    words where none is. A template such as `{element} and {partner}` wants all its parts. `schools` are the answers in
    words that fit the sentence (an empty one goes without saying); `hidden` says under which answers a question does
    not arise.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    says: Words
    one: Words
    matter: list[Words]
    otherwise: Words
    schools: dict[str, dict[str, Words]] = {}
    hidden: dict[str, dict[str, list[str]]] = {}

    def formulas(self, options: Any) -> tuple[str, tuple[Formula, ...]]:
        """The template that fits the options, its formulas; the words that stand for none with no formula."""
        for template in self.matter:
            found = [_formula(getattr(options, name, None)) for name in _names(template)]
            if found and None not in found:
                return template, tuple(row for row in found if row is not None)
        return self.otherwise, ()

    def in_words(self, template: str, names: Mapping[str, str]) -> str:
        """The template with names put in for its formulas, in order of mention."""
        return template.format_map(dict(zip(_names(template), names.values(), strict=False)))

    def asks(self, school: str, chosen: Mapping[str, str]) -> bool:
        """Whether a question arises under the answers to the others."""
        return not any(chosen.get(other) in answers for other, answers in self.hidden.get(school, {}).items())


def read_aim(package: str) -> Aim:
    """The aim of the method in this folder. Raises WorksheetError for a file that is not understood."""
    try:
        return Aim.model_validate(tomllib.loads(files(package).joinpath(FILE).read_text(encoding="utf-8")))
    except ValidationError as error:
        raise WorksheetError(f"{package}: its aim is not understood: {error}") from None


def _names(template: str) -> list[str]:
    return [part.partition("}")[0] for part in template.split("{")[1:]]


def _formula(value: object) -> Formula | None:
    """The formula that a value names: itself, an equation's first reactant, the first of several."""
    return next(_found(value), None)


def _found(value: object) -> Iterator[Formula]:
    if isinstance(value, Formula):
        yield value
    elif isinstance(value, Equation):
        yield value.reactants[0].formula
    elif isinstance(value, str) and value:
        yield parse_formula(value)
    elif isinstance(value, tuple | list) and value:
        yield from _found(value[0])
    elif hasattr(value, "formula"):
        yield from _found(value.formula)
