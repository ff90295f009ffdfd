"""Finds the methods: every folder of this package that holds a `method.py`. Adding one touches no list."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from importlib import import_module
from importlib.resources import files

from claykettle.core import methods
from claykettle.core.errors import refuse
from claykettle.core.method import Method


@cache
def _folders() -> tuple[str, ...]:
    folders = sorted(files(methods).iterdir(), key=lambda folder: folder.name)
    return tuple(folder.name for folder in folders if folder.joinpath("method.py").is_file())


@cache
def _method_of(folder: str) -> Method:
    """The method that a folder declares, its worksheet built once for every shape so that a faulty one is refused."""
    method = import_module(f"{methods.__name__}.{folder}.method").METHOD
    assert isinstance(method, Method) and method.name == folder
    method.check()
    return method


@cache
def all_methods() -> Mapping[str, Method]:
    """Every method by name; a folder bears its method's name."""
    return {folder: _method_of(folder) for folder in _folders()}


def method_named(name: str) -> Method:
    """The method of this name. Raises Refusal `unknown-method` at path `method`."""
    if name not in _folders():
        known = ", ".join(_folders())
        raise refuse("unknown-method", f"'{name[:40]}' is not a method known here; it is one of {known}.", "method")
    return _method_of(name)
