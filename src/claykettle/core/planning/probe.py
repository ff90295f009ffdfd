"""What the instruments would show of a sample of some size, and how far the result would then be known."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from functools import cached_property

from claykettle.core.judgement.limits import limiting_sentence
from claykettle.core.method import Foresight, Method, Options, PlainReadings, Setting, Share
from claykettle.core.quantity import (
    Number,
    Unit,
    figures,
    nominal,
    plain,
    reading_variable,
    round_to_place,
    shares,
    spread_variable,
    standard_uncertainty,
    unit,
    variances,
)
from claykettle.core.sheet import SPREAD, ReadingDef, Shape, Worksheet

MOST_KG, MOST_M3 = 0.5, 0.005
"""Beyond half a kilogram nobody weighs a sample, beyond five litres nobody weighs a flask."""


@dataclass(frozen=True)
class Instruments:
    """What reads: half-widths and capacities in SI by kind of instrument, those that are known."""

    half_widths: Mapping[str, Decimal]
    capacities: Mapping[str, Decimal] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Probe:
    """A method under its options, in a setting, read by these instruments. Amounts are in SI."""

    method: Method
    shape: Shape
    setting: Setting
    instruments: Instruments
    _spreads: dict[float, float] = field(default_factory=dict, repr=False)

    @property
    def foresight(self) -> Foresight:
        """What the plan asks of the method."""
        assert self.method.foresight is not None  # the service refuses to plan a method without
        return self.method.foresight

    @property
    def options(self) -> Options:
        """The method's options."""
        options: Options = self.shape.options
        return options

    @cached_property
    def unit(self) -> Unit:
        """The unit in which the sample is sized."""
        return unit(self.foresight.unit)

    @cached_property
    def sheet(self) -> Worksheet:
        """The worksheet under these options."""
        return self.method.page.build(self.shape)

    @property
    def most(self) -> float:
        """The largest amount that is thought of."""
        return MOST_KG if self.unit.dimension == "mass" else MOST_M3

    def readings(self, amount: float) -> PlainReadings:
        """What the instruments would show, in SI, in the order of the worksheet. Raises Refusal `plan-open`."""
        truth = self.foresight.truth(self.options, amount, self.setting)
        shown = self.method.bench.play(self.shape, truth, {})
        return {name: shown[name] for name in self.sheet.readings if name in shown}

    def capacity(self, row: ReadingDef) -> float | None:
        """The highest figure that is shown of a reading, in SI; None where that is open."""
        most = row.most(self.options) if row.most is not None else None
        ends = (most.reading.si if most is not None else None, self.instruments.capacities.get(row.instrument))
        return min((float(end) for end in ends if end is not None), default=None)

    def half_width(self, row: ReadingDef) -> float:
        """Of the instrument that takes this reading, in SI; 0 where none is known."""
        return float(self.instruments.half_widths.get(row.instrument, Decimal(0)))

    def key_number(self, amount: float) -> Number:
        """The key result with its uncertainty, None where it cannot be had."""
        inputs: dict[str, Number] = {}
        for name, row in self.sheet.readings.items():
            given = row.given(self.options) if row.given is not None else None
            if given is not None and given.half_width is not None:
                inputs[name] = reading_variable(given.si, float(given.half_width), name)
        for name, value in self.readings(amount).items():
            row = self.sheet.readings[name]
            if row.sampled and isinstance(value, list):
                inputs |= {name: value, name + SPREAD: spread_variable(value, name, self.half_width(row) or 0.0)}
                continue
            # a plan counts on a last round that changes nothing more
            rows = [value[-1], value[-1]] if isinstance(value, list) else [value]
            numbers = [self._variable(row, one) for one in rows]
            inputs[name] = numbers if isinstance(value, list) else numbers[0]
        return self.sheet.evaluate(inputs).get(self.method.key_on(self.sheet))

    def _variable(self, row: ReadingDef, value: float) -> Number:
        half_width = self.half_width(row)
        return reading_variable(value, half_width, row.name) if half_width else value

    def spread(self, amount: float) -> float:
        """How far the result is known (k = 2) as a fraction of itself; infinite where there is none."""
        if amount not in self._spreads:
            number = self.key_number(amount)
            known = number is not None and math.isfinite(nominal(number)) and nominal(number) != 0
            self._spreads[amount] = 2 * standard_uncertainty(number) / abs(nominal(number)) if known else math.inf
        return self._spreads[amount]

    def limit(self, amount: float) -> str:
        """What limits the result with this amount, in a sentence; empty where there is no result."""
        key, number = self.method.key_on(self.sheet), self.key_number(amount)
        rows = shares(variances(number)) if number is not None else []
        return limiting_sentence([Share(key, name, share) for name, share in rows], self.sheet)

    def shown(self, amount: float) -> str:
        """An amount to three figures with its unit."""
        return f"{figures(self.unit.from_si(amount), 3)} {self.unit.shown}"

    def figure(self, row: ReadingDef, value: float) -> str:
        """A reading (SI) to the place that its instrument shows."""
        shown, half_width = unit(row.unit), self.half_width(row)
        number = Decimal(repr(shown.from_si(value)))
        if half_width <= 0:
            return f"{figures(float(number), 4)} {shown.shown}"
        place = Decimal(repr(round(shown.step_from_si(half_width), 12))).adjusted()
        return f"{plain(round_to_place(number, min(place, 0)))} {shown.shown}"


def last(value: float | list[float]) -> float:
    """A reading, or the last of a series."""
    return float(value[-1] if isinstance(value, list) else value)
