"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field, model_validator

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.elements import is_element
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.method import FIRST, FormulaField, field_error
from claykettle.core.methods.parts.collecting import CollectorOptions

WATER = parse_formula("H2O")


HALIDES = {"F": "fluoride", "Cl": "chloride", "Br": "bromide", "I": "iodide"}


def _element(value: object) -> object:
    """An element's symbol; what is none is refused with what an example looks like."""
    if isinstance(value, str) and not is_element(value.strip()):
        text = f"'{value[:20]}' is no element's symbol; write one such as Co."
        raise field_error("unknown-element", text)
    return value.strip() if isinstance(value, str) else value


Symbol = Annotated[str, BeforeValidator(_element), Field(max_length=3)]


class CompositionOptions(CollectorOptions):
    """Options of the method `composition`, as in the run file."""

    metal: Symbol = Field(title="Metal", description="Its symbol, such as Co.", json_schema_extra=FIRST)
    halogen: Symbol = Field(
        default="Cl",
        title="Halogen",
        description="F, Cl, Br or I: had by difference.",
        json_schema_extra=FIRST,
    )
    accepted: FormulaField | None = Field(
        default=None,
        title="Accepted formula",
        description="The hydrate on the label, such as CoCl2.6H2O, to compare with.",
        json_schema_extra=FIRST,
    )
    displaced_by: Symbol | None = Field(
        default=None,
        title="Driven out by",
        description="Its symbol, such as Zn: its salt is what the filtrate holds.",
    )
    max_index: Annotated[int, Field(ge=1, le=12)] = Field(
        default=6, title="Largest index considered", description="Of metal and halogen among the candidates."
    )
    max_ratio: Annotated[int, Field(ge=1, le=24)] = Field(
        default=12, title="Most water considered", description="The largest number of H2O per metal."
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> CompositionOptions:
        if self.halogen not in HALIDES:
            text = f"'{self.halogen}' is no halogen; it is one of {', '.join(HALIDES)}."
            raise field_error("not-a-halogen", text, "halogen")
        if self.metal in HALIDES:
            text = f"'{self.metal}' is no metal."
            raise field_error("not-a-metal", text, "metal")
        if self.displaced_by is not None and self.displaced_by in (self.metal, *HALIDES):
            text = f"{self.displaced_by} cannot drive {self.metal} out; name a more active metal, such as Zn."
            raise field_error("not-a-metal", text, "displaced_by")
        accepted = self.accepted
        if accepted is not None and set(accepted.anhydrous.counts) != {self.metal, self.halogen}:
            text = f"{accepted.text} holds other elements than {self.metal}, {self.halogen} and water."
            raise field_error("other-salt", text, "accepted")
        return self

    @property
    def halide_left(self) -> Formula | None:
        """What the filtrate holds: the halide of the metal that drove the other out; None where that is not known."""
        charges = common_charges(self.displaced_by) if self.displaced_by is not None else ()
        if not charges:
            return None
        index = str(charges[0]) if charges[0] > 1 else ""
        return parse_formula(f"{self.displaced_by}{self.halogen}{index}")

    @property
    def metal_formula(self) -> Formula:
        """The metal as a formula."""
        return parse_formula(self.metal)

    @property
    def halogen_formula(self) -> Formula:
        """The halogen as a formula of one atom."""
        return parse_formula(self.halogen)
