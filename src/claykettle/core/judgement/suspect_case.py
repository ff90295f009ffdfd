"""What is to be explained of a run, and what a cause makes of it: every result at once, with what the results share.

The distance between what a cause would have shown and what was measured is taken over all results of the run, each by
its uncertainty and with their correlations: two results that hang on one weighing count for what they say together.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, partial
from operator import add, mul
from typing import Any, NamedTuple

from claykettle.core.errors import refuse
from claykettle.core.judgement.replay import replay
from claykettle.core.method import (
    Cause,
    LineReplaced,
    Method,
    OptionReplaced,
    PlainReadings,
    ReadingScaled,
    ReadingShifted,
    TruthChanged,
)
from claykettle.core.quantity import Unit, nominal
from claykettle.core.sheet import SETTLING, Shape

MOST_ROUNDS = 12
FEW_ROUNDS = 6
SAME = 1e-6
"""A dose that a round moves by less than this part of it has been found."""
SHARED = 1e-6
"""A result of which less than this part is its own says nothing that others do not say."""
LIMITS = (0.01, 9.0, 11.8, 14.2, 16.3)
"""Chi-squared that three standard uncertainties mean (99.7 %), by degrees of freedom; nothing where none is free."""


def limit(freedom: int) -> float:
    """The chi-squared up to which what is left is the instruments'."""
    return LIMITS[min(max(freedom, 0), len(LIMITS) - 1)]


@dataclass(frozen=True)
class Other:
    """Another result of the run that was to be expected: its label and unit, and both figures (SI)."""

    name: str
    label: str
    unit: Unit
    measured: float
    expected: float
    spread: float


class Fit(NamedTuple):
    """The dose (SI) that brings all results nearest to what was measured, and the chi-squared that is left."""

    dose: float
    left: float


@dataclass(frozen=True)
class Case:
    """What was measured, what was expected, and how to replay. `covariance` (SI) is of the key, then the others."""

    method: Method
    shape: Shape
    readings: PlainReadings
    key: str
    measured: float
    expected: float
    spread: float
    others: tuple[Other, ...] = ()
    covariance: tuple[tuple[float, ...], ...] = ()

    @cached_property
    def clean(self) -> Any:
        """The truth behind the readings, had the result been the expected one.

        Raises Refusal `no-truth` for readings that no bench can show, such as a residue of less than nothing.
        """
        values = self.method.page.build(self.shape).evaluate(self.readings)
        try:
            return self.method.bench.expect(self.shape, self.method.bench.truth(self.shape, values), self.expected)
        except (ArithmeticError, ValueError, KeyError, TypeError):
            text = "No bench shows these readings: mend first what the verdicts say of them, then look for causes."
            raise refuse("no-truth", text) from None

    @cached_property
    def honest(self) -> PlainReadings:
        """What honest instruments would have shown of it."""
        return self.method.bench.play(self.shape, self.clean, {})

    def result(self, readings: PlainReadings) -> float | None:
        """The key result of plain readings."""
        found = self.results(readings)
        return None if found is None else found[0]

    def results(self, readings: PlainReadings) -> list[float] | None:
        """The key result of plain readings and the others, in order; None where one cannot be had."""
        kept = {name: row for name, row in readings.items() if not name.endswith(SETTLING)}
        values = self.method.page.build(self.shape).evaluate(kept)
        found = [values.get(name) for name in (self.key, *(row.name for row in self.others))]
        return None if any(value is None for value in found) else [nominal(value) for value in found]

    def disturbed(self, *rows: tuple[Cause, float]) -> PlainReadings:
        """The readings that honest instruments would have shown with these doses (SI) of causes, all together."""
        faults = {cause.kind.fault: dose for cause, dose in rows if isinstance(cause.kind, TruthChanged)}
        readings = self.method.bench.play(self.shape, self.clean, faults) if faults else self.honest
        for cause, dose in rows:
            match cause.kind:
                case ReadingShifted(name, factor):
                    readings = _changed(readings, name, partial(add, factor * dose))
                case ReadingScaled(name):
                    readings = _changed(readings, name, partial(mul, 1 + dose))
        return readings

    # What a cause makes of the key result

    def after(self, cause: Cause, dose: float) -> float:
        """What the cause makes of the expected result."""
        if not isinstance(cause.kind, LineReplaced | OptionReplaced):
            found = self._usual(cause) if dose == cause.usual else self.results(self.disturbed((cause, dose)))
            return self.expected if found is None else found[0]
        try:
            return replay(self.method, self.shape, self.honest, cause, dose, self.key).after
        except KeyError:
            # with this cause there would be no result at all: it explains none
            return self.expected

    def _usual(self, cause: Cause) -> list[float] | None:
        """All results with the usual dose of a cause, remembered: three questions ask for them."""
        if cause.code not in self._remembered:
            self._remembered[cause.code] = self.results(self.disturbed((cause, cause.usual)))
        return self._remembered[cause.code]

    @cached_property
    def _remembered(self) -> dict[str, list[float] | None]:
        return {}

    def dose_of_key(self, cause: Cause, shift: float) -> float | None:
        """The dose that leads from the expected to the measured key result; None without one of the right sign.

        `shift` is what the usual dose does. A shifted or scaled reading is undone on the readings themselves.
        """
        wanted = self.measured - self.expected
        if shift == 0 or wanted == 0 or (shift > 0) != (wanted > 0):
            return None
        match cause.kind:
            case TruthChanged():

                def miss(dose: float) -> float | None:
                    found = self.result(self.disturbed((cause, dose)))
                    return None if found is None else found - self.measured

            case ReadingShifted(name, factor):

                def miss(dose: float) -> float | None:
                    found = self.result(_changed(self.readings, name, lambda value: value - factor * dose))
                    return None if found is None else self.expected - found

            case ReadingScaled(name):

                def miss(dose: float) -> float | None:
                    found = self.result(_changed(self.readings, name, lambda value: value / (1 + dose)))
                    return None if found is None else self.expected - found

            case LineReplaced() | OptionReplaced():
                return None
        return _root(miss, cause.usual * wanted / shift, most_of(cause))

    # What it makes of all results

    @cached_property
    def _scale(self) -> tuple[list[int], list[list[float]]]:
        """Which results say something of their own, and the rows that make their gaps independent and of one size."""
        rows = self.covariance or ((self.spread**2,),)
        kept: list[int] = []
        made: list[list[float]] = []
        for index, row in enumerate(rows):
            parts: list[float] = []
            for place, before in enumerate(made):
                done = math.fsum(a * b for a, b in zip(parts, before, strict=False))
                parts.append((row[kept[place]] - done) / before[place])
            own = row[index] - math.fsum(part * part for part in parts)
            if row[index] > 0 and own > SHARED * row[index]:
                kept.append(index)
                made.append([*parts, math.sqrt(own)])
        return kept, made

    @property
    def freedom(self) -> int:
        """How many results say something of their own."""
        return len(self._scale[0])

    def gaps(self, results: Sequence[float]) -> list[float]:
        """How far results (SI) lie from what was measured: independent gaps, each in standard uncertainties."""
        kept, rows = self._scale
        wanted = [self.measured, *(row.measured for row in self.others)]
        found: list[float] = []
        for index, row in zip(kept, rows, strict=True):
            done = math.fsum(a * b for a, b in zip(found, row, strict=False))
            found.append((results[index] - wanted[index] - done) / row[-1])
        return found

    @cached_property
    def before(self) -> list[float] | None:
        """The gaps where nothing happened, None where the expected run has not all results."""
        found = self.results(self.honest)
        return None if found is None else self.gaps(found)

    def effect(self, cause: Cause) -> list[float] | None:
        """What one unit (SI) of a cause does to the gaps, by its usual dose."""
        found = self._usual(cause) if cause.usual else None
        if found is None or self.before is None:
            return None
        return [(after - before) / cause.usual for after, before in zip(self.gaps(found), self.before, strict=True)]

    def fit(self, cause: Cause) -> Fit | None:
        """The dose that brings all results nearest; None where none above zero brings them nearer."""
        slope, before = self.effect(cause), self.before
        if slope is None or before is None:
            return None
        at, gaps = 0.0, before
        for _ in range(FEW_ROUNDS):
            steep = math.fsum(one * one for one in slope)
            step = -math.fsum(a * b for a, b in zip(slope, gaps, strict=True)) / steep if steep > 0 else 0.0
            to = min(at + step, 0.95 * most_of(cause))
            if to <= 0 or steep == 0:
                return None
            found = self.results(self.disturbed((cause, to)))
            if found is None:
                return None
            after = self.gaps(found)
            close = abs(to - at) <= SAME * to
            if to != at:
                slope = [(new - old) / (to - at) for new, old in zip(after, gaps, strict=True)]
            at, gaps = to, after
            if close:
                break
        return Fit(at, math.fsum(gap * gap for gap in gaps))


def most_of(cause: Cause) -> float:
    """Where a dose (SI) ends: nothing loses more than all of itself."""
    return 1.0 if cause.unit == "%" else math.inf


def _changed(readings: PlainReadings, name: str, change: Callable[[float], float]) -> PlainReadings:
    changed = dict(readings)
    value = changed.get(name)
    if value is not None:
        changed[name] = [change(one) for one in value] if isinstance(value, list) else change(value)
    return changed


def _root(miss: Callable[[float], float | None], guess: float, most: float) -> float | None:
    """Where `miss` is zero, by the secant from zero; None where it does not lie between zero and `most`."""
    before, at = 0.0, min(guess, 0.9 * most)
    low = miss(before)
    close = 1e-9 * abs(low) if low is not None else 0.0
    for _ in range(MOST_ROUNDS):
        high = miss(at)
        if low is None or high is None:
            return None
        if abs(high) <= close:
            return at
        if high == low:
            return None
        before, low, at = at, high, at - high * (at - before) / (high - low)
        if not 0 < at < most:
            return None
    return None
