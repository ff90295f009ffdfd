"""What a method of the trade is: its page, options, judgements, error causes and bench model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from claykettle.core.causes import Cause
from claykettle.core.options import Options
from claykettle.core.reading import Reading
from claykettle.core.uncertainty import nominal, standard_uncertainty
from claykettle.core.verdict import Candidate, Verdict
from claykettle.core.worksheet import Page, Shape, Values, Worksheet

TypedReadings = Mapping[str, Any]
"""Readings by name as typed: a Reading, or a tuple of them for a series."""


@dataclass(frozen=True)
class Formulated:
    """The formula that the data give: always the nearest candidate, and the match or None."""

    text: str | None
    nearest: str


@dataclass(frozen=True)
class Judgement:
    """What a method says about one trial beyond its numbers."""

    verdicts: tuple[Verdict, ...] = ()
    candidates: tuple[Candidate, ...] = ()
    words: Mapping[str, Formulated] = field(default_factory=dict)


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

    def value(self, name: str) -> float | None:
        """A line's nominal value in SI, None while it cannot be had."""
        number = self.values.get(name)
        return None if number is None else nominal(number)

    def uncertainty(self, name: str) -> float:
        """A line's standard uncertainty in SI."""
        return standard_uncertainty(self.values.get(name))


@dataclass(frozen=True, eq=False)
class Method:
    """One method of the trade; the registry finds them, everything else works on this."""

    name: str
    title: str
    page: Page
    options: type[Options]
    results: tuple[str, ...]
    key: Callable[[Any], str]
    judge: Callable[[Trial], Judgement]
    shapes: Callable[[], Iterator[Shape]]
    causes: tuple[Cause, ...]
    truth: Callable[[Shape, Values], Any]
    bench: Callable[[Shape, Any, Mapping[str, float]], dict[str, Any]]

    @property
    def net_readings(self) -> frozenset[str]:
        """Names of the readings that may be given net, or as tare and gross."""
        return frozenset(reading.name for reading in self.page.readings if reading.net)

    def check(self) -> None:
        """Build the page for every shape; raises WorksheetError for a loop, an unknown name or a double one."""
        for shape in self.shapes():
            self.page.build(shape)
