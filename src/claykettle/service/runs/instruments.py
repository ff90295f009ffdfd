"""Which instrument took a reading: the run's own, another of the shelf, or a photograph."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select

from claykettle.core.errors import Refusal, refuse
from claykettle.core.quantity import parse_half_width
from claykettle.core.sheet import ReadingDef
from claykettle.service.visit import Visit
from claykettle.store import tables
from claykettle.store.records import StoredRun

PHOTOGRAPH = "photograph"
"""The instrument of lengths that were marked on a picture."""


@dataclass(frozen=True)
class Instrument:
    """Name of the instrument that reads, and its half-width where it is another than the run's own (else empty)."""

    name: str
    half_width: str = ""


def instrument_for(visit: Visit, run: StoredRun, definition: ReadingDef, named: str, told: str) -> Instrument:
    """The instrument `named`, the run's own where none is; `told` is the half-width that a photograph tells.

    Raises Refusal (path `instrument` or `half_width`).
    """
    if named == PHOTOGRAPH and definition.dimension == "length":
        return _photograph(told)
    if told:
        text = "An instrument of the shelf tells itself how exact it is; only a photograph brings that along."
        raise refuse("unknown-field", text, "half_width")
    own = run.instruments.get(definition.instrument, {}).get("name", "")
    if definition.instrument == "balance":
        own = run.balance or own
    if not named or named == own:
        return Instrument(own or definition.instrument.replace("_", " "))
    return _of_the_shelf(visit, named, definition.instrument)


def _photograph(told: str) -> Instrument:
    try:
        parse_half_width(told, "length")
    except Refusal as refusal:
        raise refusal.below("half_width") from None
    return Instrument(PHOTOGRAPH, told.strip())


def _of_the_shelf(visit: Visit, named: str, kind: str) -> Instrument:
    wanted = select(tables.Instrument).where(tables.Instrument.name == named, tables.Instrument.kind == kind)
    row = visit.session.scalar(wanted)
    if row is None:
        raise refuse("unknown-instrument", f"'{named[:40]}' does not stand on the shelf; choose another.", "instrument")
    return Instrument(row.name, row.half_width)
