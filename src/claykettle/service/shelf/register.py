"""The register of instruments: what stands on the shelf, how finely it shows and how much it carries."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import select

from claykettle.core.errors import Fault, NotFound, Refusal
from claykettle.core.quantity import parse_half_width, parse_reading
from claykettle.core.run import INSTRUMENTS
from claykettle.core.wording import fault_in_name
from claykettle.service.noting import note, note_change
from claykettle.service.visit import Visit
from claykettle.store.tables import Instrument

KINDS: Mapping[str, str] = {
    "balance": "Balance",
    "coarse_balance": "Coarse balance, large loads",
    "volume": "Gas tube or burette",
    "liquid_volume": "Measure for liquids",
    "thermometer": "Thermometer",
    "barometer": "Barometer",
    "ruler": "Ruler",
    "hygrometer": "Hygrometer",
    "clock": "Clock or stopwatch",
}
"""What each kind is called."""
UNITS: Mapping[str, str] = {
    "mass": "g", "volume": "mL", "temperature": "degC", "pressure": "hPa", "length": "mm", "ratio": "%", "time": "s",
}  # fmt: skip
DIRECTIONS = ("", "direct", "inverted_burette")


@dataclass(frozen=True)
class KeepInstrument:
    """An instrument as typed; with a `number` the one on the shelf that is changed."""

    number: int | None
    kind: str
    name: str
    half_width: str
    resolution: str = ""
    capacity: str = ""
    direction: str = ""


def keep_instrument(visit: Visit, typed: KeepInstrument) -> Instrument:
    """Put an instrument on the shelf, or (with its `number`) change what is said of one.

    Runs keep the half-widths that they started with. Where only the division is given, half of it is the half-width.
    Raises Refusal with every fault at its field, NotFound for an unknown number.
    """
    if typed.kind not in INSTRUMENTS:
        raise Refusal(Fault("unknown-kind", "kind", "Choose what kind of instrument it is."))
    faults: list[Fault] = []
    name = _name(visit, faults, typed)
    dimension = INSTRUMENTS[typed.kind]
    division = _text(faults, "resolution", typed.resolution, dimension)
    carries = _text(faults, "capacity", typed.capacity, dimension)
    width = _text(faults, "half_width", typed.half_width, dimension) or _half(division, dimension)
    if not width and not faults:
        faults.append(Fault("empty", "half_width", "Say to what it is right, or its division: half of that is taken."))
    faults += _faults_of_direction(typed.kind, typed.direction, carries)
    if faults:
        raise Refusal(*faults)
    row = _row(visit, typed)
    before = _words(row)
    row.kind, row.name, row.half_width, row.resolution = typed.kind, name, width, division
    row.capacity, row.direction = carries, typed.direction
    row.decimals = parse_reading(width, dimension).decimals
    visit.session.add(row)
    visit.session.flush()
    note_change(visit, "instrument changed" if before else "instrument added", before, _words(row))
    return row


def _words(row: Instrument) -> str:
    """What is said of an instrument that bears on results; empty of one that is not on the shelf yet."""
    said = [row.half_width, row.resolution, row.capacity, row.direction]
    return f"{row.name} ± {', '.join(text for text in said if text)}" if row.id else ""


def _row(visit: Visit, typed: KeepInstrument) -> Instrument:
    if typed.number is None:
        return Instrument(kind=typed.kind, decimals=0, retired=False)
    row = visit.session.get(Instrument, typed.number)
    if row is None:
        raise NotFound("This instrument is not on the shelf any more.")
    return row


def _name(visit: Visit, faults: list[Fault], typed: KeepInstrument) -> str:
    name = typed.name.strip()[:60]
    others = select(Instrument.id).where(Instrument.name == name, Instrument.id != (typed.number or 0))
    unnamed = fault_in_name(name, "name", "Give it the name that stands on it.")
    if unnamed is not None:
        faults.append(unnamed)
    elif visit.session.scalar(others) is not None:
        faults.append(Fault("taken", "name", f"There is a '{name}' on the shelf already; give this one another name."))
    return name


def _faults_of_direction(kind: str, direction: str, carries: str) -> Iterator[Fault]:
    if direction not in DIRECTIONS or (direction and kind != "volume"):
        yield Fault("direction", "direction", "Only a gas tube counts one way or the other.")
    if direction == "inverted_burette" and not carries:
        yield Fault("missing-field", "capacity", "A burette turned over is read from its last mark: give it.")


def retire_instrument(visit: Visit, number: int) -> None:
    """Take an instrument off the shelf; runs that used it keep it. Raises Refusal for the last one of its kind."""
    row = visit.session.get(Instrument, number)
    if row is None:
        raise NotFound("This instrument is not on the shelf any more.")
    rest = select(Instrument.id).where(Instrument.kind == row.kind, ~Instrument.retired, Instrument.id != number)
    if visit.session.scalar(rest.limit(1)) is None:
        raise Refusal(Fault("last-one", "", f"'{row.name}' is the last of its kind: put another on the shelf first."))
    row.retired = True
    note(visit, "instrument off the shelf", row.name)


def restore_instrument(visit: Visit, number: int) -> None:
    """Put an instrument back on the shelf that was taken off. Raises NotFound."""
    row = visit.session.get(Instrument, number)
    if row is None:
        raise NotFound("This instrument was never on the shelf.")
    row.retired = False
    note(visit, "instrument back on the shelf", row.name)


def _text(faults: list[Fault], field: str, text: str, dimension: str) -> str:
    """A quantity above zero with its unit, the usual one where none is typed; empty where nothing is."""
    if not text.strip():
        return ""
    usual = UNITS[dimension]
    try:
        reading = parse_reading(text, dimension, usual)
        parse_half_width(f"{reading.digits} {reading.unit.symbol}", dimension)
    except Refusal as refusal:
        faults += [Fault(fault.code, field, fault.message.replace("A half-width", "This")) for fault in refusal.faults]
        return ""
    return f"{reading.digits} {reading.unit.symbol}"


def _half(division: str, dimension: str) -> str:
    if not division:
        return ""
    reading = parse_reading(division, dimension)
    return f"{(reading.number / Decimal(2)).normalize():f} {reading.unit.symbol}"
