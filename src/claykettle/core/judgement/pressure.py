"""Is the barometer figure one of this place? Another unit, or sea level taken for the bench, is asked about."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Trial
from claykettle.core.units import unit, units_of
from claykettle.core.verdict import Verdict

LOWEST_PA, HIGHEST_PA = 5.0e4, 1.08e5
"""From a laboratory at 5500 m to the strongest high at sea level."""


def judge_barometer(trial: Trial) -> Iterator[Verdict]:
    """A pressure that no barometer shows in a room, and the unit in which its digits would make sense."""
    reading = trial.typed("barometer")
    if reading is None or LOWEST_PA <= reading.si <= HIGHEST_PA:
        return
    usual = [
        symbol
        for symbol in units_of("pressure")
        if LOWEST_PA <= reading.number * unit(symbol).factor <= HIGHEST_PA and symbol not in ("mbar", "Torr")
    ]
    meant = f" Were {' or '.join(unit(symbol).shown for symbol in usual)} meant?" if usual else ""
    text = f"{reading.shown} is no air pressure of a room.{meant} Correct it in the log."
    yield Verdict("suspect-unit", "stop", "barometer", text)


def judge_sea_level(trial: Trial) -> Iterator[Verdict]:
    """That the pressure at the bench was computed from one at sea level."""
    reading = trial.typed("barometer")
    station = trial.value("station_pressure")
    if reading is None or station is None or trial.options.barometer != "sea_level":
        return
    text = (
        f"{reading.shown} at sea level is about {station / 1000:.2f} kPa here by the standard atmosphere. That is "
        "approximate; a barometer at the bench is better."
    )
    yield Verdict("sea-level", "watch", "station_pressure", text)
