"""What a run of it may choose."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.errors import Refusal
from claykettle.core.method import EquationField, FormulaField, GivenDensity, GivenRatio, TemperatureRange, field_error
from claykettle.core.methods.parts.by_equation import ByEquation, Taken, equation_asked, product_asked, reagents_asked
from claykettle.core.quantity import parse_reading

MOST_REAGENTS = 12


ROLES = ("reactant", "catalyst", "solvent")


EQUIVALENTS = re.compile(r"(\d+(?:[.,]\d+)?)\s*eq")


PLANNED_UNITS = ("g", "mg", "kg", "mL", "L", "mol", "mmol", "eq")


class Reagent(Taken):
    """One column of the reagent table, as text `C4H6O3 1.08 g/mL 5 mL`, `H3PO4 85 % catalyst` or `NaOH 2 mol/L`.

    `planned` is what is to be taken: grams, millilitres, moles, or equivalents (`1.2 eq`) of the first reactant that is
    planned otherwise.
    """

    name: str = Field(default="", max_length=120, title="Name")
    density: GivenDensity | None = Field(default=None, title="Density", description="Of a liquid measured in mL.")
    purity: GivenRatio | None = Field(default=None, title="Purity", description="By mass, as the label says.")
    role: Annotated[str, Field(pattern="^(reactant|catalyst|solvent)$")] = Field(default="reactant", title="Role")
    planned: str = Field(
        default="", max_length=40, title="Planned", description="Such as 2.0 g, 5 mL, 0.02 mol or 1.2 eq."
    )

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: object) -> object:
        return _of_text(value) if isinstance(value, str) else value

    @model_validator(mode="after")
    def _can_be(self) -> Reagent:
        if self.purity is not None and not 0 < self.purity.si <= 1:
            raise field_error("out-of-range", "A purity lies above 0 and at most at 100 %.", "purity")
        if self.density is not None and self.density.si <= 0:
            raise field_error("not-positive", "A density lies above zero.", "density")
        if self.density is not None and self.concentration is not None:
            text = "Give the density of a liquid or the concentration of a solution; one of the two tells the amount."
            raise field_error("both-forms", text, "density")
        if self.purity is not None and self.concentration is not None:
            text = "The concentration of a solution already tells how much is in it: leave the purity out."
            raise field_error("both-forms", text, "purity")
        if self.planned.strip():
            self._can_be_planned()
        return self

    def _can_be_planned(self) -> None:
        planned = self.planned_si
        if planned is None or planned[1] <= 0:
            text = "Write what is planned as 2.0 g, 5 mL, 0.02 mol or 1.2 eq, above zero."
            raise field_error("not-a-number", text, "planned")
        if planned[0] == "volume" and not self.is_measured:
            text = f"{self.planned} of {self.formula.text} says how much only with its density, or a concentration."
            raise field_error("density-missing", text, "density")
        if planned[0] == "mass" and self.concentration is not None:
            text = "A solution of a known concentration is measured: plan it in mL or mol."
            raise field_error("not-measured", text, "planned")

    @property
    def is_measured(self) -> bool:
        """Whether it is measured by volume."""
        return self.density is not None or self.concentration is not None

    @property
    def planned_si(self) -> tuple[str, float] | None:
        """Dimension and size (SI) of what is planned, `equivalents` as they are; None where that cannot be read."""
        equivalents = EQUIVALENTS.fullmatch(self.planned.strip())
        if equivalents is not None:
            return "equivalents", float(equivalents[1].replace(",", "."))
        for dimension in ("mass", "volume", "amount"):
            try:
                return dimension, float(parse_reading(self.planned, dimension).si)
            except Refusal:
                continue
        return None

    def planned_quantity(self, equivalent: float | None) -> float | None:
        """What is to be taken as its reading takes it, in kg or m³; `equivalent` in mol, None while it is not known."""
        if not self.planned.strip() or self.planned_si is None:
            return None
        dimension, size = self.planned_si
        if dimension == "volume":
            return size
        if dimension == "mass":
            return size if self.density is None else size / self.density.si
        if dimension == "equivalents":
            if equivalent is None:
                return None
            size *= equivalent
        return size / self.mol_in(1.0)

    @property
    def as_text(self) -> str:
        """The reagent as one line of text, from which it is read again."""
        given = (row.reading.text.strip() for row in (self.purity, self.density, self.concentration) if row)
        words = (self.formula.text, *given, self.planned.strip(), "" if self.role == "reactant" else self.role)
        return " ".join(word for word in words if word)

    def mol_in(self, quantity: float) -> float:
        """mol in so many kg of it, or m³ where it is measured by volume; impurities count for nothing."""
        if self.concentration is not None:
            return super().mol_in(quantity)
        mass = quantity if self.density is None else quantity * self.density.si
        return super().mol_in(mass * (1.0 if self.purity is None else self.purity.si))


def _of_text(text: str) -> dict[str, str]:
    """A reagent from one line: its formula, then quantities by their units, then its role."""
    formula, *rest = text.split()
    found: dict[str, str] = {"formula": formula.rstrip(",")}
    number = ""
    for word in rest:
        if word in ROLES:
            found["role"] = word
        elif word in ("g/mL", "g/cm3", "kg/m3") and number:
            found["density"], number = f"{number} {word}", ""
        elif word in ("mol/L", "mmol/L") and number:
            found["concentration"], number = f"{number} {word}", ""
        elif word in PLANNED_UNITS and number:
            found["planned"], number = f"{number} {word}", ""
        elif word == "%" and number:
            found["purity"], number = f"{number} %", ""
        elif word.endswith("%"):
            found["purity"] = f"{word[:-1]} %"
        elif number:
            raise field_error(
                "not-a-number",
                f"'{number}' has no unit known here: write 1.08 g/mL, 2 mol/L, 98 % or 2.0 g.",
                "formula",
            )
        else:
            number = word
    if number:
        found["concentration"] = number
    return found


class SynthesisOptions(ByEquation[Reagent]):
    """Options of the method `synthesis`, as in the run file."""

    kind = Reagent
    most = MOST_REAGENTS

    equation: EquationField = equation_asked("C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2")
    product: FormulaField | None = product_asked("Product", "the first")
    reagents: tuple[Reagent, ...] = reagents_asked(
        "Reagents", "Such as C7H6O3; C4H6O3 1.08 g/mL; H3PO4 85 % 1.69 g/mL catalyst.", MOST_REAGENTS, tabled=True
    )
    literature_melting: TemperatureRange | None = Field(
        default=None, title="Literature melting range", description="Such as 135 to 136 °C."
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> SynthesisOptions:
        self.check_reagents()
        if not self.held:
            raise field_error("no-reactant", "At least one reagent is a reactant of the equation.", "reagents")
        melting = self.literature_melting
        if melting is not None and melting[0].si > melting[1].si:
            raise field_error("reversed", "A melting range begins with the lower temperature.", "literature_melting")
        return self

    def no_reactant(self, reagent: Taken) -> str:
        """What is said of a reactant that is none of the equation's."""
        return f"{super().no_reactant(reagent)} Is it a catalyst or a solvent?"

    def numbers(self, *roles: str) -> list[int]:
        """The numbers of the reagents in these roles."""
        return [number for number, row in enumerate(self.taken, start=1) if row.role in roles]

    @property
    def held(self) -> Sequence[int]:
        """The numbers of the reactants; catalysts and solvents stand beside the equation."""
        return self.numbers("reactant")


def planned(options: SynthesisOptions) -> dict[str, float]:
    """What the reagent table plans to take, in kg or m³ by reading, before anything is weighed.

    One equivalent is the amount of the first reactant that is planned in grams, millilitres or moles.
    """
    rows = [(n, options.reagent(n)) for n in range(1, len(options.taken) + 1)]
    fixed = ((row, row.planned_quantity(None)) for _, row in rows if row.role == "reactant")
    equivalent = next((row.mol_in(quantity) for row, quantity in fixed if quantity is not None), None)
    found = ((f"reagent_{n}", row.planned_quantity(equivalent)) for n, row in rows)
    return {name: quantity for name, quantity in found if quantity is not None}


def as_planned(options: SynthesisOptions, shown: Mapping[str, str]) -> dict[str, str]:
    """The options of a run that starts with a reagent table, as typed; `shown` is what is to be taken, by reading."""
    rows = (
        row.model_copy(update={"planned": shown.get(f"reagent_{n}", "")}).as_text
        for n, row in enumerate(options.taken, start=1)
    )
    return {"equation": options.equation.text, "product": options.made.text, "reagents": "; ".join(rows)}
