"""What a method of the trade is: its page, options, judgements, error causes and bench model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import TYPE_CHECKING, Any

from claykettle.core.causes import Cause
from claykettle.core.options import Options
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.reading import Reading
from claykettle.core.uncertainty import Number, nominal
from claykettle.core.verdict import Candidate, Verdict
from claykettle.core.worksheet import Page, ReadingDef, Shape, Values, Worksheet

if TYPE_CHECKING:
    from claykettle.core.remains import Remain
    from claykettle.core.setting import Setting

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
    def weighed_again(self) -> str | None:
        """The series in work: the last that has a weighing, else the first; None where none is weighed to constancy."""
        names = [name for name, row in self.sheet.readings.items() if row.settles]
        begun = [name for name in names if self.series(name)]
        return begun[-1] if begun else next(iter(names), None)

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


def _nothing_accepted(_: Any) -> float | None:
    return None


def _nothing_matched(options: Any, values: Values) -> float | None:
    return None


def _no_pictures(_: Trial) -> Pictures:
    return Pictures()


def _no_groups(_: Any) -> Mapping[str, Mapping[str, str]]:
    return {}


def _nothing_over_trials(options: Any, trials: Sequence[Trial]) -> Iterator[Verdict]:
    return iter(())


def _nothing_left(trial: Trial, found: str | None) -> Iterator[Remain]:
    return iter(())


def _nothing_seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    return iter(())


def _no_calibration(trials: Sequence[Trial]) -> Iterator[Calibration]:
    return iter(())


@dataclass(frozen=True)
class Calibration:
    """What a run on a known sample tells the next: a sentence, and options of that one by path, as typed."""

    text: str
    options: Mapping[str, str]


def _nothing_else(_: Any) -> Mapping[str, float]:
    return {}


@dataclass(frozen=True)
class Foresight:
    """What a plan must know of a method.

    `truth` is what will be there for so much of the sample (SI), `consumes` mol of each other reactant per kg of it.
    `asks` names the fields of a Setting that bear on it, `usual` what most have there, as typed. `label` and `unit` are
    of what is sized; `measured` names readings that measure the same sample otherwise, such as the length of a ribbon.
    `planned` tells the readings (SI) that the options themselves plan, where they do: a reagent table filled in first.
    """

    truth: Callable[[Any, float, Setting], Any]
    asks: tuple[str, ...]
    label: str = "sample"
    unit: str = "g"
    measured: tuple[str, ...] = ()
    consumes: Callable[[Any], Mapping[str, float]] = _nothing_else
    usual: Mapping[str, str] = field(default_factory=dict)
    planned: Callable[[Any], Mapping[str, float]] | None = None


@dataclass(frozen=True, eq=False)
class Method:
    """One method of the trade; the registry finds them, everything else works on this."""

    name: str
    title: str
    page: Page
    options: type[Options]
    results: tuple[str, ...]
    key: Callable[[Any], str]
    """The result that trials are compared by."""
    headline: Callable[[Any], Headline]
    judge: Callable[[Trial], Judgement]
    shapes: Callable[[], Iterator[Shape]]
    """Every form the page can take, for the check at import and for the tests."""
    causes: tuple[Cause, ...]
    truth: Callable[[Shape, Values], Any]
    """What the values speak of, were nothing wrong with them."""
    bench: Callable[[Shape, Any, Mapping[str, float]], dict[str, Any]]
    """The readings (SI) that honest instruments show of a truth with these faults."""
    expect: Callable[[Shape, Any, float], Any]
    """The same matter with another key result (SI)."""
    accepted: Callable[[Any], float | None] = _nothing_accepted
    """The key result that was to be expected before anything was weighed."""
    matched: Callable[[Any, Values], Number | None] = _nothing_matched
    """The key result of the formula or equation that the data chose, or that the readings let be expected."""
    fallback: str | None = None
    """The key result of trials that did not come as far as the key, such as to a pure product."""
    alike: str | None = None
    """A result that all trials share, however large the sample."""
    foresight: Foresight | None = None
    """What plans ask; None where there is nothing to be sized."""
    larger: Callable[[Any, float], Any] | None = None
    """The same truth in so many times the amount, where more than the sample goes with it."""
    grouped: Callable[[Any], Mapping[str, Mapping[str, str]]] = _no_groups
    """Results that are one under several keys, such as `gas_amounts` by gas, and the lines that hold them."""
    over_trials: Callable[[Any, Sequence[Trial]], Iterator[Verdict]] = _nothing_over_trials
    """What goes on from trial to trial."""
    calibrates: Callable[[Sequence[Trial]], Iterator[Calibration]] = _no_calibration
    """What a run on a known sample tells the next run."""
    seen: Callable[[Trial, Sequence[str]], Iterator[Verdict]] = _nothing_seen
    """What was predicted against what was seen, by tag in order."""
    remains: Callable[[Trial, str | None], Iterator[Remain]] = _nothing_left
    """What is left to be sorted of a trial whose formula or equation was found (or None)."""
    pictures: Callable[[Trial], Pictures] = _no_pictures
    """What is drawn beside the mass stair."""

    def key_on(self, sheet: Worksheet) -> str:
        """The key result of a page: the method's own, or its `fallback` where the page has no such line."""
        name = self.key(sheet.shape.options)
        return name if self.fallback is None or name in sheet.by_name else self.fallback

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
