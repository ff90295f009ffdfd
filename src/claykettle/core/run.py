"""A run as the core sees it: parsed once at the edge, typed values inside."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache

from claykettle.core.errors import Fault, Refusal
from claykettle.core.method import Method
from claykettle.core.options import Options
from claykettle.core.reading import Reading
from claykettle.core.worksheet import ReadingDef, Shape

INSTRUMENTS: Mapping[str, str] = {
    "balance": "mass",
    "coarse_balance": "mass",
    "volume": "volume",
    "liquid_volume": "volume",
    "thermometer": "temperature",
    "barometer": "pressure",
    "ruler": "length",
    "hygrometer": "ratio",
}
"""The instruments of a run and the dimension that each measures."""


@dataclass(frozen=True)
class Entry:
    """A reading with its history, as a run file keeps it."""

    reading: Reading
    at: str | None = None
    by: str | None = None
    instrument: str | None = None
    corrects: str | None = None
    reason: str | None = None


@dataclass(frozen=True)
class TrialRecord:
    """One trial: entries by reading name, in the order of weighing; a single reading is a series of one."""

    label: str
    entries: Mapping[str, tuple[Entry, ...]]


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


def shape_of(method: Method, options: Options, names: frozenset[str], path: str = "") -> Shape:
    """The worksheet's form for the readings given.

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
    taken = frozenset(reading.name for reading in method.page.readings if reading.optional and reading.name in names)
    return Shape(options, frozenset(net), frozenset(split), taken)


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
            faults.append(Fault("course", f"options.{name}", f"This course needs the {row.label}: fill it in."))
        elif name not in names:
            text = f"This course never takes '{row.label}', which these options need: change one or the other."
            faults.append(Fault("course", "", text))
    for name in slots:
        definition = reading_definition(method, name)
        if definition is not None and name not in needed:
            text = (
                f"This course takes '{definition.label}', which these options have no use for: change one or the other."
            )
            faults.append(Fault("course", "", text))
    return faults


@lru_cache(maxsize=1024)
def reading_definition(method: Method, name: str) -> ReadingDef | None:
    """The declaration behind a reading's name, NAME_tare and NAME_gross included; None for an unknown one."""
    for reading in method.page.readings:
        forms = (reading.name, f"{reading.name}_tare", f"{reading.name}_gross") if reading.net else (reading.name,)
        if reading.given is None and name in forms:
            return reading
    return None


def reading_names(method: Method) -> tuple[str, ...]:
    """Every reading name the method knows, the two forms of a net reading included."""
    names: list[str] = []
    for reading in method.page.readings:
        if reading.given is not None:
            continue
        names.append(reading.name)
        if reading.net:
            names += [f"{reading.name}_tare", f"{reading.name}_gross"]
    return tuple(names)
