"""How large a sample? Small enough for tube, vessel and balance, large enough for the result to be known well.

Nothing here knows a method: the bench model says what the instruments would show of a sample, the worksheet how far
the result would be known from that, and the window is where both hold.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from claykettle.core.errors import Refusal, refuse
from claykettle.core.method import Method, Setting, Statement
from claykettle.core.planning.bounds import LEFT_FREE, Bound, bounds
from claykettle.core.planning.probe import Instruments, Probe, last
from claykettle.core.quantity import Unit, figures, parse_reading, short
from claykettle.core.sheet import ReadingDef, Shape

CURVE_POINTS = 22
ROUND = (1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8)


@dataclass(frozen=True)
class Foreseen:
    """A reading to expect."""

    label: str
    text: str


@dataclass(frozen=True)
class CurvePoint:
    """How far the result is known (k = 2, percent of itself) with so much of the sample."""

    amount: float
    percent: float


@dataclass(frozen=True)
class Remark:
    """A sentence about the sample that was asked about, or about the window."""

    level: Literal["good", "watch", "stop"]
    text: str


@dataclass(frozen=True)
class Need:
    """Another reactant that a trial takes: how much is used up, and the volume of its solution with the excess (m³)."""

    formula: str
    text: str
    volume: float | None
    volume_text: str


@dataclass(frozen=True)
class Look:
    """What one size of the sample would bring: readings, the band in percent (k = 2), what limits it, what it takes."""

    amount: float
    text: str
    readings: tuple[Foreseen, ...]
    percent: float | None
    percent_text: str
    limit: str
    needs: tuple[Need, ...]
    statements: tuple[Statement, ...]


@dataclass(frozen=True)
class Tick:
    """A mark on the scale of amounts, and how it is written."""

    amount: float
    text: str


@dataclass(frozen=True)
class Sizing:
    """The window and all that goes with it; amounts in `unit`. `low` or `high` is None where nothing sets that end."""

    label: str
    unit: str
    low: Bound | None
    high: Bound | None
    bounds: tuple[Bound, ...]
    about: Look | None
    asked: Look | None
    curve: tuple[CurvePoint, ...]
    wanted: float
    ticks: tuple[Tick, ...]
    remarks: tuple[Remark, ...]


def size(
    method: Method, shape: Shape, setting: Setting, instruments: Instruments, asked: str = "", path: str = ""
) -> Sizing:
    """The window for a method under its options, and what `asked` (a typed amount, or empty) would bring.

    Raises Refusal where the options leave open what will happen (`plan-open`), and below `path` for what was asked.
    """
    probe = Probe(method, shape, setting, instruments)
    amount = _read(asked, probe.unit, path) if asked.strip() else None
    ends = bounds(probe)
    low = max((row for row in ends if row.side == "low"), key=lambda row: row.amount, default=None)
    high = min((row for row in ends if row.side == "high"), key=lambda row: row.amount, default=None)
    best = _round_amount(probe, low, high)
    found = look(probe, amount) if amount is not None else None
    curve = tuple(_curve(probe, low, high, amount))
    return Sizing(
        probe.foresight.label,
        probe.unit.shown,
        low,
        high,
        tuple(ends),
        look(probe, best) if best is not None else None,
        found,
        curve,
        100 * setting.wanted.si,
        tuple(_ticks([point.amount for point in curve])),
        (*_of_the_window(probe, low, high), *(_of_the_sample(probe, found, ends) if found else ())),
    )


def _ticks(amounts: Sequence[float]) -> Iterator[Tick]:
    """1, 2, 5 of every power of ten on the curve's scale."""
    if not amounts:
        return
    low, high = min(amounts), max(amounts)
    for place in range(math.floor(math.log10(low)), math.ceil(math.log10(high)) + 1):
        for part in (1, 2, 5):
            tick = float(f"{part}e{place}")
            if low <= tick <= high:
                yield Tick(tick, short(tick))


def _read(text: str, unit: Unit, path: str) -> float:
    try:
        reading = parse_reading(text, unit.dimension, unit.symbol)
        if reading.si <= 0:
            raise refuse("not-positive", "A sample is more than nothing.")
    except Refusal as refusal:
        raise refusal.below(path) from None
    return float(reading.si)


def _in_si(probe: Probe, *ends: Bound | None) -> list[float]:
    return [row.amount * float(probe.unit.factor) for row in ends if row is not None]


def _round_amount(probe: Probe, low: Bound | None, high: Bound | None) -> float | None:
    """A round amount well inside the window, None where there is no window.

    Where no sample is known as well as is wanted, the largest that fits.
    """
    ends = _in_si(probe, low, high)
    if not ends or (high is not None and high.amount <= (low.amount if low is not None else 0.0)):
        return None
    if high is not None and probe.spread(_in_si(probe, high)[0]) > probe.setting.wanted.si:
        return max(row for row in _rounds(probe, high.amount) if row <= _in_si(probe, high)[0])
    middle = math.sqrt(ends[0] * ends[1]) if len(ends) == 2 else ends[0] * (2 if high is None else 0.5)
    return min(_rounds(probe, probe.unit.from_si(middle)), key=lambda row: abs(math.log(row / middle)))


def _rounds(probe: Probe, near: float) -> Iterator[float]:
    """Round amounts (SI) around one in the unit shown."""
    place = 10.0 ** math.floor(math.log10(near))
    for step in (0.1, 1, 10):
        for part in ROUND:
            yield float(f"{part * place * step:.3g}") * float(probe.unit.factor)


def look(probe: Probe, amount: float) -> Look:
    """The readings to expect of this amount (SI), how far the result would be known, and what else it takes."""
    readings, spread = probe.readings(amount), probe.spread(amount)
    rows = probe.sheet.readings
    return Look(
        probe.unit.from_si(amount),
        probe.shown(amount),
        tuple(_foreseen(probe, rows[name], last(value)) for name, value in readings.items()),
        100 * spread if math.isfinite(spread) else None,
        f"± {100 * spread:.2g} %" if math.isfinite(spread) else "",
        probe.limit(amount),
        tuple(_needs(probe, amount)),
        tuple(_statements(probe, amount)),
    )


def _foreseen(probe: Probe, row: ReadingDef, value: float) -> Foreseen:
    most = probe.capacity(row)
    is_beyond = most is not None and not 0 <= value <= most
    return Foreseen(row.label, "beyond the scale" if is_beyond else probe.figure(row, value))


def _needs(probe: Probe, amount: float) -> Iterator[Need]:
    """The other reactants; the first comes as the solution of the setting."""
    given, excess = probe.setting.concentration, probe.setting.excess.si
    for index, (formula, per_kg) in enumerate(probe.foresight.consumes(probe.options).items()):
        mol = per_kg * amount
        text = f"{figures(1000 * mol, 3)} mmol are used up"
        if index or given is None:
            yield Need(formula, f"{text}.", None, "")
            continue
        volume = mol * (1 + excess) / given.si
        more = f", {probe.setting.excess.reading.shown} more than that" if excess else ""
        shown = f"{figures(volume * 1e6, 3)} mL"
        yield Need(formula, f"{text}; {shown} of {given.reading.shown} are taken{more}.", volume, shown)


def _statements(probe: Probe, amount: float) -> Iterator[Statement]:
    """The same sample measured otherwise, and how many trials one filling takes."""
    readings = probe.readings(amount)
    for name in probe.foresight.measured:
        if name in readings:
            row = probe.sheet.readings[name]
            made = f"{probe.figure(row, last(readings[name]))} make {probe.shown(amount)}."
            yield Statement(row.label[:1].upper() + row.label[1:], made)
    for name, row in probe.sheet.readings.items():
        most = row.most(probe.options) if row.most is not None else None
        ongoing = any(other.continues == name for other in probe.sheet.readings.values() if other is not row)
        if most is None or not ongoing or last(readings[name]) <= 0:
            continue
        trials = math.floor((1 - LEFT_FREE) * most.si / last(readings[name]))
        text = f"{trials} of this size go into one filling of {most.reading.shown}."
        yield Statement("Trials in one filling", text if trials else f"Not even one fits {most.reading.shown}.")


def _curve(probe: Probe, low: Bound | None, high: Bound | None, asked: float | None) -> Iterator[CurvePoint]:
    """The uncertainty over the amount, from well below the window to beyond it."""
    ends = [end for end in (*_in_si(probe, low, high), asked) if end]
    if not ends:
        return
    first, final = min(ends) / 3, max(ends) * 1.6
    for index in range(CURVE_POINTS):
        amount = first * (final / first) ** (index / (CURVE_POINTS - 1))
        spread = probe.spread(amount)
        if math.isfinite(spread):
            yield CurvePoint(probe.unit.from_si(amount), 100 * spread)


def _of_the_window(probe: Probe, low: Bound | None, high: Bound | None) -> Iterator[Remark]:
    """What keeps a window from being there."""
    if high is not None and high.amount <= 0:
        yield Remark("stop", high.reason)
        return
    wanted = probe.setting.wanted.reading.shown
    top = _in_si(probe, high)[0] if high is not None else probe.most
    spread = probe.spread(top)
    if spread > probe.setting.wanted.si:
        best = f"± {figures(100 * spread, 2)} %" if math.isfinite(spread) else "no result at all"
        yield Remark("watch", f"No sample reaches ± {wanted}: the largest gives {best}. {probe.limit(top)}".strip())
    elif low is not None and high is not None and low.amount >= high.amount:
        text = (
            f"No sample does both: '{low.label}' wants at least {low.text}, '{high.label}' allows {high.text}. Take a "
            "larger vessel or tube, a finer balance, or a wider band."
        )
        yield Remark("watch", text)


def _of_the_sample(probe: Probe, found: Look, ends: Sequence[Bound]) -> Iterator[Remark]:
    """Whether what was asked about fits."""
    broken = [row for row in ends if row.is_fixed and (found.amount < row.amount) == (row.side == "low")]
    for row in (row for row in broken if found.amount != row.amount):
        side, limit = ("more", "at most") if row.side == "high" else ("less", "at least")
        yield Remark("stop", f"{found.text} is {side} than fits, {limit} {row.text}. {row.reason}")
        return
    wanted = probe.setting.wanted.si
    known = f"± {figures(found.percent, 2)} %" if found.percent is not None else "no figure"
    if found.percent is not None and found.percent <= 100 * wanted:
        yield Remark("good", f"{found.text} fits, and the result is known to {known}.")
    else:
        shown = probe.setting.wanted.reading.shown
        yield Remark("watch", f"{found.text} fits, but the result is known to {known} only, wider than ± {shown}.")


@dataclass(frozen=True)
class Total:
    """What one trial and the class need of something; formula and concentration where it is a solution to be made."""

    label: str
    each: str
    all: str
    formula: str = ""
    concentration: str = ""


def totals(found: Sizing, setting: Setting, times: float) -> Iterator[Total]:
    """The sample and the solutions of what was asked about (else of the round amount), for one trial and `times` it."""
    look = found.asked or found.about
    if look is None:
        return
    if found.unit == "g":
        yield Total(found.label, look.text, f"{figures(look.amount * times, 3)} g")
    for need in look.needs:
        if need.volume is not None and setting.concentration is not None:
            shown = setting.concentration.reading.shown
            whole = f"{figures(need.volume * times * 1e6, 3)} mL"
            yield Total(f"{need.formula} {shown}", need.volume_text, whole, need.formula, shown)
