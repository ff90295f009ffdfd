"""Finds the methods: every folder of this package that holds a `method.py`. Adding one touches no list.

A folder holds the method's procedure too; what procedures share lies in `parts`.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from importlib import import_module
from pathlib import Path

from claykettle.core import methods
from claykettle.core.errors import refuse
from claykettle.core.method import Method, MethodOf
from claykettle.core.run import Piece, Procedure, load_yaml, parse_procedure


@cache
def folders() -> Mapping[str, Path]:
    """The folder of every method, by the method's name."""
    found = (folder for path in methods.__path__ for folder in Path(path).iterdir())
    return {folder.name: folder for folder in sorted(found) if folder.joinpath("method.py").is_file()}


@cache
def _method_of(folder: str) -> Method:
    """The method that a folder declares, its worksheet built once for every shape so that a faulty one is refused."""
    method = import_module(f"{methods.__name__}.{folder}.method").METHOD
    assert isinstance(method, MethodOf) and method.name == folder
    method.check()
    return method


@cache
def all_methods() -> Mapping[str, Method]:
    """Every method by name; a folder bears its method's name."""
    return {folder: _method_of(folder) for folder in folders()}


def method_named(name: str) -> Method:
    """The method of this name. Raises Refusal `unknown-method` at path `method`."""
    if name not in folders():
        known = ", ".join(folders())
        raise refuse("unknown-method", f"'{name[:40]}' is not a method known here; it is one of {known}.", "method")
    return _method_of(name)


@cache
def shipped_pieces() -> dict[str, Piece]:
    """The pieces that procedures share, by name."""
    rows = sorted(path for folder in methods.__path__ for path in Path(folder, "parts").glob("*.yaml"))
    return {path.stem: Piece.model_validate(load_yaml(path.read_text(encoding="utf-8"))) for path in rows}


@cache
def _procedure_of(folder: str) -> Procedure:
    """The procedure that a folder holds."""
    text = folders()[folder].joinpath("procedure.yaml").read_text(encoding="utf-8")
    return parse_procedure(text, shipped_pieces())


def procedure_named(method: str, name: str | None) -> Procedure | None:
    """The shipped procedure of a method, None where it is another than the one of this name."""
    found = _procedure_of(method)
    return found if name in (None, found.name) else None


def shipped_procedures() -> tuple[Procedure, ...]:
    """The procedures that ship, each in its method's folder."""
    return tuple(map(_procedure_of, folders()))
