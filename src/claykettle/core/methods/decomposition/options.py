"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.equation import Equation, Species
from claykettle.core.method import FIRST, EquationField, SeriesOptions, field_error, refuse_other_samples

EquationList = Annotated[tuple[EquationField, ...], Field(min_length=1, max_length=12)]


class DecompositionOptions(SeriesOptions):
    """Options of the method `decomposition`, as in the run file."""

    equations: EquationList = Field(
        title="Equations to tell apart",
        description="The sample first; (s) marks what stays: Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)",
        json_schema_extra=FIRST,
    )

    @model_validator(mode="after")
    def _consistent(self) -> DecompositionOptions:
        refuse_other_samples(self.equations)
        for number, equation in enumerate(self.equations, start=1):
            if not stays(equation) or not leaves(equation):
                what = "stays in the vessel with (s)" if not stays(equation) else "goes off with (g)"
                text = f"Equation {number}: mark what {what}, as in CaCO3(s) -> CaO(s) + CO2(g)."
                raise field_error("no-state", text, "equations")
        return self

    @property
    def gases(self) -> tuple[str, ...]:
        """Everything that goes off under any of the equations, in the order of mention."""
        return tuple(dict.fromkeys(row.formula.text for equation in self.equations for row in leaves(equation)))


def stays(equation: Equation) -> tuple[Species, ...]:
    """What stays in the vessel."""
    return tuple(row for row in equation.products if row.state == "s")


def leaves(equation: Equation) -> tuple[Species, ...]:
    """What goes off."""
    return tuple(row for row in equation.products if row.state != "s")
