"""Simulated classes, 500 runs a row: what a green answer is worth. The table is printed; its limits are asserted.

Salts of the built-in list, weighed as a class weighs them; each fault of causes.toml with a dose that a bench would not
notice. Right and wrong are told by the truth that was drawn, not by the program.
"""

from __future__ import annotations

import random
import sys
import unittest
from collections import Counter
from decimal import Decimal

from claykettle.core.chemistry.hydrates import known_salts
from claykettle.core.method import Cause, PlainReadings, ReadingScaled, ReadingShifted, TruthChanged
from claykettle.core.methods.gas_over_water.method import METHOD as GAS
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.hydrate.bench import HydrateTruth
from claykettle.core.methods.hydrate.judge import water_fraction
from claykettle.core.methods.hydrate.method import METHOD as HYDRATE
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.quantity import Reading, parse_reading
from claykettle.core.run import Entry, Evaluation, Run, TrialEvaluation, TrialRecord, evaluate_run
from claykettle.core.sheet import Shape
from tests.support.tiers import amount, both

RUNS = amount(100, 500)
HALF_WIDTHS = {0.001: 3, 0.01: 2}
"""Of the balance in g, and how many decimals it shows."""


def shown(value: float, half_width: float, decimals: int, unit: str, draw: random.Random) -> Reading:
    """What an instrument shows of a value in its unit: never further off than its half-width, the rounding in it."""
    off = max(0.0, half_width - 0.5 * 10.0**-decimals)
    return parse_reading(f"{value + draw.uniform(-off, off):.{decimals}f} {unit}", DIMENSIONS[unit])


DIMENSIONS = {"g": "mass", "mL": "volume", "degC": "temperature", "hPa": "pressure", "mm": "length"}


def with_cause(readings: PlainReadings, cause: Cause, dose: float) -> PlainReadings:
    """The readings with a shifted or scaled one; a changed truth was played already."""
    match cause.kind:
        case ReadingShifted(name, factor):
            return {**readings, name: _each(readings[name], lambda value: value + factor * dose)}
        case ReadingScaled(name):
            return {**readings, name: _each(readings[name], lambda value: value * (1 + dose))}
    return readings


def _each(value: float | list[float], change: object) -> float | list[float]:
    assert callable(change)
    return [change(one) for one in value] if isinstance(value, list) else change(value)


def salt_run(
    draw: random.Random, half_width: float, cause: Cause | None, dose: float = 0.0
) -> tuple[str, TrialEvaluation]:
    """The hydrate that it was, and the run of it, its label accepted."""
    hydrate = draw.choice(draw.choice(known_salts()).hydrates)
    options = HydrateOptions(salt=hydrate.anhydrous, accepted=hydrate)
    share = water_fraction(hydrate)
    truth = HydrateTruth(draw.uniform(0.02, 0.05), draw.choice((1.0, 1.5, 2.0, 3.0)) * 1e-3, share / (1 - share))
    shape = Shape(options)
    faults = {cause.kind.fault: dose} if cause is not None and isinstance(cause.kind, TruthChanged) else {}
    readings = HYDRATE.bench.play(shape, truth, faults)
    if cause is not None:
        readings = with_cause(readings, cause, dose)
    decimals = HALF_WIDTHS[half_width]
    entries: dict[str, tuple[Entry, ...]] = {}
    for name, value in readings.items():
        rows = value if isinstance(value, list) else [value]
        entries[name] = tuple(Entry(shown(1000 * one, half_width, decimals, "g", draw)) for one in rows)
    # a class weighs until two agree within what its balance can show
    tolerance = parse_reading(f"{max(0.005, 2 * half_width)} g", "mass")
    run = Run(
        HYDRATE,
        options.model_copy(update={"tolerance": tolerance}),
        (TrialRecord("1", entries),),
        {"balance": Decimal(str(half_width)) / 1000},
    )
    return hydrate.text, evaluate_run(run).trials[0]


def doses(cause: Cause, draw: random.Random) -> float:
    """From a tenth of the usual to the most that a bench would not notice."""
    return draw.uniform(0.1 * cause.usual, cause.believable)


@both
class Salts(unittest.TestCase):
    def test_with_the_label_known_no_wrong_formula_is_ever_good(self) -> None:
        rows: list[tuple[str, Counter[str]]] = []
        for half_width in HALF_WIDTHS:
            for cause in (None, *HYDRATE.bench.causes):
                rows.append((f"{half_width} g, {cause.code if cause else 'honest'}", self.counted(half_width, cause)))
        self.printed(rows)
        for name, found in rows:
            with self.subTest(name):
                self.assertLessEqual(found["wrong and good"], 0.005 * RUNS)
                self.assertLessEqual(found["transposition"], 0.01 * RUNS)
                if "honest" in name:
                    self.assertGreaterEqual(found["right"], 0.98 * RUNS)
                    self.assertLessEqual(found["accused"], 0.05 * RUNS)

    def counted(self, half_width: float, cause: Cause | None) -> Counter[str]:
        draw = random.Random(f"{half_width} {cause.code if cause else ''}")
        found: Counter[str] = Counter()
        for _ in range(RUNS):
            true, trial = salt_run(draw, half_width, cause, doses(cause, draw) if cause else 0.0)
            levels = {row.code: row.level for row in trial.verdicts}
            word = trial.words.get("formula")
            text = word.text if word is not None else None
            found["right"] += text == true or (text is not None and levels.get("formula-undecided") is not None)
            found["wrong and good"] += text not in (None, true) and levels.get("formula-match") == "good"
            found["transposition"] += "transposition" in levels
            found["accused"] += "off-accepted" in levels or "loss-too-large" in levels
            found["agrees"] += "agrees" in levels
        return found

    def printed(self, rows: list[tuple[str, Counter[str]]]) -> None:
        names = ("right", "wrong and good", "transposition", "accused", "agrees")
        print(f"\n{'hydrate, of ' + str(RUNS):34}" + "".join(f"{name:>16}" for name in names), file=sys.stderr)
        for title, found in rows:
            print(f"{title:34}" + "".join(f"{found[name]:16d}" for name in names), file=sys.stderr)


@both
class Gases(unittest.TestCase):
    """Honest trials of one practical, each in a room and a tube of its own: they are alike."""

    def test_honest_trials_are_alike(self) -> None:
        for title, long_tube in (("three burettes", False), ("three in one long tube", True)):
            draw = random.Random(title)
            alarms = sum(
                any(row.code == "not-alike" for row in self.run_of(draw, long_tube).verdicts) for _ in range(RUNS)
            )
            print(f"\nnot-alike on {RUNS} honest runs of {title}: {alarms}", file=sys.stderr)
            with self.subTest(title):
                self.assertLessEqual(alarms, 0.02 * RUNS)

    def run_of(self, draw: random.Random, long_tube: bool) -> Evaluation:
        tube = {"mark": "500 mL"} if long_tube else {"reading": "inverted_burette", "mark": "50 mL"}
        options = GasOverWaterOptions.model_validate(
            {"reagent": "Mg", "equation": "Mg + 2 HCl -> MgCl2 + H2", "tube": tube}
        )
        celsius, pressure = draw.uniform(17, 26), draw.uniform(960, 1030)
        held, level_before, trials = 0.0, 0.0, []
        for number in range(3):
            sample, level = draw.uniform(0.025, 0.038), draw.uniform(-60, 120)
            # the gas law by hand: Buck's vapour (from memory), 133.322 Pa a mm of mercury, 9.79 Pa a mm of water
            kelvin = celsius + 273.15
            dry = 100 * pressure - 100 * buck_hpa(celsius)
            mol = sample / 24.305
            if long_tube:
                amount = held + mol
                end = 1e6 * amount * 8.314462618 * kelvin / (dry - 9.79 * level)
                entries = {
                    "volume_start": 1e6 * held * 8.314462618 * kelvin / (dry - 9.79 * level_before) if number else 0.0,
                    "volume_end": end,
                    "level_difference_start": level_before,
                }
                held, level_before = amount, level
            else:
                end = 1e6 * mol * 8.314462618 * kelvin / (dry - 9.79 * level)
                entries = {"volume_end": 50 + 2.40 - end, "dead_volume": 2.40}
            typed = {
                "sample": shown(sample, 0.0001, 4, "g", draw),
                "temperature": shown(celsius, 0.5, 1, "degC", draw),
                "barometer": shown(pressure, 0.5, 1, "hPa", draw),
                "level_difference": shown(level, 1, 0, "mm", draw),
            }
            for name, value in entries.items():
                unit, width, decimals = ("mm", 1.0, 0) if name.startswith("level") else ("mL", VOLUME[long_tube], 2)
                typed[name] = shown(value, width, decimals, unit, draw) if value else parse_reading("0 mL", "volume")
            trials.append(TrialRecord(str(number + 1), {name: (Entry(row),) for name, row in typed.items()}))
        widths = {"balance": "1e-7", "volume": f"{VOLUME[long_tube]}e-6", "thermometer": "0.5", "barometer": "50",
                  "ruler": "0.001"}  # fmt: skip
        return evaluate_run(Run(GAS, options, tuple(trials), {kind: Decimal(row) for kind, row in widths.items()}))


VOLUME = {False: 0.05, True: 0.5}
"""Half-width of a burette and of a long tube in mL."""


def buck_hpa(celsius: float) -> float:
    import math

    return 6.1121 * math.exp((18.678 - celsius / 234.5) * celsius / (257.14 + celsius))
