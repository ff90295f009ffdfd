"""What a run of it may choose."""

from __future__ import annotations

from pydantic import Field, model_validator

from claykettle.core.chemistry.formula import Formula
from claykettle.core.method import EquationField, FormulaField, field_error
from claykettle.core.methods.parts.by_equation import ByEquation, Taken, equation_asked, product_asked, reagents_asked
from claykettle.core.methods.parts.collecting import CollectorOptions

MOST_REAGENTS = 6


INDICES = range(1, MOST_REAGENTS + 1)


class Reagent(Taken):
    """What is taken of one reactant: a substance that is weighed, or a solution of a known concentration.

    `supplies` names the ion of a net-ionic equation that it brings. As text: `BaCl2.2H2O`, `Na2SO4 0.250 mol/L`,
    `BaCl2.2H2O for Ba^2+`.
    """

    supplies: FormulaField | None = Field(default=None, title="Brings the ion", description="Of a net-ionic equation.")

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: object) -> object:
        if not isinstance(value, str):
            return value
        taken, _, ion = value.partition(" for ")
        formula, _, concentration = taken.strip().partition(" ")
        found = {"formula": formula.rstrip(",;"), "concentration": concentration.strip(), "supplies": ion.strip()}
        return {name: text for name, text in found.items() if text}

    @property
    def is_metal(self) -> bool:
        """Whether it is an element, so that a leftover of it can be taken out, dried and weighed."""
        return len(self.formula.atoms) == 1 and self.concentration is None


class PrecipitationOptions(ByEquation[Reagent], CollectorOptions):
    """Options of the method `precipitation`, as in the run file."""

    kind = Reagent
    most = MOST_REAGENTS

    equation: EquationField = equation_asked("BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)")
    product: FormulaField | None = product_asked("Solid that is collected", "the only one marked (s)")
    reagents: tuple[Reagent, ...] = reagents_asked(
        "What is taken", "As it stands in jar or bottle: BaCl2.2H2O; Na2SO4 0.250 mol/L.", MOST_REAGENTS
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> PrecipitationOptions:
        if self.product is None and len(self._marked) != 1:
            text = "Say which solid is collected: the equation marks not just one with (s)."
            raise field_error("no-product", text, "product")
        self.check_reagents()
        return self

    def no_reactant(self, reagent: Taken) -> str:
        """What is said of a reagent that is none of the reactants; of ions, how to name the one it brings."""
        if isinstance(reagent, Reagent) and reagent.supplies is not None:
            return f"{reagent.supplies.text} is none of the reactants, or {reagent.formula.text} does not hold it."
        said, first = super().no_reactant(reagent), self.equation.reactants[0].formula
        ions = any(row.formula.charge for row in self.equation.reactants)
        return f"{said} Say which ion it brings: {reagent.formula.text} for {first.text}." if ions else said

    @property
    def _marked(self) -> list[Formula]:
        return [row.formula for row in self.equation.products if row.state == "s"]

    @property
    def made(self) -> Formula:
        """What is collected: as named, else the only solid."""
        return self.product if self.product is not None else self._marked[0]

    def place(self, reagent: Taken) -> int | None:
        """Which of the reactants this is, or which ion it brings, counted from 0."""
        wanted = reagent.supplies if isinstance(reagent, Reagent) else None
        if wanted is None:
            return super().place(reagent)
        for place, row in enumerate(self.equation.reactants):
            if row.formula.matter == wanted.matter and _ions(reagent.formula, wanted):
                return place
        return None

    def per_extent(self, index: int) -> float:
        """Mol of a reagent that the equation takes as written: its coefficient, over the ions that one brings."""
        reagent = self.reagent(index)
        ions = _ions(reagent.formula, reagent.supplies) if reagent.supplies is not None else 1.0
        return super().per_extent(index) / ions


def _ions(formula: Formula, ion: Formula) -> float:
    """How many of an ion one formula unit brings; 0 where it holds none."""
    held = formula.anhydrous.counts
    return float(min((held.get(element, 0) / count for element, count in ion.counts.items()), default=0))
