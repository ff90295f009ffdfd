"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.gases import henry_of, known_gas
from claykettle.core.method import (
    FIRST,
    EquationField,
    FormulaField,
    GivenAmount,
    GivenMass,
    GivenRatio,
    GivenTemperature,
    GivenVolume,
    MethodOptions,
    Options,
    field_error,
    refuse_other_samples,
)
from claykettle.core.methods.parts.acid import Acid

Equations = Annotated[tuple[EquationField, ...], Field(min_length=1, max_length=8)]


ROOM_K = 293.15
"""Where no temperature is given, 20 °C is taken."""


class Dissolved(Options):
    """Gas left dissolved: an amount, or a volume of liquid with its temperature for Henry's law.

    With both, the amount counts and the volume tells how much there can be.
    """

    amount: GivenAmount | None = Field(
        default=None,
        title="Gas left dissolved",
        description="An amount, such as 1.5 mmol; or leave it empty and give the liquid.",
    )
    volume: GivenVolume | None = Field(
        default=None,
        title="Volume of the liquid",
        description="For Henry's law, and to see whether so much can dissolve.",
    )
    temperature: GivenTemperature | None = Field(
        default=None, title="Temperature of the liquid", description="Such as 22 degC; 20 °C where none is given."
    )

    @model_validator(mode="after")
    def _says_how_much(self) -> Dissolved:
        if self.amount is None and self.volume is None:
            text = "Give the amount of gas left dissolved, or the volume of the liquid."
            raise field_error("missing-field", text, "amount")
        return self

    @property
    def temperature_k(self) -> float:
        """The liquid's temperature in K."""
        return ROOM_K if self.temperature is None else self.temperature.si


class Claim(Options):
    """What the label says: a mass of active substance per unit, or a percentage."""

    mass: GivenMass | None = Field(
        default=None, title="Claimed mass per unit", description="Such as 0.50 g in each tablet."
    )
    per: Annotated[str, Field(max_length=40)] = Field(
        default="unit", title="Unit of the claim", description="Such as tablet.", json_schema_extra={"first": False}
    )
    percent: GivenRatio | None = Field(default=None, title="Claimed percentage", description="Such as 97 %.")

    @model_validator(mode="after")
    def _says_one_thing(self) -> Claim:
        if (self.mass is None) == (self.percent is None):
            text = "A claim is either a mass per unit, or a percentage."
            raise field_error("claim", text, "mass")
        return self


class MassLossOptions(MethodOptions):
    """What is known beforehand. The first reactant of every equation is the active substance."""

    equations: Equations = Field(
        title="Equations to tell apart",
        description="The active substance first: CaCO3 + 2 HCl -> CaCl2 + H2O + CO2; separate several by ;",
        json_schema_extra=FIRST,
    )
    gas: FormulaField = Field(
        default="CO2", title="Gas", description="What goes off.", validate_default=True, json_schema_extra=FIRST
    )
    claim: Claim | None = Field(default=None, json_schema_extra=FIRST)
    units_used: Annotated[int, Field(ge=1, le=1000)] = Field(
        default=1, title="Units used", description="How many tablets or portions the sample is."
    )
    dissolved: Dissolved | None = Field(default=None, json_schema_extra=FIRST)
    acid: Acid | None = Field(default=None)
    headspace_volume: GivenVolume | None = Field(
        default=None,
        title="Headspace that keeps its gas",
        description="Gas that stays in the vessel in place of air; empty where it is swept out.",
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> MassLossOptions:
        refuse_other_samples(self.equations)
        for number, equation in enumerate(self.equations, start=1):
            if not equation.formed(self.gas):
                text = f"Equation {number} forms no {self.gas.text}; name the gas that goes off, or mend the equation."
                raise field_error("no-such-gas", text, "equations")
        if self.headspace_volume is not None and known_gas(self.gas.text) is None:
            text = f"How a headspace of {self.gas.text} weighs is not known here; leave it empty."
            raise field_error("unknown-gas", text, "headspace_volume")
        if self.by_henry and henry_of(self.gas.text) is None:
            text = f"How much {self.gas.text} water dissolves is not in the table; give the amount instead."
            raise field_error("unknown-gas", text, "dissolved.amount")
        return self

    @property
    def active(self) -> Formula:
        """The active substance."""
        return self.equations[0].reactants[0].formula

    @property
    def by_henry(self) -> bool:
        """Whether Henry's law tells how much stays dissolved."""
        return self.dissolved is not None and self.dissolved.amount is None
