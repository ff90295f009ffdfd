"""What a method of the trade is: its page, options, judgements, error causes and bench model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from claykettle.core.causes import Cause
from claykettle.core.options import Options
from claykettle.core.reading import Reading
from claykettle.core.uncertainty import nominal
from claykettle.core.verdict import Candidate, Verdict
from claykettle.core.worksheet import Page, ReadingDef, Shape, Values, Worksheet

if TYPE_CHECKING:
    from claykettle.core.gas_picture import GasPicture

TypedReadings = Mapping[str, Any]
"""Readings by name as typed: a Reading, or a tuple of them for a series."""


@dataclass(frozen=True)
class Formulated:
    """The formula that the data give: always the nearest candidate, and the match or None."""

    text: str | None
    nearest: str


@dataclass(frozen=True)
class Statement:
    """One of the statements that must not be mixed: what the data say, what chemistry allows, what was expected."""

    title: str
    text: str


@dataclass(frozen=True)
class Headline:
    """How the answer stands on the page: `x = {}` for the key result, and a second result with its own template."""

    template: str
    second: str | None = None
    second_template: str = "{}"


@dataclass(frozen=True)
class Judgement:
    """What a method says about one trial beyond its numbers."""

    verdicts: tuple[Verdict, ...] = ()
    candidates: tuple[Candidate, ...] = ()
    words: Mapping[str, Formulated] = field(default_factory=dict)
    statements: tuple[Statement, ...] = ()


@dataclass(frozen=True)
class Trial:
    """One trial, evaluated: the sheet, the readings as typed and the values with uncertainty."""

    sheet: Worksheet
    readings: TypedReadings
    values: Values

    @property
    def options(self) -> Any:
        """The method's options."""
        return self.sheet.shape.options

    def typed(self, name: str) -> Reading | None:
        """A single reading as typed, None while it is missing."""
        reading = self.readings.get(name)
        return reading if isinstance(reading, Reading) else None

    def series(self, name: str) -> tuple[Reading, ...]:
        """A series as typed, empty while it is missing."""
        readings = self.readings.get(name, ())
        return readings if isinstance(readings, tuple) else (readings,)

    def most(self, name: str) -> Reading | None:
        """The largest figure that a reading's instrument shows; None where that is open or the reading is not taken."""
        definition = self.sheet.readings.get(name)
        most = definition.most(self.options) if definition is not None and definition.most is not None else None
        return None if most is None else most.reading

    @property
    def plain(self) -> dict[str, Any]:
        """The readings as plain SI numbers, lists for series: what a replay starts from."""
        return {
            name: [float(one.si) for one in row] if isinstance(row, tuple) else float(row.si)
            for name, row in self.readings.items()
        }

    def value(self, name: str) -> float | None:
        """A line's nominal value in SI, None while it cannot be had."""
        number = self.values.get(name)
        return None if number is None else nominal(number)

    def uncertainty(self, name: str) -> float:
        """A line's standard uncertainty in SI."""
        return self.values.spread(name)


def _no_picture(_: Trial) -> None:
    return None


def _no_groups(_: Any) -> Mapping[str, Mapping[str, str]]:
    return {}


@dataclass(frozen=True, eq=False)
class Method:
    """One method of the trade; the registry finds them, everything else works on this.

    `truth` reads off values what they speak of, `expect` gives the same matter another key result (SI), `accepted` the
    key result that was to be expected before anything was weighed, None where nothing was, and `matched` the one of the
    formula or equation that the data chose. `grouped` names results that are one under several keys, such as
    `gas_amounts` by gas, and the lines that hold them; `pictured` is the picture of a gas tube where one is used.
    """

    name: str
    title: str
    page: Page
    options: type[Options]
    results: tuple[str, ...]
    key: Callable[[Any], str]
    headline: Callable[[Any], Headline]
    judge: Callable[[Trial], Judgement]
    shapes: Callable[[], Iterator[Shape]]
    causes: tuple[Cause, ...]
    truth: Callable[[Shape, Values], Any]
    bench: Callable[[Shape, Any, Mapping[str, float]], dict[str, Any]]
    expect: Callable[[Shape, Any, float], Any]
    accepted: Callable[[Any], float | None]
    matched: Callable[[Any, Values], float | None]
    grouped: Callable[[Any], Mapping[str, Mapping[str, str]]] = _no_groups
    pictured: Callable[[Trial], GasPicture | None] = _no_picture

    @property
    def planned(self) -> ReadingDef | None:
        """The reading that a plan sizes: what is added to the vessel."""
        return next((reading for reading in self.page.readings if reading.pan == "added"), None)

    @property
    def net_readings(self) -> frozenset[str]:
        """Names of the readings that may be given net, or as tare and gross."""
        return frozenset(reading.name for reading in self.page.readings if reading.net)

    def check(self) -> None:
        """Build the page for every shape; raises WorksheetError for a loop, an unknown name or a double one."""
        for shape in self.shapes():
            self.page.build(shape)
