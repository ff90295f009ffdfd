"""The mass stair: each weighing a tread with what stands on the pan, each rise or fall named."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import pairwise

from claykettle.core.judgement.constancy import milligrams
from claykettle.core.method import SeriesOptions, Trial
from claykettle.core.quantity import Reading, plain
from claykettle.core.sheet import ReadingDef

GRAM = 1000


CRUCIBLE = "crucible"
DISH = "dish"
"""The stand of what is weighed on a dish before and after its content goes into the vessel."""


@dataclass(frozen=True)
class Tread:
    """One weighing as drawn. `change` is the rise or fall since the tread before, `named` what it is.

    `stand` tells what the pan carries where a method weighs more than one thing: each has a stair of its own; `drawn`
    what it looks like: crucible, dish, paper, glass, beaker, flask, boat, or tablet for one that lies on its dish.
    """

    slot: str
    position: int
    label: str
    text: str
    grams: float
    pan: str
    change: str
    named: str
    stand: str
    drawn: str = CRUCIBLE


@dataclass(frozen=True)
class Loss:
    """What one heating changed, against the tolerance. `milligrams` is positive for a loss."""

    position: int
    milligrams: float
    text: str
    settled: bool


def stair(trial: Trial, vessel: str = CRUCIBLE) -> list[Tread]:
    """The treads of the weighings taken so far, in the order of the page.

    A net sample stands as a tread at vessel + sample, since that is what stood on the pan. `vessel` is what is drawn
    where a reading names nothing else.
    """
    treads: list[Tread] = []
    levels: dict[str, Decimal] = {}
    decimals = 0
    for definition, position, reading in _weighings(trial):
        level, stand = levels.get(definition.stand), definition.stand
        decimals = max(decimals, reading.decimals)
        mass = reading.si * GRAM
        if definition.pan == "added":
            if level is None:
                continue
            mass, text = level + mass, f"+ {reading.digits}"
        else:
            text = reading.digits
        change = _signed(mass - level, decimals) if level is not None else ""
        named = definition.change if level is not None and _is_first_change(definition, position) else ""
        pan = "loaded" if definition.pan == "added" else definition.pan
        label = tread_label(definition, position)
        drawn = definition.drawn_with(trial.options) or vessel
        treads.append(Tread(definition.name, position, label, text, float(mass), pan, change, named, stand, drawn))
        levels[stand] = mass
    return treads


def tread_label(definition: ReadingDef, position: int) -> str:
    """The short name of a weighing, as it stands below its tread."""
    return f"{definition.round} {position}" if definition.pan == "heated" else definition.label


def stand_of(definition: ReadingDef, readings: Collection[ReadingDef]) -> str:
    """Which stair a weighing belongs to; that of the vessel is the empty name."""
    is_dish = definition.tipped_from or any(row.tipped_from == definition.name for row in readings)
    return DISH if is_dish else definition.stand


def losses(trial: Trial, treads: Sequence[Tread]) -> list[Loss]:
    """What each round of the series in work changed, the first against the loaded vessel where one was weighed."""
    found: list[Loss] = []
    if not isinstance(trial.options, SeriesOptions):
        return found
    tolerance = trial.options.tolerance.si * GRAM
    for before, tread in pairwise(treads):
        if tread.slot != trial.weighed_again or before.pan == "empty":
            continue
        lost = Decimal(repr(round(before.grams - tread.grams, 9)))
        text = milligrams(abs(lost) / GRAM)
        settled = tread.position > 1 and abs(lost) <= tolerance
        found.append(Loss(tread.position, float(lost * 1000), text if lost >= 0 else f"+{text}", settled))
    return found


def _weighings(trial: Trial) -> Iterator[tuple[ReadingDef, int, Reading]]:
    rows = trial.sheet.readings
    for name, definition in rows.items():
        if not definition.pan and stand_of(definition, rows.values()) == DISH:
            on_dish = replace(definition, pan="loaded", stand=DISH)
            yield from ((on_dish, 1, reading) for reading in trial.series(name))
        if not definition.pan or name.endswith("_tare"):
            continue
        if name.endswith("_gross"):
            yield from _net_of(trial, definition, definition.name.replace("_gross", "_tare"))
            continue
        if definition.tipped_from:
            yield from _tipped(trial, definition)
            continue
        for position, reading in enumerate(trial.series(name), start=1):
            yield definition, position, reading


def _tipped(trial: Trial, after: ReadingDef) -> Iterator[tuple[ReadingDef, int, Reading]]:
    """The dish once its content is in the vessel, then the vessel with that content."""
    rows, words = trial.sheet.readings, after.change
    yield from ((replace(after, pan="empty", stand=DISH), 1, reading) for reading in trial.series(after.name))
    vessel = next(row for row in rows.values() if row.pan)
    into = replace(rows[after.tipped_from], pan="added", change=words, label=words, drawn=vessel.drawn)
    yield from _net_of(trial, into, after.name)


def _net_of(trial: Trial, definition: ReadingDef, empty: str) -> Iterator[tuple[ReadingDef, int, Reading]]:
    """The net weighing that a reading and that of the empty boat or dish make, as one with its decimals kept."""
    gross, tare = trial.typed(definition.name), trial.typed(empty)
    if gross is None or tare is None or gross.si <= tare.si:
        return
    number = (gross.si - tare.si) / gross.unit.factor
    places = max(gross.decimals, tare.decimals)
    text = f"{number.quantize(Decimal(1).scaleb(-places)):f} {gross.unit.symbol}"
    yield definition, 1, Reading(text, number, gross.unit, gross.last_digit)


def _is_first_change(definition: ReadingDef, position: int) -> bool:
    return bool(definition.change) and position == 1


def _signed(grams: Decimal, decimals: int) -> str:
    text = plain(grams.quantize(Decimal(1).scaleb(-decimals)))
    return text if text.startswith("−") else f"+{text}"
