"""Readings that no gas tube and no bath shows: beyond the last mark, kelvin for Celsius, metres for millimetres."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.chemistry.conditions import ZERO_CELSIUS
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Trial
from claykettle.core.verdict import Verdict

WARMEST_BATH_C = 60
HIGHEST_COLUMN_M = 1


def judge_tube(trial: Trial) -> Iterator[Verdict]:
    """Readings that cannot be: beyond the tube's last mark, more at the start than at the end, no water of a bath."""
    for name in ("volume_start", "volume_end"):
        reading, most = trial.typed(name), trial.most(name)
        if reading and most is not None and reading.si > most.si:
            label = trial.sheet.labels[name]
            text = f"{reading.shown} lies beyond the last mark, {most.shown}: read '{label}' once more."
            yield Verdict("off-scale", "stop", name, text)
    temperature = trial.typed("temperature")
    if temperature and not ZERO_CELSIUS <= float(temperature.si) <= ZERO_CELSIUS + WARMEST_BATH_C:
        kelvin = " Was kelvin meant?" if 270 <= temperature.number <= 340 else ""
        text = f"Water at {temperature.shown} is none that a gas is collected over.{kelvin}"
        yield Verdict("off-scale", "stop", "temperature", text)
    pressure, vapour = trial.value("station_pressure"), trial.value("vapour_pressure")
    if pressure is not None and vapour is not None and vapour >= pressure:
        yield Verdict("off-scale", "stop", "barometer", "The vapour alone would be above the barometer: check both.")
    between = trial.value("gas_volume")
    if between is not None and between <= 0:
        text = "The tube holds no more gas at the end than at the start: check both, and which way the tube counts."
        yield Verdict(STEP, "stop", "volume_end", text)
    for name in ("level_difference", "level_difference_start"):
        level = trial.typed(name)
        if level and abs(level.si) > HIGHEST_COLUMN_M:
            text = f"{level.shown} of water is more than any tube stands. Were millimetres meant?"
            yield Verdict("suspect-unit", "stop", name, text)
