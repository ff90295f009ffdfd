"""What a run of it may choose."""

from __future__ import annotations

from pydantic import Field

from claykettle.core.method import FIRST, FormulaField, SeriesOptions
from claykettle.core.methods.parts.room import RoomOptions


class GasDensityOptions(RoomOptions, SeriesOptions):
    """What is known beforehand."""

    gas: FormulaField | None = Field(
        default=None,
        title="Gas, where it is known",
        description="Its formula, such as Ar; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )
