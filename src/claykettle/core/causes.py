"""Error causes as typed disturbances, replayed through the same worksheet.

No sign and no size stands anywhere in a file: a cause says *what* it disturbs, the replay says what
that does to the result. Five kinds: a reading shifted, a reading scaled, a line replaced, an option
replaced, or the truth itself changed (then the method's own bench model makes the readings).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from claykettle.core.uncertainty import nominal
from claykettle.core.worksheet import Shape, Values

if TYPE_CHECKING:
    from claykettle.core.method import Method

Readings = Mapping[str, Any]


@dataclass(frozen=True)
class ReadingShifted:
    """`reading` shows `factor` × dose more than it should (dose in SI); every weighing of a series alike."""

    reading: str
    factor: float = 1.0


@dataclass(frozen=True)
class ReadingScaled:
    """`reading` shows (1 + dose) times what it should."""

    reading: str


@dataclass(frozen=True)
class LineReplaced:
    """The calculation uses other functions for lines, by name, such as leaving a correction out. No dose.

    Lines that the page does not have stay out of it.
    """

    functions: Mapping[str, Callable[..., Any]]


@dataclass(frozen=True)
class OptionReplaced:
    """The calculation believes another option. No dose."""

    option: str
    value: Any


@dataclass(frozen=True)
class TruthChanged:
    """The matter in the vessel is not what it should be; `fault` is a field of the method's truth."""

    fault: str


def _always(_: Any) -> bool:
    return True


@dataclass(frozen=True)
class Cause:
    """One thing that can have gone wrong: its name, kind, usual and largest believable dose (SI), and why no more.

    `when` tells from the options whether it can happen at all.
    """

    code: str
    label: str
    kind: ReadingShifted | ReadingScaled | LineReplaced | OptionReplaced | TruthChanged
    unit: str = "g"
    usual: float = 0.0
    believable: float = 0.0
    limit: str = ""
    when: Callable[[Any], bool] = _always


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
            return honest, method.page.build(Shape(options, shape.net, shape.split, shape.taken)).evaluate(readings)
        case TruthChanged(fault):
            truth = method.truth(shape, honest)
            clean = sheet.evaluate(method.bench(shape, truth, {}))
            return clean, sheet.evaluate(method.bench(shape, truth, {fault: dose}))


def _changed(readings: Readings, name: str, change: Callable[[float], float]) -> dict[str, Any]:
    changed = dict(readings)
    value = changed.get(name)
    if value is not None:
        changed[name] = [change(one) for one in value] if isinstance(value, list | tuple) else change(value)
    return changed
