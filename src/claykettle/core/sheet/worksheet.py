"""The worksheet: readings at the top, named lines below, each a small pure function of other lines.

A method declares all its readings and lines on a `Page`. `Page.build` makes the `Worksheet` for one
shape (options, and which readings are given net), with exactly one active definition a name. One
declaration serves evaluation with uncertainty, working, partial results, replay and marking.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from claykettle.core.errors import Refusal
from claykettle.core.quantity import Number, Unit, intermediate, nominal, through, unit, variances
from claykettle.core.sheet import rule as rules
from claykettle.core.sheet.definitions import LineDef, Pick, ReadingDef, Shape, beside

NO_FIGURE = "It has no figure: what stands below the fraction bar is nothing, or a figure lies where none can."


@dataclass(frozen=True)
class Values:
    """What came out: a number a name, the decisions taken, and for every other line what it lacks.

    `outside` says of each line that is asked beyond what its table or formula knows why it has no figure; `barred` are
    the lines that came to nothing or less where more is needed, so that nothing is built on them.
    """

    numbers: Mapping[str, Number]
    picks: Mapping[str, str] = field(default_factory=dict)
    lacking: Mapping[str, str] = field(default_factory=dict)
    outside: Mapping[str, str] = field(default_factory=dict)
    barred: tuple[str, ...] = ()
    _variances: dict[str, dict[str, float]] = field(default_factory=dict, compare=False, repr=False)
    _spreads: dict[str, float] = field(default_factory=dict, compare=False, repr=False)

    def __getitem__(self, name: str) -> Number:
        return self.numbers[name]

    def get(self, name: str) -> Number:
        """The number of a name, or None while it cannot be had."""
        return self.numbers.get(name)

    def spread(self, name: str) -> float:
        """The standard uncertainty of a name, worked out once; zero for what cannot be had."""
        if name not in self._spreads:
            self._spreads[name] = math.sqrt(math.fsum(self.variances(name).values()))
        return self._spreads[name]

    def variances(self, name: str) -> Mapping[str, float]:
        """What each reading adds to the variance of a name, worked out once."""
        if name not in self._variances:
            self._variances[name] = variances(self.numbers.get(name))
        return self._variances[name]

    def flips(self, other: Values) -> tuple[str, ...]:
        """The choices that fell differently in `other`."""
        return tuple(name for name, key in self.picks.items() if other.picks.get(name, key) != key)


@dataclass(slots=True)  # not frozen, as a candidate is not: dozens are made at every reading
class WorkingLine:
    """One line of the calculation page."""

    name: str
    label: str
    rule: str
    substituted: str
    result: str


@dataclass(frozen=True, eq=False)
class Worksheet:
    """The page built for one shape: what to read, and the lines in the order in which they are written."""

    method: str
    shape: Shape
    readings: Mapping[str, ReadingDef]
    lines: tuple[LineDef, ...]

    @cached_property
    def by_name(self) -> Mapping[str, LineDef]:
        """The lines by name."""
        return {line.name: line for line in self.lines}

    @cached_property
    def labels(self) -> Mapping[str, str]:
        """Label of every reading and line by name."""
        return {name: row.label for name, row in self.readings.items()} | {row.name: row.label for row in self.lines}

    @cached_property
    def given(self) -> Mapping[str, float]:
        """What the options give in place of readings, as plain SI numbers."""
        rows = self.readings.items()
        return {name: row.given(self.shape.options).si for name, row in rows if row.given is not None}

    @cached_property
    def _rules(self) -> dict[str, rules.Written]:
        return {}

    def _written(self, rule: str) -> rules.Written:
        """A rule taken apart once, to be written out with figures."""
        if rule not in self._rules:
            self._rules[rule] = rules.written(rule, tuple(self.labels.values()))
        return self._rules[rule]

    def evaluate(
        self,
        inputs: Mapping[str, Number],
        overrides: Mapping[str, Number] | None = None,
        functions: Mapping[str, Callable[..., Number]] | None = None,
        call: Callable[[LineDef, dict[str, Number]], Number] | None = None,
        barring: bool = True,
    ) -> Values:
        """All lines that can be had from `inputs` (SI numbers of any one kind, lists for series).

        `overrides` puts figures in the place of lines (marking); `functions` puts another function in the
        place of a line's own (a replayed cause); `call` calls a line for another kind of number (the
        dimension check). Without `barring` a figure that is nothing or less is built on all the same: a student does.
        Never raises for missing or impossible readings: they are named in `lacking`.
        """
        run = _Evaluation(self, inputs, overrides or {}, functions or {}, call or _call, barring)
        for line in self.lines:
            run.line(line)
        return Values(run.numbers, run.picks, run.lacking, run.outside, tuple(run.barred))

    def working(
        self,
        values: Values,
        shown: Mapping[str, str],
        decimals: Mapping[str, int],
        shown_in: Mapping[str, str] | None = None,
    ) -> list[WorkingLine]:
        """The calculation page.

        `shown` holds the readings as typed, by name, units set; `decimals` how many of them a typed reading
        has, by unit: a sum of readings needs no zeros beyond those. `shown_in` names the unit in which a class
        writes another, such as mmHg for kPa.
        """
        instead = shown_in or {}
        texts = {label: shown[name] for name, label in self.labels.items() if name in shown}
        page: list[WorkingLine] = []
        for line in self.lines:
            if line.name not in values.numbers:
                continue
            rule = line.rule_text(self.shape.options, values.picks.get(line.name))
            spread = values.spread(line.name)
            written_in = unit(instead[line.unit]) if line.unit in instead else line.shown_unit
            result = show(nominal(values[line.name]), spread, written_in, decimals.get(line.unit))
            substituted = rule if line.is_sentence(self.shape.options) else self._written(rule).put(texts)
            page.append(WorkingLine(line.name, line.label, rule, substituted, result))
            texts[line.label] = result
        return page


def show(value: float, spread: float, unit: Unit, least_decimals: int | None = None) -> str:
    """A line's value in its unit, with the digits that the working needs; zeros beyond `least_decimals` go."""
    text = intermediate(unit.from_si(value), unit.step_from_si(spread), least_decimals)
    return f"{text} {unit.shown}".rstrip()


class _Evaluation:
    def __init__(
        self,
        sheet: Worksheet,
        inputs: Mapping[str, Number],
        overrides: Mapping[str, Number],
        functions: Mapping[str, Callable[..., Number]],
        call: Callable[[LineDef, dict[str, Number]], Number],
        barring: bool,
    ):
        self.sheet, self.inputs, self.overrides, self.functions, self.call = sheet, inputs, overrides, functions, call
        self.barring = barring
        self.numbers: dict[str, Number] = {"options": sheet.shape.options}
        self.picks: dict[str, str] = {}
        self.lacking: dict[str, str] = {}
        self.barred: dict[str, str] = {}
        self.outside: dict[str, str] = {}
        for name, reading in sheet.readings.items():
            self._reading(name, reading)

    def _reading(self, name: str, reading: ReadingDef) -> None:
        if name not in self.inputs and reading.given is not None:
            self.numbers[name] = self.sheet.given[name]
            return
        if name not in self.inputs or (reading.series and not self.inputs[name]):
            self.lacking[name] = name
            return
        self.numbers[name] = self.inputs[name]
        if reading.series:
            name_beside = beside(reading)
            given = self.inputs.get(name_beside)
            # a difference of the series with itself: a zero of the right kind and unit
            self.numbers[name_beside] = self.inputs[name][-1] * 0 if given is None else given

    def line(self, line: LineDef) -> None:
        if line.name in self.overrides:
            self.numbers[line.name] = self.overrides[line.name]
            return
        if self.lacking or self.barred:
            reason = next((why for need in line.needs if (why := self.lacking.get(need) or self.barred.get(need))), "")
            if reason:
                self.lacking[line.name] = reason
                return
        arguments = {parameter: self.numbers[name] for parameter, name in line.takes.items()}
        if line.name in self.functions:
            line = replace(line, function=self.functions[line.name])
        try:
            value = self.call(line, arguments)
        except Refusal as refusal:
            self._beyond(line, refusal.faults[0].message)
            return
        except (ArithmeticError, ValueError):
            # a division by nothing, a root or logarithm of less than nothing
            self._beyond(line, NO_FIGURE)
            return
        key = None
        if isinstance(value, Pick):
            key, value = value.key, value.value
        if value is None:
            self.lacking[line.name] = f"undecided:{line.name}"
            return
        plain = nominal(value)
        if not math.isfinite(plain):
            self._beyond(line, NO_FIGURE)
            return
        if key is not None:
            self.picks[line.name] = key
        self.numbers[line.name] = value
        if self.barring and line.positive and not plain > 0:
            self.barred[line.name] = f"impossible:{line.name}"

    def _beyond(self, line: LineDef, why: str) -> None:
        self.outside[line.name] = why
        self.lacking[line.name] = f"outside:{line.name}"


def _call(line: LineDef, arguments: dict[str, Number]) -> Number:
    """Call a line with floats or numbers that carry uncertainty; a table gets plain floats and its derivative."""
    if line.kind != "table":
        return line.function(**arguments)
    varying = [name for name in line.takes if name != "options"]
    fixed = {"options": arguments["options"]} if "options" in arguments else {}

    def plain(*values: float) -> float:
        return float(line.function(**dict(zip(varying, values, strict=True)), **fixed))

    return through(plain, [arguments[name] for name in varying])
