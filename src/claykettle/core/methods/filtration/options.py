"""What a run of it may choose."""

from __future__ import annotations

from pydantic import Field, model_validator

from claykettle.core.method import FIRST, FormulaField, GivenMass, field_error
from claykettle.core.methods.parts.collecting import CollectorOptions


class FiltrationOptions(CollectorOptions):
    """Options of the method `filtration`, as in the run file."""

    solid: FormulaField | None = Field(
        default=None,
        title="Solid on the paper, where it is known",
        description="Its formula, such as BaSO4; leave it empty for sand, clay or what is to be found out.",
        json_schema_extra=FIRST,
    )
    expected: GivenMass | None = Field(
        default=None,
        title="Mass that should come",
        description="Such as 1.20 g, where the liquid was made up or calculated before.",
        json_schema_extra=FIRST,
    )

    @model_validator(mode="after")
    def _something_is_expected(self) -> FiltrationOptions:
        if self.expected is not None and self.expected.si <= 0:
            raise field_error("not-positive", "A mass that should come lies above zero.", "expected")
        return self
