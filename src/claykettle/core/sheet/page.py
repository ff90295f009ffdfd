"""All readings and lines of one method; a shape makes the worksheet of them."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import lru_cache
from graphlib import CycleError, TopologicalSorter
from typing import Any

from claykettle.core.errors import WorksheetError
from claykettle.core.quantity import Number, Quantity
from claykettle.core.sheet.definitions import Function, Guard, LineDef, Options, ReadingDef, Rule, Shape, always, beside
from claykettle.core.sheet.worksheet import Worksheet


class Page:
    """All readings and lines of one method, before a shape chooses among them."""

    def __init__(self, method: str):
        self.method = method
        self.readings: list[ReadingDef] = []
        self.lines: list[LineDef] = []
        self.build = lru_cache(maxsize=256)(self._build)

    def reading(self, name: str, label: str, unit: str, instrument: str, **more: Any) -> None:
        """Declare a reading; `more` as the fields of ReadingDef."""
        self.readings.append(ReadingDef(name, label, unit, instrument, **more))

    def given(
        self, name: str, label: str, unit: str, source: Callable[[Options], Quantity], when: Guard = always
    ) -> None:
        """Declare a quantity that the options give; `source` is asked only where `when` holds."""
        self.readings.append(ReadingDef(name, label, unit, "", when=when, given=source))

    def line(self, label: str, unit: str, rule: Rule, **more: Any) -> Callable[[Function], Function]:
        """Declare the decorated function as a line; its parameters name what it needs.

        `more`: the fields of LineDef, `name` where it differs from the function's, and `takes` where a
        parameter's name differs from what it stands for (`takes={"weighed": "reagent_1"}`).
        """

        def declare(function: Function) -> Function:
            renamed = more.pop("takes", {})
            takes = {name: renamed.get(name, name) for name in inspect.signature(function).parameters}
            name = more.pop("name", function.__name__)
            self.lines.append(LineDef(name, label, unit, rule, function, takes=takes, **more))
            return function

        return declare

    def choice(self, label: str, unit: str, rule: Rule, **more: Any) -> Callable[[Function], Function]:
        """Declare a decision: the function returns a Pick, or None where it cannot decide."""
        return self.line(label, unit, rule, kind="choice", **more)

    def table(self, label: str, unit: str, rule: Rule, **more: Any) -> Callable[[Function], Function]:
        """Declare a fit or table: plain SI floats in and out, derivatives and units pass through the engine."""
        return self.line(label, unit, rule, kind="table", **more)

    def _build(self, shape: Shape) -> Worksheet:
        readings, lines = self._readings(shape), self._lines(shape)
        for name in sorted(shape.split):
            _split_net(name, readings, lines)
        known = set(readings) | set(lines) | {"options"} | {beside(row) for row in readings.values() if row.series}
        for line in lines.values():
            for need in line.needs:
                if need not in known:
                    raise WorksheetError(f"{self.method}: line '{line.name}' needs '{need}', which nothing defines")
        return Worksheet(self.method, shape, readings, _in_order(self.method, lines))

    def _readings(self, shape: Shape) -> dict[str, ReadingDef]:
        active: dict[str, ReadingDef] = {}
        for reading in self.readings:
            given = reading.name in shape.net
            hidden = reading.net and not given and not reading.sole
            if not reading.when(shape) or hidden or reading.instead_of in shape.net:
                continue
            if reading.optional and reading.name not in shape.taken:
                continue
            if reading.name in active:
                raise WorksheetError(f"{self.method}: two active readings '{reading.name}'")
            active[reading.name] = replace(reading, label=reading.labelled(shape.options))
        return active

    def _lines(self, shape: Shape) -> dict[str, LineDef]:
        active: dict[str, LineDef] = {}
        for line in self.lines:
            if not line.when(shape):
                continue
            if line.name in active:
                raise WorksheetError(f"{self.method}: two active definitions of line '{line.name}'")
            active[line.name] = line.under(shape.options)
        return active


def _split_net(name: str, readings: dict[str, ReadingDef], lines: dict[str, LineDef]) -> None:
    """Put NAME_tare and NAME_gross in the place of the net reading NAME."""
    net = readings[name]
    tare, gross = f"{name}_tare", f"{name}_gross"
    pair = {
        tare: replace(net, name=tare, label=f"tare of {net.label}", net=False, series=False),
        gross: replace(net, name=gross, label=f"gross of {net.label}", net=False),
    }
    kept = dict(readings)
    readings.clear()
    for other, definition in kept.items():
        readings.update(pair if other == name else {other: definition})
    rule = f"({readings[gross].label}) − ({readings[tare].label})"
    takes = {"gross": gross, "tare": tare}
    below = dict(lines)
    lines.clear()
    lines[name] = LineDef(name, net.label, net.unit, rule, _difference, positive=True, takes=takes)
    lines.update(below)


def _difference(gross: Number, tare: Number) -> Number:
    return gross - tare


def _in_order(method: str, lines: Mapping[str, LineDef]) -> tuple[LineDef, ...]:
    """The lines so that each stands below what it needs, otherwise as the module declares them."""
    graph = {name: [need for need in line.needs if need in lines] for name, line in lines.items()}
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as loop:
        raise WorksheetError(f"{method}: lines in a loop: {' → '.join(loop.args[1])}") from None
    ordered: dict[str, LineDef] = {}

    def place(name: str) -> None:
        for need in graph[name]:
            place(need)
        ordered.setdefault(name, lines[name])

    for name in lines:
        place(name)
    return tuple(ordered.values())
