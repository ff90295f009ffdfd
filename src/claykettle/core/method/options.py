"""What the options of all methods share: field types that parse once, and refuse what they do not know.

Options are pydantic models (docs/decisions/0004): one declaration gives the parsed value, the refusal
with its path, the JSON Schema of the run file and the form on the page.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from decimal import Decimal
from functools import cache, cached_property, lru_cache
from typing import Annotated, Any, Self, TypeVar

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    JsonValue,
    PlainSerializer,
    PlainValidator,
    WithJsonSchema,
    model_validator,
)
from pydantic.json_schema import GenerateJsonSchema
from pydantic_core import PydanticCustomError

from claykettle.core.chemistry.equation import Equation, balanced_equation
from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.substances import formula_of
from claykettle.core.errors import Refusal
from claykettle.core.quantity import Quantity, Reading, bears_unit, digits_of, parse_half_width, parse_reading, units_of

FIRST: dict[str, JsonValue] = {"first": True}
"""What an option's schema bears where the form for a new run asks it of every run."""


def in_words(choices: Mapping[str, str]) -> dict[str, JsonValue]:
    """What the schema of a choice bears so that the form shows words in place of the run file's keys."""
    return {"words": dict(choices)}


class OptionsSchema(GenerateJsonSchema):
    """The JSON Schema of options: a default stands in it as the run file writes it, not as the parsed value's parts."""

    def encode_default(self, dft: Any) -> Any:
        """A default as typed."""
        if isinstance(dft, Quantity):
            return _written(dft)
        return dft.text if isinstance(dft, Formula | Reading | Equation) else super().encode_default(dft)


class Options(BaseModel):
    """Base of every method's options: frozen, unknown fields refused, a list of the file taken as the tuple it is."""

    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True, strict=True)

    @model_validator(mode="before")
    @classmethod
    def _tuples(cls, value: object) -> object:
        if not isinstance(value, Mapping):
            return value
        return {name: tuple(row) if isinstance(row, list) else row for name, row in value.items()}

    @classmethod
    def model_json_schema(cls, *arguments: Any, **named: Any) -> dict[str, Any]:
        """The JSON Schema of these options, as a form and a run file need it."""
        return super().model_json_schema(*arguments, **{"schema_generator": OptionsSchema} | named)

    @classmethod
    @cache
    def described(cls) -> Mapping[str, Any]:
        """The same, made once: forms ask for all methods' again and again."""
        return cls.model_json_schema()

    @cached_property
    def fingerprint(self) -> int:
        """The hash of all fields, worked out once: worksheets and definitions are looked up by options all the time."""
        return hash((type(self), *(getattr(self, name) for name in type(self).model_fields)))

    def __hash__(self) -> int:
        return self.fingerprint


@lru_cache(maxsize=1000)
def same(options: Options) -> Options:
    """One object for equal options. Worksheets and definitions are looked up by options at every reading: found by
    identity they cost nothing, found by equality as much as comparing every field.
    """
    return options


def field_error(code: str, text: str, field: str = "", suggestion: str = "") -> PydanticCustomError:
    """A refusal as pydantic's error, of the value read or of another field; braces in the text are no syntax."""
    known_code: Any = code
    more = {"field": field, "suggestion": suggestion}
    return PydanticCustomError(known_code, "{text}", {"text": text} | {key: row for key, row in more.items() if row})


def custom_error(error: Refusal) -> PydanticCustomError:
    """A refusal of the core as pydantic's error, so that it keeps its path."""
    first = error.faults[0]
    return field_error(first.code, first.message, suggestion=first.suggestion)


Known = TypeVar("Known")
Read = TypeVar("Read", Formula, Reading, Equation)


def _from_text(kind: type[Read], read: Callable[[str], Read], code: str, said: str) -> Callable[[object], Read]:
    """A validator that reads a text, lets what is read already pass and refuses anything else with `said`."""

    def validate(value: object) -> Read:
        if isinstance(value, kind):
            return value
        if not isinstance(value, str):
            raise field_error(code, said)
        try:
            return read(value)
        except Refusal as error:
            raise custom_error(error) from None

    return validate


def _weighable(text: str) -> Formula:
    formula = formula_of(text)
    _ = formula.molar_mass_g
    return formula


def _weighable_equation(text: str) -> Equation:
    equation = balanced_equation(text)
    for row in equation.species:
        _ = row.formula.molar_mass_g
    return equation


_formula = _from_text(Formula, _weighable, "formula", "A formula is a text such as ZnSO4.")
_mass = _from_text(
    Reading,
    lambda text: parse_reading(text, "mass"),
    "not-a-number",
    "A mass is a text with its unit, such as '0.005 g'.",
)
_equation = _from_text(
    Equation, _weighable_equation, "equation", "An equation is a text such as CaCO3(s) -> CaO(s) + CO2(g)."
)


def _quantity(dimension: str) -> Callable[[object], Quantity]:
    """A validator for a given quantity: a text, or a text with its half-width."""

    def validate(value: object) -> Quantity:
        if isinstance(value, Quantity):
            return value
        if isinstance(value, str):
            value = _with_band(value)
        text, width = (value.get("text"), value.get("half_width")) if isinstance(value, dict) else (value, None)
        known = not isinstance(value, dict) or set(value) <= {"text", "half_width"}
        if not known or not isinstance(text, str) or not isinstance(width, str | None):
            example = f"'1 {units_of(dimension)[0]}'"
            said = f"Write a text with its unit such as {example}, or that as 'text' with a 'half_width'."
            raise field_error("not-a-number", said)
        try:
            return Quantity(
                parse_reading(text, dimension), None if width is None else parse_half_width(width, dimension)
            )
        except Refusal as error:
            raise custom_error(error) from None

    return validate


def _with_band(text: str) -> Any:
    """A text such as `1.62 ± 0.10 mmol` as figure and half-width; any other stays as it is."""
    figure, mark, rest = text.partition("±" if "±" in text else "+-")
    width = rest.strip()
    if not mark or not figure.strip() or not width:
        return text
    unit = width[len(digits_of(width)) :].strip()
    own = figure.strip() if bears_unit(figure) else f"{figure.strip()} {unit}"
    return {"text": own, "half_width": width}


def _written(quantity: Quantity) -> object:
    reading = quantity.reading
    if quantity.half_width is None:
        return reading.text
    width = quantity.half_width / reading.unit.factor
    return {"text": reading.text, "half_width": f"{width.normalize():f} {reading.unit.symbol}"}


def _either(dimension: str) -> dict[str, object]:
    """The JSON Schema of a given quantity."""
    example = f"1 {units_of(dimension)[0]}"
    written = {"type": "string", "examples": [example]}
    pair = {
        "type": "object",
        "properties": {"text": written, "half_width": written},
        "required": ["text"],
        "additionalProperties": False,
    }
    return {"anyOf": [written, pair], "title": f"with its unit, such as {example}"}


def refuse_other_samples(equations: Sequence[Equation]) -> None:
    """All equations of a run begin with the one substance that is weighed; pydantic's error where one does not."""
    first = equations[0].reactants[0].formula
    for number, equation in enumerate(equations, start=1):
        sample = equation.reactants[0].formula
        if sample.counts != first.counts:
            text = f"Equation {number} begins with {sample.text}, the first with {first.text}: one sample a run."
            raise field_error("other-sample", text, "equations")


def known(value: Known | None) -> Known:
    """An option that stands on lines whose guard asks for it, so that it is there."""
    assert value is not None
    return value


_WHITING = "CaCO3(s) -> CaO(s) + CO2(g)"
FormulaField = Annotated[
    Formula,
    PlainValidator(_formula),
    PlainSerializer(lambda formula: formula.text, return_type=str),
    WithJsonSchema({"type": "string", "title": "formula", "maxLength": 200, "examples": ["ZnSO4"], "substance": True}),
]
FormulaList = Annotated[tuple[FormulaField, ...], Field(max_length=60)]
EquationField = Annotated[
    Equation,
    PlainValidator(_equation),
    PlainSerializer(lambda equation: equation.text, return_type=str),
    WithJsonSchema(
        {"type": "string", "title": "equation", "maxLength": 1000, "examples": [_WHITING], "equation": True}
    ),
]
MassField = Annotated[
    Reading,
    PlainValidator(_mass),
    PlainSerializer(lambda reading: reading.text, return_type=str),
    WithJsonSchema({"type": "string", "title": "mass with its unit", "examples": ["0.005 g"]}),
]


GivenMass = Annotated[
    Quantity, PlainValidator(_quantity("mass")), PlainSerializer(_written), WithJsonSchema(_either("mass"))
]
GivenAmount = Annotated[
    Quantity, PlainValidator(_quantity("amount")), PlainSerializer(_written), WithJsonSchema(_either("amount"))
]
GivenVolume = Annotated[
    Quantity, PlainValidator(_quantity("volume")), PlainSerializer(_written), WithJsonSchema(_either("volume"))
]
GivenTemperature = Annotated[
    Quantity,
    PlainValidator(_quantity("temperature")),
    PlainSerializer(_written),
    WithJsonSchema(_either("temperature")),
]
_BETWEEN = re.compile(r"(?<=[\d°CFK.,])\s*(?:–|—|-|\bto\b|\band\b|;)\s*(?=[-−+]?[\d.,])", re.IGNORECASE)


def _ends(value: object) -> object:
    """The two ends of a range that was typed as one text, such as `135–136 °C`; one unit serves both."""
    if not isinstance(value, str):
        return value
    ends = [end.strip() for end in _BETWEEN.split(value, maxsplit=1)]
    if len(ends) != 2:
        raise field_error("range", "Type both ends and the unit, such as 135 to 136 °C.")
    low, high = ends
    unit = high[len(digits_of(high)) :].strip()
    return (low if bears_unit(low) else f"{low} {unit}", high)


TemperatureRange = Annotated[tuple[GivenTemperature, GivenTemperature], BeforeValidator(_ends)]
"""Two temperatures, the lower first: a pair in a run file, or one text such as a person types it."""

GivenLength = Annotated[
    Quantity, PlainValidator(_quantity("length")), PlainSerializer(_written), WithJsonSchema(_either("length"))
]
GivenLinearDensity = Annotated[
    Quantity,
    PlainValidator(_quantity("linear_density")),
    PlainSerializer(_written),
    WithJsonSchema(_either("linear_density")),
]
GivenDensity = Annotated[
    Quantity,
    PlainValidator(_quantity("density")),
    PlainSerializer(_written),
    WithJsonSchema(_either("density")),
]
GivenAcceleration = Annotated[
    Quantity,
    PlainValidator(_quantity("acceleration")),
    PlainSerializer(_written),
    WithJsonSchema(_either("acceleration")),
]
GivenPressure = Annotated[
    Quantity, PlainValidator(_quantity("pressure")), PlainSerializer(_written), WithJsonSchema(_either("pressure"))
]
GivenConcentration = Annotated[
    Quantity,
    PlainValidator(_quantity("concentration")),
    PlainSerializer(_written),
    WithJsonSchema(_either("concentration")),
]
GivenRatio = Annotated[
    Quantity, PlainValidator(_quantity("ratio")), PlainSerializer(_written), WithJsonSchema(_either("ratio"))
]


class MethodOptions(Options):
    """Base of the options of a whole method: what may be chosen in each of them."""

    class_tolerance: GivenRatio | None = Field(
        default=None,
        title="What a class usually reaches",
        description="Such as 3 % of the accepted value: said beside the instruments' band, never in its place.",
    )

    @model_validator(mode="after")
    def _tolerance_is_a_share(self) -> Self:
        if self.class_tolerance is not None and not 0 < self.class_tolerance.si <= 1:
            text = "What a class reaches lies between 0 and 100 % of the accepted value, such as 3 %."
            raise field_error("out-of-range", text, "class_tolerance")
        return self


class SeriesOptions(MethodOptions):
    """Options of every method that weighs to constant mass."""

    tolerance: MassField = Field(
        default=parse_reading("0.005 g", "mass"),
        title="Constant within",
        description="The last two weighings may differ by no more than this.",
    )
    constant_value: Annotated[str, Field(pattern="^(last|mean|lowest)$")] = Field(
        default="last",
        title="Which weighing then counts",
        description="Once two agree within that limit.",
        json_schema_extra=in_words(
            {"last": "the last", "mean": "the mean of the last two", "lowest": "the lowest of the series"}
        ),
    )

    @property
    def tolerance_g(self) -> Decimal:
        """The tolerance in g, exact."""
        return self.tolerance.si * 1000
