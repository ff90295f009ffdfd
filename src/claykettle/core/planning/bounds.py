"""What sets the ends of a sample's window: the instruments' scales, the vessel, and how well the result is wanted."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from claykettle.core.planning.probe import Probe, last
from claykettle.core.sheet import ReadingDef

LEFT_FREE = 0.1
"""Of a tube's scale stays free, so that no run overflows it (common practice)."""
FULL_VESSEL = 1 / 3
"""Of a vessel is filled at most (common practice): a crucible with loose solid, a flask with what may foam."""
LOOSE_DENSITY = 1000.0
"""Of a loose solid, kg/m³ (common practice)."""
FLAT = 1e-12
NEAR = 0.004
"""The uncertainty's end of the window is found to so much of itself (in logarithms)."""

Side = Literal["low", "high"]


@dataclass(frozen=True)
class Bound:
    """One end that something sets: how much of the sample (in the unit shown), a short name for it, and the reason.

    `is_fixed` tells an end that cannot be passed from one that only makes the result less certain.
    """

    side: Side
    amount: float
    text: str
    label: str
    reason: str
    is_fixed: bool = True


def bounds(probe: Probe) -> list[Bound]:
    """What sets an end, the strictest of each kind, the smallest amount first. Raises Refusal `plan-open`."""
    fixed = [*_scales(probe), *_vessel(probe)]
    ends = (float(probe.unit.factor) * row.amount for row in fixed if row.side == "high")
    top = min(ends, default=probe.most)
    strictest: dict[tuple[Side, str], Bound] = {}
    for bound in sorted([*fixed, *_uncertain(probe, top)], key=lambda bound: bound.amount):
        if bound.side == "low" or (bound.side, bound.label) not in strictest:
            strictest[bound.side, bound.label] = bound
    return sorted(strictest.values(), key=lambda bound: bound.amount)


def _bound(probe: Probe, side: Side, amount: float, label: str, reason: str, is_fixed: bool = True) -> Bound:
    return Bound(side, probe.unit.from_si(amount), probe.shown(amount), label, reason, is_fixed)


def _scales(probe: Probe) -> Iterator[Bound]:
    """Where a reading leaves the scale of its instrument."""
    small, large = probe.most * 2e-4, probe.most * 4e-4
    first, second = probe.readings(small), probe.readings(large)
    for name in first:
        row = probe.sheet.readings[name]
        high = probe.capacity(row)
        if high is None:
            continue
        start, end = last(first[name]), last(second[name])
        slope = (end - start) / (large - small)
        if abs(slope) >= FLAT:
            yield from _ends_of_scale(probe, row, _Straight(small, start, slope), high)
        elif start > high:
            yield _bound(probe, "high", 0.0, _full(row), f"'{row.label}' alone is beyond what the instrument carries.")


@dataclass(frozen=True)
class _Straight:
    """A reading as it goes with the sample: in all methods so far straight, which a test holds."""

    amount: float
    value: float
    slope: float

    def at(self, value: float) -> float:
        """The amount at which this is read."""
        return self.amount + (value - self.value) / self.slope


def _full(row: ReadingDef) -> str:
    return "tube full" if row.instrument == "volume" else "balance full"


def _ends_of_scale(probe: Probe, row: ReadingDef, course: _Straight, high: float) -> Iterator[Bound]:
    counts_down = course.slope < 0
    free = LEFT_FREE * high if row.instrument == "volume" else 0.0
    left = " A tenth of the tube stays free, so that no run overflows it." if free else ""
    end = 0.0 if counts_down else high
    reason = f"'{row.label}' leaves the scale ({probe.figure(row, end)}) at {probe.shown(course.at(end))}.{left}"
    most = course.at(end + free if counts_down else end - free)
    yield _bound(probe, "high", max(0.0, most), _full(row), reason)
    if counts_down and course.at(high) > 0:
        least = course.at(high)
        reason = (
            f"Below {probe.shown(least)} '{row.label}' would not yet reach the last mark, {probe.figure(row, high)}."
        )
        yield _bound(probe, "low", least, "last mark", reason)


def _vessel(probe: Probe) -> Iterator[Bound]:
    """A third of the vessel: loose solid, or the solution that it takes, with room for foam and stirring."""
    volume, given = probe.setting.vessel_volume, probe.setting.concentration
    if volume is None or "vessel_volume" not in probe.foresight.asks:
        return
    room, words = FULL_VESSEL * volume.si, "vessel a third full"
    others = list(probe.foresight.consumes(probe.options).values())
    if not others:
        reason = f"A third of {volume.reading.shown}, loosely filled, at about 1 g/mL."
        yield _bound(probe, "high", room * LOOSE_DENSITY, words, reason)
    elif given is not None:
        most = room * given.si / (1 + probe.setting.excess.si) / others[0]
        shown = volume.reading.shown
        reason = f"The solution for it would fill more than a third of {shown}: no room to foam or stir."
        yield _bound(probe, "high", most, words, reason)


def _uncertain(probe: Probe, top: float) -> Iterator[Bound]:
    """The smallest sample whose result is known as well as is wanted."""
    wanted = probe.setting.wanted.si
    if not top > 0 or probe.spread(top) > wanted:
        return
    low, high = math.log(top * 1e-5), math.log(top)
    if probe.spread(math.exp(low)) <= wanted:
        return
    while high - low > NEAR:
        guess = _secant(probe, low, high, wanted)
        if probe.spread(math.exp(guess)) > wanted:
            low = guess
        else:
            high = guess
    shown = probe.setting.wanted.reading.shown
    end = math.exp(high)
    reason = f"Below {probe.shown(end)} the result is known less well than ± {shown}, to 95 %."
    yield _bound(probe, "low", end, f"± {shown}", reason, is_fixed=False)


def _secant(probe: Probe, low: float, high: float, wanted: float) -> float:
    """Where the spread would be as wanted if it fell straight in logarithms; never quite at an end, so both move."""
    above, below = probe.spread(math.exp(low)), probe.spread(math.exp(high))
    if not math.isfinite(above):
        return (low + high) / 2
    share = math.log(above / wanted) / max(1e-9, math.log(above / max(below, 1e-12)))
    return low + min(0.97, max(0.03, share * 1.02)) * (high - low)
