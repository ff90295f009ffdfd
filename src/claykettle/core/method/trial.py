"""One trial, evaluated, and what a method says of it beyond its numbers."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from claykettle.core.quantity import Reading, nominal
from claykettle.core.sheet import Options, Values, Worksheet
from claykettle.core.verdict import Candidate, Verdict

LIMITING = "reaction_possible"
"""The line in which whatever runs out first is chosen, where a method takes several reagents by one equation."""
TypedReadings = Mapping[str, Reading | tuple[Reading, ...]]
"""Readings by name as typed: a Reading, or a tuple of them for a series."""


PlainReadings = dict[str, float | list[float]]
"""Readings by name as plain numbers in SI, a list for a series: what a bench model shows and a replay starts from."""


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
class Judgement:
    """What a method says about one trial beyond its numbers; `said` are results that are a word, by name."""

    verdicts: tuple[Verdict, ...] = ()
    candidates: tuple[Candidate, ...] = ()
    words: Mapping[str, Formulated] = field(default_factory=dict)
    statements: tuple[Statement, ...] = ()
    said: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Trial:
    """One trial, evaluated: the sheet, the readings as typed and the values with uncertainty.

    `own_widths` holds half-widths (SI) of readings that another instrument took than the run's.
    """

    sheet: Worksheet
    readings: TypedReadings
    values: Values
    own_widths: Mapping[str, Decimal] = field(default_factory=dict)

    @property
    def options(self) -> Options:
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
    def weighed_again(self) -> str | None:
        """The series in work: the last that has a weighing, else the first; None where none is weighed to constancy."""
        names = [name for name, row in self.sheet.readings.items() if row.settles]
        begun = [name for name in names if self.series(name)]
        return begun[-1] if begun else next(iter(names), None)

    @property
    def plain(self) -> PlainReadings:
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

    def firm_uncertainty(self, name: str) -> float:
        """The same without what a series may still settle: for what further rounds can only make worse."""
        parts = self.values.variances(name).items()
        return math.sqrt(math.fsum(part for reading, part in parts if not reading.endswith(".settling")))


@dataclass(slots=True)  # not frozen, as a candidate is not: dozens are made at every reading
class Share:
    """How much of a result's variance one reading brings."""

    result: str
    reading: str
    share: float


@dataclass(frozen=True)
class Observation:
    """Something seen at the bench, by tag and words."""

    tag: str
    text: str = ""
    at: str | None = None
    by: str | None = None
    trial: str | None = None


@dataclass(frozen=True)
class Window:
    """Where a planned reading should lie; `about` means within a tenth."""

    about: Reading | None = None
    low: Reading | None = None
    high: Reading | None = None
