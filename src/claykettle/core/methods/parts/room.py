"""What the gas methods share, no method itself: the pressure at the bench from a barometer or from sea level."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, JsonValue, model_validator

from claykettle.core.chemistry.conditions import GAS_CONSTANT, station_pressure_pa
from claykettle.core.method import GivenLength, MethodOptions, field_error, in_words, known
from claykettle.core.quantity import Number
from claykettle.core.sheet import Page, Shape

LATE: dict[str, JsonValue] = {"first": True, "order": 2}
"""Asked of every run, behind what the method itself asks first."""


class RoomOptions(MethodOptions):
    """Where the barometer figure comes from."""

    barometer: Annotated[str, Field(pattern="^(station|sea_level)$")] = Field(
        default="station",
        title="Barometer figure",
        description="A weather service gives it reduced to sea level.",
        json_schema_extra=LATE | in_words({"station": "read at the bench", "sea_level": "reduced to sea level"}),
    )
    elevation: GivenLength | None = Field(
        default=None,
        title="Elevation",
        description="Of the laboratory, such as 520 m; for a sea-level figure.",
        json_schema_extra=LATE | {"only_with": {"barometer": "sea_level"}},
    )

    @model_validator(mode="after")
    def _elevation_goes_with_sea_level(self) -> RoomOptions:
        if self.barometer == "sea_level" and self.elevation is None:
            text = "A sea-level figure needs the elevation of the laboratory, such as 520 m."
            raise field_error("missing-field", text, "elevation")
        return self

    def at_sea_level(self, station_pa: float) -> float:
        """What the barometer figure reads where the bench has this pressure."""
        if self.barometer == "station":
            return station_pa
        return station_pa / station_pressure_pa(1.0, known(self.elevation).si)


def _is_reduced(shape: Shape) -> bool:
    return bool(shape.options.barometer == "sea_level")


def _is_read(shape: Shape) -> bool:
    return not _is_reduced(shape)


def declare_gas_law(page: Page, temperature: str, label: str) -> None:
    """Put R on the page, and a temperature (a reading's name and label) in kelvin."""

    @page.line("gas constant R", "J/(mol K)", "8.314462618 J/(mol K)")
    def gas_constant(options: RoomOptions) -> Number:
        return GAS_CONSTANT

    @page.line(f"{label} in kelvin", "K", f"({label})", name="kelvin", takes={"celsius": temperature})
    def kelvin(celsius: Number) -> Number:
        return celsius


def _of_the_room(options: RoomOptions) -> str:
    return "sea_level" if options.barometer == "sea_level" else "barometer"


def declare_pressure(page: Page) -> None:
    """Put the barometer and the pressure at the bench on the page."""
    page.reading(
        "barometer",
        "barometer",
        "hPa",
        "barometer",
        continues="barometer",
        room=_of_the_room,
        late="A weather service's figure for that hour will do: say among the options that it is reduced to sea level.",
    )
    page.given("elevation", "elevation", "m", lambda options: known(options.elevation), _is_reduced)

    @page.line("pressure at the bench", "kPa", "(barometer)", when=_is_read, positive=True, name="station_pressure")
    def read_at_the_bench(barometer: Number) -> Number:
        return barometer

    @page.table(
        "pressure at the bench",
        "kPa",
        "barometer × (1 − 0.0065 × elevation / 288.15)^5.25588",
        when=_is_reduced,
        positive=True,
        name="station_pressure",
    )
    def from_sea_level(barometer: Number, elevation: Number) -> Number:
        return station_pressure_pa(barometer, elevation)
