"""Reads a procedure's text, the pieces that it shares with others put in their places."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import yaml
from pydantic import ValidationError

from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.run.procedure import Piece, Procedure


def load_yaml(text: str) -> Any:
    """Plain values from YAML, by the fast reader where the library brings it: the same values, ten times as fast."""
    return yaml.load(text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))


def parse_procedure(text: str, pieces: Mapping[str, Piece] | None = None) -> Procedure:
    """A procedure from YAML or JSON text; a step `use: NAME` stands for the steps of the piece with this name.

    A step that says `each: N` stands for N of its kind, `{i}` in its texts being their number. Raises Refusal
    `procedure` with the place of every fault.
    """
    try:
        return Procedure.model_validate(_with_pieces(load_yaml(text), pieces or {}))
    except yaml.YAMLError as error:
        raise refuse("procedure", f"The procedure is not YAML: {error}") from None
    except ValidationError as error:
        faults = [Fault("procedure", ".".join(map(str, row["loc"])), row["msg"]) for row in error.errors()]
        raise Refusal(*faults) from None


def _with_pieces(document: Any, pieces: Mapping[str, Piece]) -> Any:
    """The document with every piece that it uses put in the place of its step."""
    steps = document.get("steps") if isinstance(document, dict) else None
    if not isinstance(steps, list):
        return document
    whole = dict(document) | {"steps": []}
    for step in _each(steps):
        name = step.get("use") if isinstance(step, dict) else None
        if name is None:
            whole["steps"].append(step)
            continue
        if name not in pieces:
            raise refuse("procedure", f"There is no piece '{name}' that a step could use.", "steps")
        piece = _under(_part_of(pieces[name], step.get("only")), step.get("when", {}))
        whole["steps"] += piece.steps
        # what the procedure asks itself, such as another usual answer, comes before what the piece would ask
        whole["schools"] = piece.schools | dict(whole.get("schools", {}))
        whole["facts"] = piece.facts | dict(whole.get("facts", {}))
        whole["observe"] = list(dict.fromkeys([*whole.get("observe", []), *piece.observe]))
        whole["kit"] = [*whole.get("kit", []), *(row for row in piece.kit if row not in whole.get("kit", []))]
    return whole


def _each(steps: Iterable[Any]) -> Iterator[Any]:
    """The steps; one that says `each: N` stands for N of its kind, with `{i}` as their number."""
    for step in steps:
        count = step.get("each") if isinstance(step, dict) else None
        if not isinstance(count, int):
            yield step
            continue
        rest = {name: value for name, value in step.items() if name != "each"}
        yield from (_numbered(rest, str(number)) for number in range(1, min(count, MOST) + 1))


def _numbered(value: Any, number: str) -> Any:
    match value:
        case str():
            return value.replace("{i}", number)
        case list():
            return [_numbered(one, number) for one in value]
        case dict():
            return {_numbered(name, number): _numbered(one, number) for name, one in value.items()}
    return value


MOST = 50
"""So many steps of one kind, no more."""


def _part_of(piece: Piece, only: Any) -> Piece:
    """The piece, or only those of its steps that are named, with the schools that they ask about."""
    if only is None:
        return piece
    known = {row["id"] for row in piece.steps}
    for identifier in only:
        if identifier not in known:
            raise refuse("procedure", f"The piece has no step '{identifier}'.", "steps")
    steps = [row for row in piece.steps if row["id"] in only]
    asked = {school for row in steps for one in (row, *row.get("words", ())) for school in one.get("when", {})}
    kit = [row for row in piece.kit if row.get("when") and set(row["when"]) <= asked]
    schools = {name: row for name, row in piece.schools.items() if name in asked}
    return Piece(schools=schools, facts=piece.facts, steps=steps, kit=kit)


def _under(piece: Piece, when: Mapping[str, Any]) -> Piece:
    """The piece, its steps taken only in these schools; a step that asks about one of them itself keeps its answer."""

    def under(row: Any) -> Any:
        if "repeat" in row:
            return row | {"repeat": [under(step) for step in row["repeat"]]}
        return row | {"when": when | row.get("when", {})}

    return piece.model_copy(update={"steps": [under(row) for row in piece.steps]}) if when else piece
