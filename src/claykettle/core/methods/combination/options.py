"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.formula import Formula
from claykettle.core.method import FIRST, FormulaField, FormulaList, SeriesOptions, field_error


class CombinationOptions(SeriesOptions):
    """Options of the method `combination`, as in the run file."""

    element: FormulaField = Field(
        title="Element that is weighed", description="Its symbol, such as Sn.", json_schema_extra=FIRST
    )
    partner: FormulaField = Field(
        title="Element it takes up", description="Its symbol, such as S or O.", json_schema_extra=FIRST
    )
    product: FormulaField | None = Field(
        default=None,
        title="Product expected",
        description="The formula taught as the answer; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )
    candidates: FormulaList = Field(
        default=(), title="Products to tell apart", description="With exactly two, the mixture of them is computed."
    )
    max_index: Annotated[int, Field(ge=1, le=12)] = Field(
        default=6, title="Largest index considered", description="Formulas with indices up to this are candidates."
    )
    level: Annotated[str, Field(pattern="^(percent|formula)$")] = Field(
        default="formula", title="Course level", description="percent: composition only; formula: up to the formula"
    )

    @model_validator(mode="after")
    def _consistent(self) -> CombinationOptions:
        for field in ("element", "partner"):
            formula: Formula = getattr(self, field)
            if len(formula.atoms) != 1 or formula.charge:
                text = f"{formula.text} is not one element; write its symbol, such as Sn."
                raise field_error("not-an-element", text, field)
        if self.first == self.second:
            raise field_error("same-element", "The two elements must differ.", "partner")
        named = [("product", self.product)] if self.product is not None else []
        for field, formula in [*named, *(("candidates", row) for row in self.candidates)]:
            if formula is not None and set(formula.counts) != {self.first, self.second}:
                text = f"{formula.text} is not made of {self.first} and {self.second} alone."
                raise field_error("other-elements", text, field)
        return self

    @property
    def first(self) -> str:
        """Symbol of the element that is weighed."""
        return self.element.atoms[0][0]

    @property
    def second(self) -> str:
        """Symbol of the element that is taken up."""
        return self.partner.atoms[0][0]

    @property
    def named(self) -> tuple[Formula, ...]:
        """The candidates that the options name, the product expected among them."""
        rows = [*self.candidates, *([self.product] if self.product is not None else [])]
        return tuple({row.text: row for row in rows}.values())

    def ratio(self, formula: Formula) -> float:
        """Mol of the partner per mol of the element in a formula."""
        return float(formula.counts[self.second] / formula.counts[self.first])
