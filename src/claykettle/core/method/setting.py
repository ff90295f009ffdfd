"""What a plan takes for granted before anything is read: the room, the vessel, the tube, how sure one wants to be."""

from __future__ import annotations

from pydantic import Field, model_validator

from claykettle.core.chemistry.conditions import HIGHEST_PA, LOWEST_PA
from claykettle.core.method.options import (
    GivenConcentration,
    GivenMass,
    GivenPressure,
    GivenRatio,
    GivenTemperature,
    GivenVolume,
    Options,
    field_error,
)


class Setting(Options):
    """Quantities with their units, as typed; each has what most rooms and cupboards have as its default."""

    wanted: GivenRatio = Field(
        default="1 %", validate_default=True, title="Result within", description="Of itself, to 95 %, such as 1 %."
    )
    temperature: GivenTemperature = Field(
        default="20 degC", validate_default=True, title="Temperature", description="Of the room and of the water."
    )
    barometer: GivenPressure = Field(
        default="1013 hPa", validate_default=True, title="Pressure at the bench", description="Of the air, not reduced."
    )
    humidity: GivenRatio = Field(
        default="50 %", validate_default=True, title="Humidity", description="Relative, of the air."
    )
    vessel_mass: GivenMass = Field(
        default="30 g", validate_default=True, title="Empty vessel weighs", description="With what is weighed with it."
    )
    vessel_volume: GivenVolume | None = Field(
        default=None, title="Vessel holds", description="It is filled to a third at most."
    )
    dead_volume: GivenVolume = Field(
        default="3 mL",
        validate_default=True,
        title="Dead volume",
        description="Between last mark and stopcock.",
        json_schema_extra={"only_with": {"tube.reading": "inverted_burette"}},
    )
    concentration: GivenConcentration | None = Field(
        default=None, title="Solution it reacts with", description="Its concentration, such as 3 mol/L."
    )
    excess: GivenRatio = Field(
        default="100 %", validate_default=True, title="Excess of it", description="100 %: twice what is needed."
    )

    @model_validator(mode="after")
    def _can_be(self) -> Setting:
        for name, (low, high, words) in LIMITS.items():
            value = getattr(self, name)
            if value is not None and not low <= value.si <= high:
                text = f"{value.reading.shown} cannot be here: it lies {words}."
                raise field_error("out-of-range", text, name)
        return self


LIMITS = {
    "wanted": (1e-5, 1.0, "from 0.001 to 100 %"),
    "temperature": (273.15, 313.15, "from 0 to 40 °C"),
    "barometer": (LOWEST_PA, HIGHEST_PA, "from 500 to 1080 hPa"),
    "humidity": (0.0, 1.0, "from 0 to 100 %"),
    "vessel_mass": (1e-4, 10.0, "from 0.1 g to 10 kg"),
    "vessel_volume": (1e-7, 0.1, "from 0.1 mL to 100 L"),
    "concentration": (1.0, 2.0e4, "from 0.001 to 20 mol/L"),
    "excess": (0.0, 100.0, "from 0 to 10000 %"),
}
"""Where a plan can lie, in SI: what tables hold, and what stands in a teaching laboratory (common practice)."""
