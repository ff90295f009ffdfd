"""Is the barometer figure one of this place? Another unit, or sea level taken for the bench, is asked about."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.chemistry.conditions import HIGHEST_PA, LOWEST_PA
from claykettle.core.judgement.room import mercury_meant, question_of_room, units_meant
from claykettle.core.method import Trial
from claykettle.core.verdict import Verdict


def judge_barometer(trial: Trial) -> Iterator[Verdict]:
    """A pressure that no barometer shows in a room, and the unit in which its digits would make sense."""
    reading = trial.typed("barometer")
    if reading is None:
        return
    mercury = "" if trial.options.barometer == "sea_level" else mercury_meant(reading, elevation_of(trial))
    if mercury:
        yield Verdict("suspect-unit", "watch", "barometer", mercury)
    if LOWEST_PA <= reading.si <= HIGHEST_PA:
        return
    units = units_meant(reading)
    meant = f" Were {units} meant?" if units else ""
    text = f"{reading.shown} is no air pressure of a room.{meant} Correct it in the log."
    yield Verdict("suspect-unit", "stop", "barometer", text)


def elevation_of(trial: Trial) -> float | None:
    """The elevation that the options tell, in m."""
    elevation = trial.options.elevation
    return None if elevation is None else float(elevation.si)


def judge_place(trial: Trial) -> Iterator[Verdict]:
    """A figure read at the bench that is one at sea level, where the elevation is known."""
    reading, elevation = trial.typed("barometer"), trial.options.elevation
    if reading is None or elevation is None:
        return
    slot = "sea_level" if trial.options.barometer == "sea_level" else "barometer"
    found = question_of_room(slot, reading, elevation.si)
    if found is not None and found.code == "sea-level-figure":
        yield Verdict("sea-level-figure", "watch", "barometer", found.text)


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
