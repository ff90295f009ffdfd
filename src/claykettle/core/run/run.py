"""A run as the core sees it: parsed once at the edge, typed values inside."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from claykettle.core.errors import Fault, Refusal
from claykettle.core.method import Method, Observation, Options, Window
from claykettle.core.quantity import Reading
from claykettle.core.run.procedure import Procedure
from claykettle.core.sheet import ReadingDef, Shape

StepKind = Literal["done", "skipped", "started", "extended"]
INSTRUMENTS: Mapping[str, str] = {
    "balance": "mass",
    "coarse_balance": "mass",
    "volume": "volume",
    "liquid_volume": "volume",
    "thermometer": "temperature",
    "barometer": "pressure",
    "ruler": "length",
    "hygrometer": "ratio",
    "clock": "time",
}
"""The instruments of a run and the dimension that each measures."""


@dataclass(frozen=True)
class Entry:
    """A reading with its history, as a run file keeps it; `half_width` (SI) where another instrument took it.

    `moment` is `at` in seconds since 1970, so that two of them can be held against each other.
    """

    reading: Reading
    at: str | None = None
    by: str | None = None
    instrument: str | None = None
    corrects: str | None = None
    reason: str | None = None
    half_width: Decimal | None = None
    moment: float | None = None


@dataclass(frozen=True)
class NotTaken:
    """A reading that was declared not taken, with the reason; `position` is its place in a series, from 1.

    In the last place of a series it ends it: no more of them are taken.
    """

    reason: str
    position: int = 1
    at: str | None = None
    by: str | None = None


@dataclass(frozen=True)
class Change:
    """Something that was decided otherwise in a running run, such as an option or a school: what, from what, to what.

    `before` and `after` are texts; None where there was, or is, nothing.
    """

    what: str
    before: str | None
    after: str | None
    reason: str
    at: str | None = None
    by: str | None = None


@dataclass(frozen=True)
class StepMark:
    """Something done about a step of the procedure: begun (its timer runs), given more time, done or skipped.

    `round` counts the repeats of a step, `n` how often it was done (such as rinses); `moment` is `at` in seconds since
    1970.
    """

    trial: str
    step: str
    kind: StepKind
    round: int = 1
    at: str | None = None
    by: str | None = None
    n: int | None = None
    reason: str | None = None
    moment: float | None = None


@dataclass(frozen=True)
class TrialRecord:
    """One trial: entries by reading name, in the order of weighing; a single reading is a series of one.

    `not_taken` names what was declared not taken.
    """

    label: str
    entries: Mapping[str, tuple[Entry, ...]]
    not_taken: Mapping[str, tuple[NotTaken, ...]] = field(default_factory=dict)


@dataclass(frozen=True)
class ProcedureUse:
    """Which procedure a run follows, in which version, and the schools chosen."""

    name: str
    version: int
    schools: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Run:
    """One run, ready to be evaluated. `half_widths` in SI by instrument."""

    method: Method
    options: Options
    trials: tuple[TrialRecord, ...]
    half_widths: Mapping[str, Decimal] = field(default_factory=dict)
    shared: Mapping[str, tuple[Entry, ...]] = field(default_factory=dict)
    planned: Mapping[str, Window] = field(default_factory=dict)
    observations: tuple[Observation, ...] = ()
    title: str = ""
    note: str = ""
    procedure: ProcedureUse | None = None
    steps: tuple[StepMark, ...] = ()
    course: Procedure | None = None
    """The procedure itself, in the version that the run followed; None where it is not known here."""
    shared_not_taken: Mapping[str, tuple[NotTaken, ...]] = field(default_factory=dict)
    changes: tuple[Change, ...] = ()
    practised: bool = False
    """Whether it was done at a simulated bench: never a class's result."""

    def not_taken(self, record: TrialRecord) -> Mapping[str, NotTaken]:
        """What was declared not taken in a trial or for all of them, by name, and the last word on it."""
        rows = {**self.shared_not_taken, **record.not_taken}
        return {name: said[-1] for name, said in rows.items() if said}

    def missed(self, record: TrialRecord) -> frozenset[str]:
        """The readings of a trial that are not there and were declared not taken."""
        entries = {**self.shared, **record.entries}
        return frozenset(name for name in self.not_taken(record) if name not in entries)

    def tags(self, label: str) -> tuple[str, ...]:
        """What was seen in a trial, or of the run as a whole, in order."""
        return tuple(row.tag for row in self.observations if row.trial in (None, "", label))


def shape_of(
    method: Method, options: Options, names: frozenset[str], path: str = "", missed: frozenset[str] = frozenset()
) -> Shape:
    """The worksheet's form for the readings given; `missed` were declared not taken.

    Raises Refusal `both-forms` where a reading is given in two forms at once.
    """
    net: set[str] = set()
    split: set[str] = set()
    faults: list[Fault] = []
    for name in sorted(method.net_readings):
        parts = {f"{name}_tare", f"{name}_gross"} & names
        if name in names and parts:
            message = f"'{name}' is given net and as {' and '.join(sorted(parts))}: keep one form."
            faults.append(Fault("both-forms", f"{path}.{name}" if path else name, message))
        if name in names or parts:
            net.add(name)
        if parts:
            split.add(name)
    for reading in method.page.readings:
        if reading.instead_of in net and reading.name in names:
            message = f"'{reading.name}' and '{reading.instead_of}' are two forms of one weighing: keep one."
            faults.append(Fault("both-forms", f"{path}.{reading.name}" if path else reading.name, message))
    if faults:
        raise Refusal(*faults)
    taken = frozenset(
        row.name for row in method.page.readings if row.optional and (row.name in names or row.name in net)
    )
    return Shape(options, frozenset(net), frozenset(split), taken, missed)


def course_faults(method: Method, options: Options, slots: Sequence[str]) -> list[Fault]:
    """Where the readings that a course takes (`slots`) are not those that these options need: one fault each.

    A burette's dead volume that is asked for a tube without one, or never asked for one that has it: no path. An option
    that the course cannot do without has its path.
    """
    names = frozenset(slots)
    sheet = method.page.build(shape_of(method, options, names))
    needed = {name: row for name, row in sheet.readings.items() if row.given is None}
    faults = []
    for name, row in needed.items():
        if not row.instrument:
            faults.append(Fault("course", f"options.{name}", f"This procedure needs the {row.label}: fill it in."))
        elif name not in names and not row.by_eye:
            text = f"This procedure never takes '{row.label}', which these options need: change one or the other."
            faults.append(Fault("course", "", text))
    for name in slots:
        definition = reading_definition(method, name, options)
        if definition is not None and name not in needed:
            text = (
                f"This procedure takes '{definition.label}', which these options have no use for: change one or the "
                "other."
            )
            faults.append(Fault("course", "", text))
    return faults


@lru_cache(maxsize=256)
def usable_readings(method: Method, options: Options, missed: frozenset[str] = frozenset()) -> frozenset[str]:
    """The names of all readings that these options have a use for, in every form in which they may be given; where
    some were `missed`, those that stand in for them.
    """
    rows = (row for row in method.page.readings if row.given is None)
    shape = Shape(options, missed=missed)
    return frozenset(name for row in rows if row.when(shape) for name in _forms(row))


@lru_cache(maxsize=256)
def reading_labels(method: Method, options: Options) -> dict[str, str]:
    """What every reading that these options have a use for is called, by its name."""
    rows = (row for row in method.page.readings if row.given is None and row.when(Shape(options)))
    return {row.name: row.labelled(options) for row in rows}


@lru_cache(maxsize=4096)
def reading_definition(method: Method, name: str, options: Options | None = None) -> ReadingDef | None:
    """The declaration behind a reading's name, NAME_tare and NAME_gross included; None for an unknown one.

    Of several that stand for one name, such as a reagent by mass or by volume, that which the options ask for.
    """
    rows = [row for row in method.page.readings if row.given is None and name in _forms(row)]
    if options is not None and len(rows) > 1:
        rows = [row for row in rows if row.when(Shape(options))] or rows
    return rows[0] if rows else None


def depends_on_options(method: Method, name: str) -> bool:
    """Whether only the options tell what a reading measures, such as a reagent's mass or the volume of its solution."""
    return len({row.dimension for row in method.page.readings if row.given is None and name in _forms(row)}) > 1


def with_hint(refusal: Refusal, method: Method, name: str) -> Refusal:
    """The refusal of a reading, with what would let it be a volume, or a mass, where only the options tell."""
    if not depends_on_options(method, name):
        return refusal
    hint = "The options tell: with a density or a concentration it is measured by volume, without one it is weighed."
    rows = (
        replace(row, message=f"{row.message} {hint}") if row.code == "wrong-dimension" else row
        for row in refusal.faults
    )
    return Refusal(*rows)


def _forms(reading: ReadingDef) -> tuple[str, ...]:
    name = reading.name
    return (name, f"{name}_tare", f"{name}_gross") if reading.net else (name,)


def reading_names(method: Method) -> tuple[str, ...]:
    """Every reading name the method knows, the two forms of a net reading included."""
    rows = (row for row in method.page.readings if row.given is None)
    return tuple(dict.fromkeys(name for row in rows for name in _forms(row)))
