"""The register of instruments: what stands on the shelf, how finely it shows and how much it carries."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Fault, NotFound, Refusal
from claykettle.core.quantity import parse_half_width, parse_reading
from claykettle.core.run import INSTRUMENTS
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


def keep_instrument(
    session: Session,
    *,
    number: int | None,
    kind: str,
    name: str,
    half_width: str,
    resolution: str = "",
    capacity: str = "",
    direction: str = "",
) -> Instrument:
    """Put an instrument on the shelf, or (with its `number`) change what is said of one.

    Runs keep the half-widths that they started with. Where only the division is given, half of it is the half-width.
    Raises Refusal with every fault at its field, NotFound for an unknown number.
    """
    faults: list[Fault] = []
    if kind not in INSTRUMENTS:
        raise Refusal(Fault("unknown-kind", "kind", "Choose what kind of instrument it is."))
    name = name.strip()[:60]
    others = select(Instrument.id).where(Instrument.name == name, Instrument.id != (number or 0))
    if not name:
        faults.append(Fault("empty", "name", "Give it the name that stands on it."))
    elif session.scalar(others) is not None:
        faults.append(Fault("taken", "name", f"There is a '{name}' on the shelf already; give this one another name."))
    dimension = INSTRUMENTS[kind]
    division = _text(faults, "resolution", resolution, dimension)
    carries = _text(faults, "capacity", capacity, dimension)
    width = _text(faults, "half_width", half_width, dimension) or _half(division, dimension)
    if not width and not faults:
        faults.append(Fault("empty", "half_width", "Give its half-width, or the division that half of is taken."))
    if direction not in DIRECTIONS or (direction and kind != "volume"):
        faults.append(Fault("direction", "direction", "Only a gas tube counts one way or the other."))
    if direction == "inverted_burette" and not carries:
        faults.append(Fault("missing-field", "capacity", "A burette turned over is read from its last mark: give it."))
    if faults:
        raise Refusal(*faults)
    row = Instrument(kind=kind, decimals=0, retired=False) if number is None else session.get(Instrument, number)
    if row is None:
        raise NotFound("This instrument is not on the shelf any more.")
    row.kind, row.name, row.half_width, row.resolution = kind, name, width, division
    row.capacity, row.direction = carries, direction
    row.decimals = parse_reading(width, dimension).decimals
    session.add(row)
    session.flush()
    return row


def retire_instrument(session: Session, number: int) -> None:
    """Take an instrument off the shelf; runs that used it keep it. Raises Refusal for the last one of its kind."""
    row = session.get(Instrument, number)
    if row is None:
        raise NotFound("This instrument is not on the shelf any more.")
    rest = select(Instrument.id).where(Instrument.kind == row.kind, ~Instrument.retired, Instrument.id != number)
    if session.scalar(rest.limit(1)) is None:
        raise Refusal(Fault("last-one", "", f"'{row.name}' is the last of its kind: put another on the shelf first."))
    row.retired = True


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
