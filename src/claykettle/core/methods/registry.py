"""Finds the methods: every module of this package that declares a METHOD. Adding one touches no list."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from claykettle.core import methods
from claykettle.core.errors import refuse
from claykettle.core.method import Method


@cache
def _modules() -> tuple[str, ...]:
    return tuple(module.name for module in iter_modules(methods.__path__))


@cache
def _method_of(module: str) -> Method | None:
    """The method that a module declares, its worksheet built once for every shape so that a faulty one is refused."""
    method = getattr(import_module(f"{methods.__name__}.{module}"), "METHOD", None)
    if not isinstance(method, Method):
        return None
    method.check()
    return method


@cache
def all_methods() -> Mapping[str, Method]:
    """Every method by name; a module bears its method's name."""
    found = (_method_of(module) for module in _modules())
    return {method.name: method for method in found if method is not None}


def method_named(name: str) -> Method:
    """The method of this name. Raises Refusal `unknown-method` at path `method`."""
    method = _method_of(name) if name in _modules() else None
    if method is None:
        known = ", ".join(sorted(all_methods()))
        raise refuse("unknown-method", f"'{name[:40]}' is not a method known here; it is one of {known}.", "method")
    return method
