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
def all_methods() -> Mapping[str, Method]:
    """Every method by name, its worksheet built once for every shape so that a faulty one is refused here."""
    found: dict[str, Method] = {}
    for module in iter_modules(methods.__path__):
        method = getattr(import_module(f"{methods.__name__}.{module.name}"), "METHOD", None)
        if isinstance(method, Method):
            method.check()
            found[method.name] = method
    return found


def method_named(name: str) -> Method:
    """The method of this name. Raises Refusal `unknown-method` at path `method`."""
    method = all_methods().get(name)
    if method is None:
        known = ", ".join(sorted(all_methods()))
        raise refuse("unknown-method", f"'{name[:40]}' is not a method known here; it is one of {known}.", "method")
    return method
