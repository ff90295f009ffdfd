"""The working with a student's own figures in it: what a line comes to from what they had above it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.marking.claims import Claim
from claykettle.core.method import Method, Trial
from claykettle.core.quantity import RECTANGULAR, Number, nominal, reading_variable
from claykettle.core.sheet import LineDef, Pick, Values, Worksheet


@dataclass(frozen=True)
class Carried:
    """A line's figure (SI) out of the claims above it, how far their rounding can move it, and what was picked."""

    value: float | None
    rounding: float
    values: Values


@dataclass(frozen=True)
class Own:
    """A trial with the claims of a student. Every question costs one evaluation of the working, and is asked once."""

    method: Method
    trial: Trial
    claims: Mapping[str, Claim]
    _asked: dict[str, Carried] = field(default_factory=dict)

    @property
    def sheet(self) -> Worksheet:
        """The page that the readings are worked out on."""
        return self.trial.sheet

    @cached_property
    def readings(self) -> Mapping[str, Any]:
        """The readings as plain SI numbers, with what the options give."""
        return {**self.sheet.given, **self.trial.plain}

    def carried(self, name: str) -> Carried:
        """A line out of the claims above it: those that measure something else are left out."""
        if name not in self._asked:
            self._asked[name] = self._carried(name)
        return self._asked[name]

    def _carried(self, name: str) -> Carried:
        above = self.above(name)
        overrides = {
            row.name: reading_variable(row.value, RECTANGULAR * row.half, row.name)
            for row in self.claims.values()
            if row.name in above and not row.is_other_kind
        }
        values = self.sheet.evaluate(self.readings, overrides, barring=False)
        found = values.get(name)
        if found is None:
            return Carried(None, 0.0, values)
        return Carried(nominal(found), _reach(found), values)

    def above(self, name: str) -> frozenset[str]:
        """Everything that a line is worked out from, lines and readings."""
        return self._above[name]

    @cached_property
    def _above(self) -> Mapping[str, frozenset[str]]:
        found: dict[str, frozenset[str]] = {}
        for line in self.sheet.lines:
            own: set[str] = set()
            for need in line.takes.values():
                own |= {need} | found.get(need, frozenset())
            found[line.name] = frozenset(own)
        return found

    def between(self, name: str) -> list[LineDef]:
        """The lines that a claim was worked out by, itself last: those above it up to the nearest other claims."""
        wanted = {name}
        for line in reversed(self.sheet.lines):
            if line.name in wanted:
                wanted |= {need for need in line.takes.values() if need not in self.claims}
        return [line for line in self.sheet.lines if line.name in wanted]


def _reach(value: Number) -> float:
    """How far the rounding of the claims can move a figure: the effects of all, added."""
    rows = getattr(value, "derivatives", {}).items()
    return float(sum(abs(slope) * variable.std_dev for variable, slope in rows))


@dataclass(frozen=True)
class Stretch:
    """The lines between a claim and the figures that it came from, worked out again with one of them gone wrong."""

    own: Own
    name: str
    lines: tuple[LineDef, ...]
    numbers: Mapping[str, float]

    @classmethod
    def of(cls, own: Own, name: str) -> Stretch:
        """The stretch that ends in this claim."""
        values = own.carried(name).values
        numbers = {key: _plain(value) for key, value in values.numbers.items()}
        return cls(own, name, tuple(own.between(name)), {key: row for key, row in numbers.items() if row is not None})

    def arguments(self, line: LineDef, wrong: Mapping[str, float] | None = None) -> dict[str, Any] | None:
        """What a line takes, with what has gone wrong so far; None where something of it is missing."""
        found: dict[str, Any] = {}
        for parameter, name in line.takes.items():
            if name == "options":
                found[parameter] = self.own.trial.options
            elif wrong is not None and name in wrong:
                found[parameter] = wrong[name]
            elif name in self.numbers:
                found[parameter] = self.numbers[name]
            elif name in self.own.readings:
                found[parameter] = self.own.readings[name]
            else:
                return None
        return found

    def ends(self, line: LineDef, value: float | None) -> float | None:
        """What the claim would be, had this line come to that value."""
        if value is None:
            return None
        wrong = {line.name: value}
        for row in self.lines[self.lines.index(line) + 1 :]:
            if any(name in wrong for name in row.takes.values()):
                found = called(row, self.arguments(row, wrong))
                if found is None:
                    return None
                wrong[row.name] = found
        return wrong.get(self.name)

    def through(self, other: Callable[[LineDef, Mapping[str, float]], float | None]) -> float | None:
        """What the claim would be, had every line of the stretch come to what `other` gives: of the line, and of what
        has gone wrong before it.
        """
        wrong: dict[str, float] = {}
        for line in self.lines:
            value = other(line, wrong)
            if value is not None:
                wrong[line.name] = value
        return wrong.get(self.name)

    def with_arguments(self, line: LineDef) -> Iterator[tuple[str, str, float]]:
        """Parameter, name and figure of everything plain that a line takes."""
        for parameter, value in (self.arguments(line) or {}).items():
            if isinstance(value, float | int):
                yield parameter, line.takes[parameter], float(value)


def _plain(value: Number) -> float | None:
    try:
        return nominal(value)
    except TypeError:
        return None  # a series, or the options


def called(line: LineDef, arguments: Mapping[str, Any] | None) -> float | None:
    """A line's function on plain numbers; None where it has no figure."""
    if arguments is None:
        return None
    try:
        value = line.function(**arguments)
        if isinstance(value, Pick):
            value = value.value
        return None if value is None else nominal(value)
    except (Refusal, ArithmeticError, ValueError, TypeError):
        return None
