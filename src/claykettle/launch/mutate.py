"""`kettle mutate`: is every threshold of judgement pinned by a test?

Every comparison, limit and factor of the modules in tests/mutation.toml is changed by itself, and that module's tests
are run; a change that no test notices is a survivor. Each change lives in a process of its own, forked when all tests
are loaded, so that a mutant takes no longer than its tests. Not run in CI.
"""

from __future__ import annotations

import ast
import io
import os
import signal
import sys
import tomllib
import types
import unittest
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from importlib import import_module
from pathlib import Path
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.quantity import unit
from claykettle.launch.paths import ROOT, say

MOST_SURVIVING = 0.05
PLAN = ROOT / "tests/mutation.toml"
_EDGE: Mapping[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
}  # fmt: skip
_TURN: Mapping[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt,
}  # fmt: skip
FACTOR = 1.5
LONGEST_S = 120


@dataclass(frozen=True)
class Mutant:
    """One change: in which module and line, what stood there and what stands there now, and the changed module."""

    module: str
    line: int
    before: str
    after: str
    tree: ast.Module

    def told(self) -> str:
        """The change on one line."""
        return f"{self.module.removeprefix('claykettle.core.')}:{self.line}  {self.before}  →  {self.after}"


def run_mutate(patterns: Sequence[str]) -> int:
    """Change what can be changed; the exit status is 1 where more than one in twenty goes unnoticed."""
    sys.path.insert(0, str(ROOT))
    plan = tomllib.loads(PLAN.read_text(encoding="utf-8"))
    wanted = {name: row for name, row in plan["modules"].items() if not patterns or any(p in name for p in patterns)}
    same = {(row["module"], row["change"]) for row in plan.get("same", ())}
    made = noticed = 0
    for name, tests in wanted.items():
        module = import_module(f"claykettle.core.{name}")
        suite = unittest.defaultTestLoader.loadTestsFromNames(tests)
        if not _survives(None, module, suite):
            say(f"{name}: its tests do not pass as they are")
            return 1
        rows = [row for row in mutants(module) if (name, f"{row.before} → {row.after}") not in same]
        survivors = [row for row in rows if _survives(row, module, suite)]
        made, noticed = made + len(rows), noticed + len(rows) - len(survivors)
        say(f"{name}: {len(rows) - len(survivors)} of {len(rows)} noticed")
        for row in survivors:
            print(row.told(), flush=True)
    print(f"{noticed} of {made} changes noticed, {100 * (1 - noticed / max(made, 1)):.1f} % survive", flush=True)
    return 1 if made - noticed > MOST_SURVIVING * made else 0


def mutants(module: types.ModuleType) -> Iterator[Mutant]:
    """Every change of a module's comparisons, limits and factors, one at a time."""
    source = Path(str(module.__file__)).read_text(encoding="utf-8")
    tree = ast.parse(source)
    for index, node in enumerate(_places(tree)):
        for change in range(_changes(node)):
            changed = ast.parse(source)
            own = list(_places(changed))[index]
            before = ast.unparse(own)
            _change(own, change)
            yield Mutant(module.__name__, node.lineno, before, ast.unparse(own), ast.fix_missing_locations(changed))


def _places(tree: ast.AST) -> list[Any]:
    """The nodes that can be changed, in order."""
    found: list[Any] = []

    def walk(node: ast.AST, counts: bool) -> None:
        is_comparison = isinstance(node, ast.Compare) and type(node.ops[0]) in _EDGE
        if is_comparison or (isinstance(node, ast.Constant) and counts and _is_figure(node)):
            found.append(node)
        for child in ast.iter_child_nodes(node):
            walk(child, _counts(node, child, counts))

    walk(tree, False)
    return found


def _counts(parent: ast.AST, child: ast.AST, counts: bool) -> bool:
    """Whether a figure below `child` is a limit or factor, and not a place in a list or a number of digits shown."""
    if isinstance(parent, ast.Subscript | ast.FormattedValue | ast.JoinedStr | ast.FunctionDef | ast.ClassDef):
        return False
    if isinstance(parent, ast.Assign | ast.Compare):
        return True
    if isinstance(parent, ast.BinOp):
        return isinstance(parent.op, ast.Mult | ast.Div | ast.Add | ast.Sub)
    return counts


def _is_figure(node: ast.Constant) -> bool:
    if isinstance(node.value, str):
        figure, _, symbol = node.value.partition(" ")
        try:
            return Decimal(figure) != 0 and (not symbol or unit(symbol).symbol == symbol)
        except (ArithmeticError, KeyError, Refusal):
            return False
    return isinstance(node.value, int | float) and not isinstance(node.value, bool) and node.value not in (0, 1)


def _changes(node: Any) -> int:
    return 2 if isinstance(node, ast.Constant) or type(node.ops[0]) in _TURN else 1


def _change(node: Any, number: int) -> None:
    if isinstance(node, ast.Compare):
        table = _EDGE if number == 0 else _TURN
        node.ops[0] = table[type(node.ops[0])]()
        return
    factor = FACTOR if number == 0 else 1 / FACTOR
    if isinstance(node.value, str):
        figure, gap, unit = node.value.partition(" ")
        node.value = f"{Decimal(figure) * Decimal(str(factor))}{gap}{unit}"
    elif isinstance(node.value, int):
        node.value = node.value + 1 if number == 0 else node.value - 1
    else:
        node.value *= factor


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
