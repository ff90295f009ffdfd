"""A cause replayed through the same worksheet: what it does to a result, its sign and its size."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from claykettle.core.method import (
    Cause,
    LineReplaced,
    OptionReplaced,
    ReadingScaled,
    ReadingShifted,
    TruthChanged,
)
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values

if TYPE_CHECKING:
    from claykettle.core.method import Method


Readings = Mapping[str, float | list[float]]


@dataclass(frozen=True)
class Replay:
    """A result before and after a cause, in SI, and the choices in the graph that flipped."""

    before: float
    after: float
    flips: tuple[str, ...]

    @property
    def shift(self) -> float:
        """How far the result moves: its sign and size."""
        return self.after - self.before


def replay(method: Method, shape: Shape, readings: Readings, cause: Cause, dose: float, result: str) -> Replay:
    """What `dose` (SI) of `cause` does to `result`, starting from plain SI readings.

    Raises KeyError where the result cannot be had from these readings even without the cause.
    """
    honest, disturbed = _both(method, shape, readings, cause, dose)
    return Replay(nominal(honest[result]), nominal(disturbed[result]), honest.flips(disturbed))


def _both(method: Method, shape: Shape, readings: Readings, cause: Cause, dose: float) -> tuple[Values, Values]:
    sheet = method.page.build(shape)
    kind = cause.kind
    readings = {**sheet.given, **readings}
    honest = sheet.evaluate(readings)
    match kind:
        case ReadingShifted(name, factor):
            return honest, sheet.evaluate(_changed(readings, name, lambda value: value + factor * dose))
        case ReadingScaled(name):
            return honest, sheet.evaluate(_changed(readings, name, lambda value: value * (1 + dose)))
        case LineReplaced(functions):
            return honest, sheet.evaluate(readings, functions=functions)
        case OptionReplaced(option, value):
            options = shape.options.model_copy(update={option: value})
            return honest, method.page.build(replace(shape, options=options)).evaluate(readings)
        case TruthChanged(fault):
            truth = method.bench.truth(shape, honest)
            clean = sheet.evaluate(method.bench.play(shape, truth, {}))
            return clean, sheet.evaluate(method.bench.play(shape, truth, {fault: dose}))


def _changed(readings: Readings, name: str, change: Callable[[float], float]) -> dict[str, float | list[float]]:
    changed = dict(readings)
    value = changed.get(name)
    if value is not None:
        changed[name] = [change(one) for one in value] if isinstance(value, list | tuple) else change(value)
    return changed
