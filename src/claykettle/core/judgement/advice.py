"""What would have been the better choice: a finer balance, a larger sample, a drier residue. Computed, not assumed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from claykettle.core.method import Method, PlainReadings, Trial
from claykettle.core.quantity import Number, figures, reading_variable, spread_variable, standard_uncertainty
from claykettle.core.sheet import SETTLING, SPREAD

FINER, LARGER = 10, 2
WORTH = 0.98
"""A choice that narrows the band by less than this leaves it as it is: not worth a line."""


@dataclass(frozen=True)
class Advice:
    """One choice, what the band (k = 2) would be with it in the unit of the key result, and both as a sentence."""

    choice: str
    band: float
    share: float
    text: str


def advise(trial: Trial, method: Method, half_widths: Mapping[str, Decimal]) -> list[Advice]:
    """What each choice would make of the band of the key result, the one that buys most first."""
    key = method.key_on(trial.sheet)
    line = next((row for row in trial.sheet.lines if row.name == key), None)
    spread = trial.uncertainty(key)
    if line is None or spread <= 0:
        return []
    settling = {name: standard_uncertainty(trial.values.get(name + SETTLING)) for name in _series(trial)}
    widths = {name: _half_width(trial, name, half_widths) for name in trial.readings}
    plain = trial.plain
    choices = [
        (f"a {words} ten times finer", _spread(trial, plain, _finer(trial, widths, kind), settling, key))
        for kind, words in _instruments(trial).items()
    ]
    choices.append((f"a last {_round(trial)} that changes nothing more", _spread(trial, plain, widths, {}, key)))
    if method.planned is not None:
        more = method.foresight.label if method.bench.larger and method.foresight else method.planned.label
        choices.append((f"twice the {more}", _larger(trial, method, widths, settling, key)))
    unit = line.shown_unit
    rows = [
        Advice(
            choice,
            unit.step_from_si(2 * after),
            after / spread,
            f"{choice[0].upper()}{choice[1:]}: ± {figures(unit.step_from_si(2 * after), 2)} {unit.shown}".rstrip()
            + f" in place of ± {figures(unit.step_from_si(2 * spread), 2)}.",
        )
        for choice, after in choices
        if after is not None and 0 < after < WORTH * spread
    ]
    return sorted(rows, key=lambda row: row.share)


def _instruments(trial: Trial) -> dict[str, str]:
    """The kinds of instruments that the trial was read from, and what they are called."""
    kinds = (trial.sheet.readings[name].instrument for name in trial.readings)
    return {kind: NAMES.get(kind, kind) for kind in dict.fromkeys(kinds) if kind}


NAMES = {"coarse_balance": "coarse balance", "volume": "gas tube", "liquid_volume": "measure for the liquid"}
"""Where the kind of an instrument is not what it is called."""


def _finer(trial: Trial, widths: Mapping[str, float], kind: str) -> dict[str, float]:
    """The half-widths with this kind of instrument ten times finer."""
    readings = trial.sheet.readings
    return {name: width / FINER if readings[name].instrument == kind else width for name, width in widths.items()}


def _round(trial: Trial) -> str:
    return trial.sheet.readings[trial.weighed_again].round if trial.weighed_again else "round"


def _series(trial: Trial) -> list[str]:
    return [name for name, row in trial.sheet.readings.items() if row.settles]


def _half_width(trial: Trial, name: str, half_widths: Mapping[str, Decimal]) -> float:
    definition = trial.sheet.readings[name]
    if definition.given is not None:
        return float(definition.given(trial.options).half_width or 0)
    reading = trial.readings[name]
    one = reading[-1] if isinstance(reading, tuple) else reading
    given = trial.own_widths.get(name, half_widths.get(definition.instrument))
    return float(given if given is not None else one.last_digit_si)


def _spread(
    trial: Trial, plain: PlainReadings, widths: Mapping[str, float], settling: Mapping[str, float], key: str
) -> float | None:
    """The standard uncertainty of the result with these half-widths, and standard uncertainties of settling."""

    def number(name: str, value: float) -> Number:
        return reading_variable(value, widths[name], name) if widths[name] > 0 else value

    inputs: dict[str, Number] = {
        name: [number(name, one) for one in row] if isinstance(row, list) else number(name, row)
        for name, row in plain.items()
    }
    for name, row in plain.items():
        if trial.sheet.readings[name].sampled and isinstance(row, list) and len(row) > 1:
            inputs |= {name: row, name + SPREAD: spread_variable(row, name, widths[name])}
    for name, spread in settling.items():
        if spread > 0:
            inputs[name + SETTLING] = reading_variable(0.0, spread * 3**0.5, f"{name}.settling")
    value = trial.sheet.evaluate(inputs).get(key)
    return None if value is None else standard_uncertainty(value)


def _larger(
    trial: Trial, method: Method, widths: Mapping[str, float], settling: Mapping[str, float], key: str
) -> float | None:
    """The same with a larger sample, weighed by the method's own bench model; None where the instruments end before."""
    shape, planned = trial.sheet.shape, method.planned
    empty = [name for name, row in trial.sheet.readings.items() if row.pan == "empty"]
    if planned is None or any(trial.values.get(name) is None for name in (key, *empty)):
        return None
    truth = method.bench.truth(shape, trial.values)
    more = method.bench.larger(truth, LARGER) if method.bench.larger else _scaled(truth, planned.name)
    readings = {name: row for name, row in method.bench.play(shape, more, {}).items() if name in widths}
    if any(_is_off_scale(trial, name, row) for name, row in readings.items()):
        return None
    given: PlainReadings = {name: value for name, value in trial.sheet.given.items() if name in widths}
    return _spread(trial, given | readings, widths, settling, key)


def _scaled(truth: Any, sample: str) -> Any:
    return replace(truth, **{sample: LARGER * getattr(truth, sample)})


def _is_off_scale(trial: Trial, name: str, value: float | list[float]) -> bool:
    most = trial.most(name)
    return most is not None and not isinstance(value, list) and not 0 <= value <= float(most.si)
