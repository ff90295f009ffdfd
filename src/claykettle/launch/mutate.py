"""`kettle mutate`: does a test notice when the code decides otherwise?

Every comparison, limit and factor of the modules in tests/mutation.toml is changed by itself, and that module's tests
are run; a change that no test notices is a survivor. Of the modules that stand there under `structure` conditions,
roles, keys and order are changed (mutants.py): as many of each as are asked for, the same ones for the same seed.
Each change lives in a process of its own, forked when all tests are loaded, so that a mutant takes no longer than its
tests. Not run in CI.
"""

from __future__ import annotations

import io
import os
import signal
import sys
import tomllib
import types
import unittest
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from importlib import import_module
from random import Random
from typing import Any

from claykettle.launch.mutants import Mutant, mutants
from claykettle.launch.paths import ROOT, say

MOST_SURVIVING = {"thresholds": 0.05, "structure": 0.1}
PLAN = ROOT / "tests/mutation.toml"
LONGEST_S = 120


@dataclass(frozen=True)
class Wanted:
    """Which modules, which kind of change, and how many of each module's at most (0: all); `seed` says which."""

    patterns: Sequence[str] = ()
    kind: str = "thresholds"
    most: int = 0
    seed: int = 1


def run_mutate(wanted: Wanted) -> int:
    """Change what can be changed; the exit status is 1 where too many go unnoticed."""
    sys.path.insert(0, str(ROOT))
    plan = tomllib.loads(PLAN.read_text(encoding="utf-8"))
    modules = plan["modules" if wanted.kind == "thresholds" else wanted.kind]
    same = {(row["module"], row["change"]) for row in plan.get("same", ())}
    made = noticed = 0
    for name, tests in modules.items():
        if wanted.patterns and not any(part in name for part in wanted.patterns):
            continue
        module = import_module(f"claykettle.{name}" if wanted.kind == "structure" else f"claykettle.core.{name}")
        suite = unittest.defaultTestLoader.loadTestsFromNames(tests)
        if not _survives(None, module, suite):
            say(f"{name}: its tests do not pass as they are")
            return 1
        rows = [row for row in mutants(module, wanted.kind) if (name, f"{row.before} → {row.after}") not in same]
        if wanted.most and len(rows) > wanted.most:
            rows = Random(wanted.seed).sample(rows, wanted.most)
        survivors = [row for row in rows if _survives(row, module, suite)]
        made, noticed = made + len(rows), noticed + len(rows) - len(survivors)
        say(f"{name}: {len(rows) - len(survivors)} of {len(rows)} noticed")
        for row in survivors:
            print(row.told(), flush=True)
    print(f"{noticed} of {made} changes noticed, {100 * (1 - noticed / max(made, 1)):.1f} % survive", flush=True)
    return 1 if made - noticed > MOST_SURVIVING[wanted.kind] * made else 0


def _passes(suite: unittest.TestSuite) -> bool:
    return unittest.TextTestRunner(io.StringIO(), failfast=True).run(suite).wasSuccessful()


def _survives(mutant: Mutant | None, module: types.ModuleType, suite: unittest.TestSuite) -> bool:
    """Whether the tests pass with the change in place, or with none."""
    child = os.fork()
    if child == 0:
        signal.alarm(LONGEST_S)  # a change that makes a loop endless is noticed too
        sys.stderr = sys.stdout = io.StringIO()
        os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
        try:
            if mutant is not None:
                _put(mutant, module)
            os._exit(0 if _passes(suite) else 1)
        except BaseException:  # noqa: BLE001  # a change that breaks the module is noticed
            os._exit(1)
    _, status = os.waitpid(child, 0)
    return status == 0


def _put(mutant: Mutant, module: types.ModuleType) -> None:
    """Put the changed code in the place of the module's own, wherever its functions and limits are held."""
    fresh = dict(vars(module))
    exec(compile(mutant.tree, str(module.__file__), "exec"), fresh)
    for name, new in fresh.items():
        old = vars(module).get(name)
        _swap(old, new)
        if isinstance(new, int | float | str | Decimal | tuple) and new != old:
            _everywhere(name, old, new)
            vars(module)[name] = new


def _swap(old: Any, new: Any) -> None:
    """Give a function, or the methods of a class, the new code."""
    plain_old, plain_new = getattr(old, "__wrapped__", old), getattr(new, "__wrapped__", new)
    if isinstance(plain_old, types.FunctionType) and isinstance(plain_new, types.FunctionType):
        if plain_old.__module__ == plain_new.__module__:
            plain_old.__code__ = plain_new.__code__
            plain_old.__defaults__ = plain_new.__defaults__
        getattr(old, "cache_clear", lambda: None)()
    elif isinstance(old, type) and isinstance(new, type) and old is not new:
        for name, own in vars(new).items():
            _swap(_function(vars(old).get(name)), _function(own))


def _function(member: Any) -> Any:
    """The function behind a method, a property or a cached one."""
    return next((own for name in ("fget", "func", "__func__") if (own := getattr(member, name, None))), member)


def _everywhere(name: str, old: Any, new: Any) -> None:
    """Change a limit in every module that imported it."""
    for module in list(sys.modules.values()):
        if module is not None and vars(module).get(name, module) is old:
            vars(module)[name] = new
