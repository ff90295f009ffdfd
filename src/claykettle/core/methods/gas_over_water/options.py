"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.conditions import ATMOSPHERE, BAR
from claykettle.core.method import (
    FIRST,
    EquationField,
    FormulaField,
    GivenDensity,
    GivenLinearDensity,
    field_error,
    in_words,
    known,
)
from claykettle.core.methods.parts.acid import Acid
from claykettle.core.methods.parts.tube import TubeOptions


class GasOverWaterOptions(TubeOptions):
    """What is known beforehand. Without a reagent the metal is the question, and the gas is hydrogen."""

    reagent: FormulaField | None = Field(
        default=None,
        title="Reagent that is weighed",
        description="Its formula, such as Zn; leave it empty for an unknown metal.",
        json_schema_extra=FIRST,
    )
    equation: EquationField | None = Field(
        default=None,
        title="Equation",
        description="Such as Zn + 2 HCl -> ZnCl2 + H2; needed with a reagent.",
        json_schema_extra=FIRST | {"wide": True},
    )
    gas: FormulaField = Field(
        default="H2", title="Gas", description="What is collected.", validate_default=True, json_schema_extra=FIRST
    )
    standard: Annotated[str, Field(pattern="^(0C_1atm|0C_1bar)$")] = Field(
        default="0C_1atm",
        title="Standard conditions",
        description="What the molar volume is stated at; the answer prints it.",
        json_schema_extra=in_words({"0C_1atm": "0 °C and 1 atm", "0C_1bar": "0 °C and 1 bar"}),
    )
    linear_density: GivenLinearDensity | None = Field(
        default=None, title="Mass per length of the ribbon", description="Such as 1.02 mg/mm, for a sample by length."
    )
    density: GivenDensity | None = Field(
        default=None, title="Density of the liquid sample", description="For a sample measured by volume."
    )
    acid: Acid | None = Field(default=None)

    @model_validator(mode="after")
    def _hangs_together(self) -> GasOverWaterOptions:
        if self.reagent is None:
            if self.gas.text != "H2":
                text = "An unknown reagent can be found from hydrogen only; name the reagent, or take H2 as the gas."
                raise field_error("unknown-reagent", text, "gas")
            return self
        if self.equation is None:
            text = "Give the equation: how much gas the reagent sets free stands there."
            raise field_error("missing-field", text, "equation")
        if not self.equation.used(self.reagent):
            text = f"{self.reagent.text} is none of the equation's reactants."
            raise field_error("no-such-reagent", text, "reagent")
        if not self.equation.formed(self.gas):
            text = f"The equation forms no {self.gas.text}."
            raise field_error("no-such-gas", text, "gas")
        return self

    @property
    def gas_per_reagent(self) -> float:
        """Mol of gas per mol of the reagent, by the equation."""
        equation, reagent = known(self.equation), known(self.reagent)
        return equation.formed(self.gas) / equation.used(reagent)

    @property
    def standard_pressure_pa(self) -> float:
        """1 atm or 1 bar, as chosen."""
        return ATMOSPHERE if self.standard == "0C_1atm" else BAR
