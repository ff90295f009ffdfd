"""The worksheet: readings at the top, named lines below, each a small pure function of other lines.

A method declares all its readings and lines on a `Page`. `Page.build` makes the `Worksheet` for one
shape (options, and which readings are given net), with exactly one active definition a name. One
declaration serves evaluation with uncertainty, working, partial results, replay and marking.
"""

from __future__ import annotations

import inspect
import math
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from graphlib import CycleError, TopologicalSorter
from typing import Any, Literal, TypeVar

from uncertainties import wrap

from claykettle.core import rule as rules
from claykettle.core.errors import WorksheetError
from claykettle.core.reading import Quantity
from claykettle.core.rounding import intermediate
from claykettle.core.uncertainty import Number, nominal, variances
from claykettle.core.units import Unit, unit

Options = Any
Kind = Literal["line", "choice", "table"]
SETTLING, SPREAD = "_settling", "_spread"
"""Behind a series' name: what its last round still changed; for a sampled one: how far one may lie off the mean."""


@dataclass(frozen=True)
class Shape:
    """What decides the form of a worksheet: options, which net readings are given and how, which optional are taken."""

    options: Options
    net: frozenset[str] = frozenset()
    split: frozenset[str] = frozenset()
    taken: frozenset[str] = frozenset()


Guard = Callable[[Shape], bool]
Members = Callable[[Shape], Iterable[int]]
"""The indices of a family (`reagent_1`, `reagent_2`, …): `{i}` in its names, label and rule stands for each."""


def _always(_: Shape) -> bool:
    return True


@dataclass(frozen=True)
class ReadingDef:
    """A reading of the bench. `series` is weighed again and again; `net` may be given as tare and gross.

    `pan` says what stands on the balance (empty, added, loaded, heated) and `change` what came or went since the
    weighing before: the mass stair draws both. `rises` says that a series is expected to gain, `round` what is done
    before each of its weighings. An `optional` reading stands on the page only where it was taken; a `sole` net one
    always, since no other form stands in for it. `given` takes the quantity from the options in place of the bench,
    such as a concentration on a label: the bench never asks for it. `continues` names the reading of the trial before
    with which this one goes on, such as the end of a tube's last filling. `usual` is the range outside which a sample
    is asked about, as typed; `most` the largest figure that the instrument shows, None where it is open.
    `room` tells which reading of the room, taken once for all runs of a day, this one may be.
    `tipped_from` names the reading of a dish before its content went into the vessel; this one is the dish after it.
    A `sampled` series holds several of a kind, such as ten filter papers, whose mean stands for one not weighed.
    `naming` gives the label where it depends on the options, such as a reagent's formula. `stand` tells what the pan
    carries where a method weighs more than one thing: readings of one stand belong on one stair. `planned` gives what
    the options plan for it, as typed, empty where they do not.
    """

    name: str
    label: str
    unit: str
    instrument: str
    series: bool = False
    net: bool = False
    instead_of: str | None = None
    pan: str = ""
    change: str = ""
    rises: bool = False
    round: str = "heating"
    optional: bool = False
    sole: bool = False
    when: Guard = _always
    over: Members | None = None
    given: Callable[[Options], Quantity] | None = None
    tipped_from: str = ""
    continues: str = ""
    usual: tuple[str, str] = ("0.05 g", "40 g")
    most: Callable[[Options], Quantity | None] | None = None
    room: Callable[[Options], str] | None = None
    sampled: bool = False
    naming: Callable[[Options], str] | None = None
    stand: str = ""
    planned: Callable[[Options], str] | None = None

    def at(self, index: int) -> ReadingDef:
        """The member of a family with this index."""
        return replace(self, name=_at(self.name, index), label=_at(self.label, index), over=None)

    def labelled(self, options: Options) -> str:
        """The label under these options."""
        return self.naming(options) if self.naming else self.label

    @property
    def settles(self) -> bool:
        """Whether it is weighed again and again until it is constant."""
        return self.series and not self.sampled

    @property
    def dimension(self) -> str:
        """The dimension of the reading, as in data/units.toml."""
        return unit(self.unit).dimension


@dataclass(frozen=True)
class LineDef:
    """One line of the page. `positive` lines must lie above zero before anything is built on them.

    `naming` gives the label where it depends on the options, such as the gas it speaks of; `taking` what it needs, by
    parameter, where that does, such as the amounts of all reactants.
    """

    name: str
    label: str
    unit: str
    rule: str | Mapping[str, str] | Callable[[Options], str | Mapping[str, str]]
    function: Callable[..., Any]
    kind: Kind = "line"
    positive: bool = False
    when: Guard = _always
    over: Members | None = None
    takes: Mapping[str, str] = field(default_factory=dict)
    naming: Callable[[Options], str] | None = None
    taking: Callable[[Options], Mapping[str, str]] | None = None

    def under(self, options: Options) -> LineDef:
        """The line as it stands under these options."""
        if self.naming is None and self.taking is None:
            return self
        label = self.naming(options) if self.naming else self.label
        return replace(self, label=label, takes=self.taking(options) if self.taking else self.takes)

    @cached_property
    def needs(self) -> tuple[str, ...]:
        """The names of the readings and lines that this one is computed from."""
        return tuple(self.takes.values())

    def at(self, index: int) -> LineDef:
        """The member of a family with this index."""
        takes = {parameter: _at(name, index) for parameter, name in self.takes.items()}
        rule = _at(self.rule, index) if isinstance(self.rule, str) else self.rule
        name, label = _at(self.name, index), _at(self.label, index)
        return replace(self, name=name, label=label, takes=takes, rule=rule, over=None)

    @cached_property
    def shown_unit(self) -> Unit:
        """The unit in which the line is shown; it computes in SI."""
        return unit(self.unit)

    def rule_text(self, options: Options, pick: str | None = None) -> str:
        """The rule as it stands under these options and, for a choice, after this decision."""
        rule = self.rule(options) if callable(self.rule) else self.rule
        if isinstance(rule, str):
            return rule
        return rule[pick] if pick is not None else ""

    def is_sentence(self, options: Options) -> bool:
        """Whether the rule is told in words: a choice that has no formula for each way it may fall."""
        if self.kind == "line":
            return False
        return isinstance(self.rule(options) if callable(self.rule) else self.rule, str)


@dataclass(frozen=True)
class Pick:
    """What a choice line decided, by name, and the value it goes on with."""

    key: str
    value: Number


@dataclass(frozen=True)
class Values:
    """What came out: a number a name, the decisions taken, and for every other line what it lacks."""

    numbers: Mapping[str, Any]
    picks: Mapping[str, str] = field(default_factory=dict)
    lacking: Mapping[str, str] = field(default_factory=dict)
    _variances: dict[str, dict[str, float]] = field(default_factory=dict, compare=False, repr=False)
    _spreads: dict[str, float] = field(default_factory=dict, compare=False, repr=False)

    def __getitem__(self, name: str) -> Any:
        return self.numbers[name]

    def get(self, name: str) -> Any:
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


@dataclass(frozen=True)
class WorkingLine:
    """One line of the calculation page."""

    name: str
    label: str
    rule: str
    substituted: str
    result: str


Definition = TypeVar("Definition", ReadingDef, LineDef)


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
        self, name: str, label: str, unit: str, source: Callable[[Options], Quantity], when: Guard = _always
    ) -> None:
        """Declare a quantity that the options give; `source` is asked only where `when` holds."""
        self.readings.append(ReadingDef(name, label, unit, "", when=when, given=source))

    def line(self, label: str, unit: str, rule: Any, **more: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
        """Declare the decorated function as a line; its parameters name what it needs.

        `more`: the fields of LineDef, `name` where it differs from the function's, and `takes` where a
        parameter's name differs from what it stands for (families: `takes={"reagent": "reagent_{i}"}`).
        """

        def declare(function: Callable[..., Any]) -> Callable[..., Any]:
            renamed = more.pop("takes", {})
            takes = {name: renamed.get(name, name) for name in inspect.signature(function).parameters}
            name = more.pop("name", function.__name__)
            self.lines.append(LineDef(name, label, unit, rule, function, takes=takes, **more))
            return function

        return declare

    def choice(self, label: str, unit: str, rule: Any, **more: Any) -> Callable[[Callable[..., Any]], Any]:
        """Declare a decision: the function returns a Pick, or None where it cannot decide."""
        return self.line(label, unit, rule, kind="choice", **more)

    def table(self, label: str, unit: str, rule: Any, **more: Any) -> Callable[[Callable[..., Any]], Any]:
        """Declare a fit or table: plain SI floats in and out, derivatives and units pass through the engine."""
        return self.line(label, unit, rule, kind="table", **more)

    def _build(self, shape: Shape) -> Worksheet:
        readings, lines = self._readings(shape), self._lines(shape)
        for name in sorted(shape.split):
            _split_net(name, readings, lines)
        known = set(readings) | set(lines) | {"options"} | {_beside(row) for row in readings.values() if row.series}
        for line in lines.values():
            for need in line.needs:
                if need not in known:
                    raise WorksheetError(f"{self.method}: line '{line.name}' needs '{need}', which nothing defines")
        return Worksheet(self.method, shape, readings, _in_order(self.method, lines))

    def _readings(self, shape: Shape) -> dict[str, ReadingDef]:
        active: dict[str, ReadingDef] = {}
        for reading in _members(self.readings, shape):
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
        for line in _members(self.lines, shape):
            if not line.when(shape):
                continue
            if line.name in active:
                raise WorksheetError(f"{self.method}: two active definitions of line '{line.name}'")
            active[line.name] = line.under(shape.options)
        return active


def _members(rows: Iterable[Definition], shape: Shape) -> Iterator[Definition]:
    """Each definition, a family once a member with its index put in."""
    for row in rows:
        if row.over is None:
            yield row
            continue
        for index in row.over(shape):
            yield row.at(index)


def _at(text: str, index: int) -> str:
    return text.replace("{i}", str(index))


def _beside(row: ReadingDef) -> str:
    """The name of the number that a series brings beside its values."""
    return row.name + (SPREAD if row.sampled else SETTLING)


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

    def evaluate(
        self,
        inputs: Mapping[str, Any],
        overrides: Mapping[str, Any] | None = None,
        functions: Mapping[str, Callable[..., Any]] | None = None,
        call: Callable[[LineDef, dict[str, Any]], Any] | None = None,
    ) -> Values:
        """All lines that can be had from `inputs` (SI numbers of any one kind, lists for series).

        `overrides` puts figures in the place of lines (marking); `functions` puts another function in the
        place of a line's own (a replayed cause); `call` calls a line for another kind of number (the
        dimension check). Never raises for missing or impossible readings: they are named in `lacking`.
        """
        run = _Evaluation(self, inputs, overrides or {}, functions or {}, call or _call)
        for line in self.lines:
            run.line(line)
        return Values(run.numbers, run.picks, run.lacking)

    def working(self, values: Values, shown: Mapping[str, str], decimals: Mapping[str, int]) -> list[WorkingLine]:
        """The calculation page.

        `shown` holds the readings as typed, by name, units set; `decimals` how many of them a typed reading
        has, by unit: a sum of readings needs no zeros beyond those.
        """
        texts = {label: shown[name] for name, label in self.labels.items() if name in shown}
        labels = tuple(self.labels.values())
        page: list[WorkingLine] = []
        for line in self.lines:
            if line.name not in values.numbers:
                continue
            rule = line.rule_text(self.shape.options, values.picks.get(line.name))
            spread = values.spread(line.name)
            result = show(nominal(values[line.name]), spread, line.shown_unit, decimals.get(line.unit))
            substituted = rule if line.is_sentence(self.shape.options) else rules.substitute(rule, texts, labels)
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
        inputs: Mapping[str, Any],
        overrides: Mapping[str, Any],
        functions: Mapping[str, Callable[..., Any]],
        call: Callable[[LineDef, dict[str, Any]], Any],
    ):
        self.sheet, self.inputs, self.overrides, self.functions, self.call = sheet, inputs, overrides, functions, call
        self.numbers: dict[str, Any] = {"options": sheet.shape.options}
        self.picks: dict[str, str] = {}
        self.lacking: dict[str, str] = {}
        self.barred: dict[str, str] = {}
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
            beside = _beside(reading)
            given = self.inputs.get(beside)
            # a difference of the series with itself: a zero of the right kind and unit
            self.numbers[beside] = self.inputs[name][-1] * 0 if given is None else given

    def line(self, line: LineDef) -> None:
        if line.name in self.overrides:
            self.numbers[line.name] = self.overrides[line.name]
            return
        for need in line.needs:
            reason = self.lacking.get(need) or self.barred.get(need)
            if reason:
                self.lacking[line.name] = reason
                return
        arguments = {parameter: self.numbers[name] for parameter, name in line.takes.items()}
        if line.name in self.functions:
            line = replace(line, function=self.functions[line.name])
        value = self.call(line, arguments)
        if isinstance(value, Pick):
            self.picks[line.name] = value.key
            value = value.value
        if value is None:
            self.lacking[line.name] = f"undecided:{line.name}"
            return
        self.numbers[line.name] = value
        if line.positive and not nominal(value) > 0:
            self.barred[line.name] = f"impossible:{line.name}"


def _call(line: LineDef, arguments: dict[str, Any]) -> Any:
    """Call a line with floats or numbers that carry uncertainty; a table gets plain floats and its derivative."""
    if line.kind != "table":
        return line.function(**arguments)
    varying = [name for name in line.takes if name != "options"]
    fixed = {"options": arguments["options"]} if "options" in arguments else {}

    def plain(*values: float) -> float:
        return float(line.function(**dict(zip(varying, values, strict=True)), **fixed))

    return wrap(plain)(*(arguments[name] for name in varying))
