"""What the options of all methods share: field types that parse once, and refuse what they do not know.

Options are pydantic models (docs/decisions/0004): one declaration gives the parsed value, the refusal
with its path, the JSON Schema of the run file and the form on the page.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, PlainSerializer, PlainValidator, WithJsonSchema
from pydantic_core import PydanticCustomError

from claykettle.core.chemistry.equation import Equation, balanced_equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import Refusal
from claykettle.core.reading import Reading, parse_reading

FIRST: dict[str, Any] = {"first": True}
"""What an option's schema bears where the form for a new run asks it of every run."""


class Options(BaseModel):
    """Base of every method's options: frozen, unknown fields refused, defaults checked too."""

    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True, strict=True)


def custom_error(error: Refusal) -> PydanticCustomError:
    """A refusal of the core as pydantic's error, so that it keeps its path; braces are pydantic's syntax."""
    fault = error.faults[0]
    code: Any = fault.code
    return PydanticCustomError(code, "{text}", {"text": fault.message})


def _formula(value: object) -> Formula:
    if isinstance(value, Formula):
        return value
    if not isinstance(value, str):
        raise PydanticCustomError("formula", "A formula is a text such as ZnSO4.")
    try:
        formula = parse_formula(value)
        _ = formula.molar_mass_g
    except Refusal as error:
        raise custom_error(error) from None
    return formula


def _mass(value: object) -> Reading:
    if isinstance(value, Reading):
        return value
    if not isinstance(value, str):
        raise PydanticCustomError("not-a-number", "A mass is a text with its unit, such as '0.005 g'.")
    try:
        return parse_reading(value, "mass")
    except Refusal as error:
        raise custom_error(error) from None


def _equation(value: object) -> Equation:
    if isinstance(value, Equation):
        return value
    if not isinstance(value, str):
        raise PydanticCustomError("equation", "An equation is a text such as CaCO3(s) -> CaO(s) + CO2(g).")
    try:
        equation = balanced_equation(value)
        for row in equation.species:
            _ = row.formula.molar_mass_g
    except Refusal as error:
        raise custom_error(error) from None
    return equation


def as_tuple(value: object) -> object:
    """A list of the run file as the tuple that a frozen model holds."""
    return tuple(value) if isinstance(value, list) else value


FormulaField = Annotated[
    Formula,
    PlainValidator(_formula),
    PlainSerializer(lambda formula: formula.text, return_type=str),
    WithJsonSchema({"type": "string", "title": "formula", "maxLength": 200, "examples": ["ZnSO4"]}),
]
FormulaList = Annotated[tuple[FormulaField, ...], BeforeValidator(as_tuple), Field(max_length=60)]
EquationField = Annotated[
    Equation,
    PlainValidator(_equation),
    PlainSerializer(lambda equation: equation.text, return_type=str),
    WithJsonSchema(
        {"type": "string", "title": "equation", "maxLength": 1000, "examples": ["CaCO3(s) -> CaO(s) + CO2(g)"]}
    ),
]
MassField = Annotated[
    Reading,
    PlainValidator(_mass),
    PlainSerializer(lambda reading: reading.text, return_type=str),
    WithJsonSchema({"type": "string", "title": "mass with its unit", "examples": ["0.005 g"]}),
]


class SeriesOptions(Options):
    """Options of every method that weighs to constant mass."""

    tolerance: MassField = Field(
        default=parse_reading("0.005 g", "mass"),
        title="Constant within",
        description="The last two weighings may differ by no more than this.",
    )
    constant_value: Annotated[str, Field(pattern="^(last|mean|lowest)$")] = Field(
        default="last",
        title="Which weighing then counts",
        description="last; mean of the last two; lowest of the series",
    )

    @property
    def tolerance_g(self) -> Decimal:
        """The tolerance in g, exact."""
        return self.tolerance.si * 1000
