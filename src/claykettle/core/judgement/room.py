"""The room's readings, taken once for all runs of a day, and whether each can be what it is called.

A barometer at the bench shows less the higher the laboratory lies; a weather service gives the figure reduced to sea
level. Taken for one another they shift every gas by as much, so a figure that looks like the other is asked about.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from claykettle.core.chemistry.conditions import ATMOSPHERE, HIGHEST_PA, LOWEST_PA, station_pressure_pa
from claykettle.core.judgement.question import Question
from claykettle.core.quantity import Reading, unit, units_of

WEATHER = (0.955, 1.035)
"""A high or a low moves the pressure at one place so far from the standard atmosphere's (common practice)."""


ROOM_K = (278.15, 318.15)
"""From 5 °C to 45 °C: where somebody teaches."""


@dataclass(frozen=True)
class RoomSlot:
    """What can be read of the room."""

    label: str
    dimension: str
    unit: str
    instrument: str
    help: str


ROOM_SLOTS: Mapping[str, RoomSlot] = {
    "barometer": RoomSlot("barometer at the bench", "pressure", "hPa", "barometer", "As it hangs there, not reduced."),
    "sea_level": RoomSlot(
        "pressure at sea level", "pressure", "hPa", "barometer", "From a weather service; it needs the elevation."
    ),
    "temperature": RoomSlot(
        "room temperature", "temperature", "degC", "thermometer", "In the shade, near the benches."
    ),
    "humidity": RoomSlot("humidity", "ratio", "%", "hygrometer", "Relative, from the hygrometer."),
}


def expected_pa(elevation_m: float) -> tuple[float, float]:
    """Lowest and highest pressure that the weather brings at this elevation, by the standard atmosphere."""
    usual = station_pressure_pa(ATMOSPHERE, elevation_m)
    return WEATHER[0] * usual, WEATHER[1] * usual


def question_of_room(slot: str, reading: Reading, elevation_m: float | None) -> Question | None:
    """What is doubtful about a reading of the room, None for a believable one."""
    dimension = ROOM_SLOTS[slot].dimension
    if dimension == "pressure":
        return next(_pressure(slot, reading, elevation_m), None)
    if dimension == "temperature" and not ROOM_K[0] <= reading.si <= ROOM_K[1]:
        kelvin = " Was kelvin meant?" if 270 <= reading.number <= 320 else ""
        return Question("magnitude", f"{reading.shown} is no temperature of a room that is taught in.{kelvin}")
    if dimension == "ratio" and not 0 < reading.si <= 1:
        return Question("magnitude", f"A relative humidity lies between 0 and 100 %, not at {reading.shown}.")
    return None


def _pressure(slot: str, reading: Reading, elevation_m: float | None) -> Iterator[Question]:
    height = 0.0 if slot == "sea_level" else elevation_m
    low, high = expected_pa(height) if height is not None else (LOWEST_PA, HIGHEST_PA)
    mercury = mercury_meant(reading, elevation_m) if slot == "barometer" else ""
    if mercury:
        yield Question("suspect-unit", mercury)
    if low <= reading.si <= high:
        return
    meant = units_meant(reading, low, high)
    if meant:
        yield Question("suspect-unit", f"{reading.shown} is no air pressure here. Were {meant} meant?")
    yield from _other_place(slot, reading, elevation_m)
    yield Question("suspect-unit", f"{reading.shown} is no air pressure {_of_place(height)}. Read it once more.")


def units_meant(reading: Reading, low: float = LOWEST_PA, high: float = HIGHEST_PA) -> str:
    """The units in which these digits would be a pressure between two (Pa), such as `hPa or mmHg`; empty for none."""
    usual = (symbol for symbol in units_of("pressure") if symbol not in ("mbar", "Torr"))
    return " or ".join(unit(row).shown for row in usual if low <= reading.number * unit(row).factor <= high)


MERCURY = (Decimal(640), Decimal(800))
"""Between these a figure in hPa may be one in mmHg: it would then be the usual pressure below some 1500 m."""


def mercury_meant(reading: Reading, elevation_m: float | None) -> str:
    """Whether a pressure in hPa is likelier one in mmHg, as a sentence; empty where the place is known, or not."""
    low, high = MERCURY
    if elevation_m is not None or reading.unit.symbol not in ("hPa", "mbar") or not low <= reading.number <= high:
        return ""
    other = f"{float(reading.number) * 1.33322387415:.1f} hPa"
    return (
        f"{reading.shown} is the pressure some 2000 m up or higher; {reading.digits} mmHg would be {other}. Which "
        "unit does "
        "the barometer show? With the elevation among the options this is not asked."
    )


def _other_place(slot: str, reading: Reading, elevation_m: float | None) -> Iterator[Question]:
    """A figure at the bench that is one at sea level, or the other way round."""
    if elevation_m is None:
        return
    other = elevation_m if slot == "sea_level" else 0.0
    low, high = expected_pa(other)
    if not low <= reading.si <= high:
        return
    text = f"{reading.shown} looks like a figure"
    if slot == "sea_level":
        text += f" read at the bench ({elevation_m:.0f} m), not one reduced to sea level. Type it as the barometer's."
    else:
        here = expected_pa(elevation_m)
        range_text = f"{here[0] / 100:.0f} to {here[1] / 100:.0f} hPa"
        text += f" reduced to sea level: {_of_place(elevation_m)} a barometer shows {range_text}."
    yield Question("sea-level-figure", text)


def _of_place(elevation_m: float | None) -> str:
    if elevation_m is None:
        return "of a room"
    return "at sea level" if elevation_m == 0 else f"at {elevation_m:.0f} m"
