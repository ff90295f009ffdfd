"""Changes of code that a test must notice, one at a time, each as a whole changed module.

`thresholds` are comparisons, limits and factors. `structure` is what thresholds are not: roles exchanged, a condition
dropped, a key made shorter, an order turned round, the first for the last, one thing held against another.
"""

from __future__ import annotations

import ast
import types
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.quantity import unit

_EDGE: Mapping[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
}  # fmt: skip
_TURN: Mapping[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt,
}  # fmt: skip
FACTOR = 1.5
_PAIRS = (
    ("min", "max"), ("low", "high"), ("usual", "high"), ("first", "last"), ("before", "after"), ("since", "ready_at"),
    ("any", "all"), ("begins", "ends"), ("asked", "begun"), ("expected", "found"), ("theirs", "own"),
)  # fmt: skip
_OTHER = {one: other for pair in _PAIRS for one, other in (pair, pair[::-1])}
_ORDERS = ("key", "reverse", "default", "against", "lock")
"""Named arguments without which a call still means something: another order, another thing held against."""


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
        return f"{self.module.removeprefix('claykettle.')}:{self.line}  {self.before}  →  {self.after}"


def mutants(module: types.ModuleType, kind: str) -> Iterator[Mutant]:
    """Every change of one kind of a module, one at a time."""
    source = Path(str(module.__file__)).read_text(encoding="utf-8")
    places: Callable[[ast.AST], list[tuple[Any, list[Callable[[Any], None]]]]] = (
        _thresholds if kind == "thresholds" else _structure
    )
    for index, (node, changes) in enumerate(places(ast.parse(source))):
        for number in range(len(changes)):
            changed = ast.parse(source)
            own, ways = places(changed)[index]
            before = ast.unparse(own)
            ways[number](own)
            if ast.unparse(own) != before:
                yield Mutant(
                    module.__name__, _line_of(node), before, ast.unparse(own), ast.fix_missing_locations(changed)
                )


def _line_of(node: Any) -> int:
    return int(node.target.lineno if isinstance(node, ast.comprehension) else node.lineno)


# Thresholds


def _thresholds(tree: ast.AST) -> list[tuple[Any, list[Callable[[Any], None]]]]:
    """The comparisons and figures that can be changed, in order, and in which ways."""
    found: list[tuple[Any, list[Callable[[Any], None]]]] = []

    def walk(node: ast.AST, counts: bool) -> None:
        is_comparison = isinstance(node, ast.Compare) and type(node.ops[0]) in _EDGE
        if is_comparison or (isinstance(node, ast.Constant) and counts and _is_figure(node)):
            found.append((node, [lambda own: _change(own, 0), lambda own: _change(own, 1)][: _changes(node)]))
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
        figure, gap, symbol = node.value.partition(" ")
        node.value = f"{Decimal(figure) * Decimal(str(factor))}{gap}{symbol}"
    elif isinstance(node.value, int):
        node.value = node.value + 1 if number == 0 else node.value - 1
    else:
        node.value *= factor


# Structure


def _structure(tree: ast.AST) -> list[tuple[Any, list[Callable[[Any], None]]]]:
    """The calls, conditions, keys and places that can be changed, in order, and in which ways."""
    found: list[tuple[Any, list[Callable[[Any], None]]]] = []

    def walk(node: ast.AST) -> None:
        ways = list(_ways(node))
        if ways:
            found.append((node, ways))
        for name, part in ast.iter_fields(node):
            # what kind a thing is of decides nothing
            if name not in ("annotation", "returns"):
                for child in part if isinstance(part, list) else [part]:
                    if isinstance(child, ast.AST):
                        walk(child)

    walk(tree)
    return found


def _ways(node: ast.AST) -> Iterator[Callable[[Any], None]]:
    match node:
        case ast.Call(func=ast.Name(id="min" | "max" | "isinstance" | "zip")):
            pass
        case ast.Call(args=[ast.Name() | ast.Attribute(), ast.Name() | ast.Attribute(), *_]):
            yield _exchange
        case ast.BoolOp(values=values):
            yield from (_without_operand(number) for number in range(len(values)))
        case ast.UnaryOp(op=ast.Not()):
            yield _affirm
        case ast.IfExp():
            yield _turn_round
        case ast.Subscript(slice=ast.Constant(value=0) | ast.UnaryOp(op=ast.USub(), operand=ast.Constant(value=1))):
            yield _other_end
        case ast.Tuple(elts=[_, _, *_], ctx=ast.Load()) if _is_key(node):
            yield _shorter
        case ast.comprehension(ifs=[_, *_]):
            yield _unconditional
        case ast.If(test=test, body=[ast.Return() | ast.Continue() | ast.Raise(), *_], orelse=[]):
            if not (isinstance(test, ast.Name) and test.id == "TYPE_CHECKING"):
                yield _never
    if isinstance(node, ast.Call):
        if any(row.arg in _ORDERS for row in node.keywords):
            yield _unordered
        if isinstance(node.func, ast.Name) and node.func.id in _OTHER:
            yield _other_function
    if isinstance(node, ast.Attribute) and isinstance(node.ctx, ast.Load) and node.attr in _OTHER:
        yield _other_attribute


def _is_key(node: ast.Tuple) -> bool:
    """Whether it is made of names alone, as a key or a rank is."""
    return all(isinstance(row, ast.Name | ast.Attribute) for row in node.elts)


def _exchange(node: ast.Call) -> None:
    node.args[0], node.args[1] = node.args[1], node.args[0]


def _without_operand(number: int) -> Callable[[ast.BoolOp], None]:
    def change(node: ast.BoolOp) -> None:
        # what is neutral in its place
        node.values[number] = ast.Constant(isinstance(node.op, ast.And))

    return change


def _affirm(node: ast.UnaryOp) -> None:
    node.operand = ast.UnaryOp(ast.Not(), node.operand)


def _turn_round(node: ast.IfExp) -> None:
    node.body, node.orelse = node.orelse, node.body


def _other_end(node: ast.Subscript) -> None:
    node.slice = ast.Constant(-1 if isinstance(node.slice, ast.Constant) else 0)


def _shorter(node: ast.Tuple) -> None:
    node.elts[-1] = ast.Constant(None)


def _unconditional(node: ast.comprehension) -> None:
    node.ifs = []


def _never(node: ast.If) -> None:
    node.test = ast.Constant(False)


def _unordered(node: ast.Call) -> None:
    node.keywords = [row for row in node.keywords if row.arg not in _ORDERS]


def _other_function(node: ast.Call) -> None:
    assert isinstance(node.func, ast.Name)
    node.func.id = _OTHER[node.func.id]


def _other_attribute(node: ast.Attribute) -> None:
    node.attr = _OTHER[node.attr]
