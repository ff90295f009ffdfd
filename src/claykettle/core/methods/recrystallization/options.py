"""What a run of it may choose."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, PlainSerializer, PlainValidator, WithJsonSchema, model_validator

from claykettle.core.chemistry.solubility import Curve, built_in_curves, curve_for, curve_named, curve_of_points
from claykettle.core.errors import Refusal
from claykettle.core.method import (
    FIRST,
    FormulaField,
    GivenDensity,
    MethodOptions,
    custom_error,
    field_error,
    known,
)
from claykettle.core.quantity import parse_reading

LEAST_POINTS = 2


@dataclass(frozen=True)
class Solubility:
    """A curve as the options give it, and how that was written: a name of the table, or points."""

    curve: Curve
    written: str | tuple[tuple[str, float], ...]


def _solubility(value: object) -> Solubility:
    if isinstance(value, Solubility):
        return value
    if isinstance(value, str) and ";" not in value and not any(character.isdigit() for character in value.strip()[:1]):
        return _by_name(value)
    rows = _rows(value)
    points: list[tuple[float, float]] = []
    written: list[tuple[str, float]] = []
    for text, amount in rows:
        try:
            reading = parse_reading(text, "temperature", "degC")
        except Refusal as refusal:
            raise custom_error(refusal) from None
        if not 0 < amount < 1e6:
            raise field_error("not-positive", f"{amount:g} g per 100 g cannot be; a solubility lies above zero.")
        points.append((float(reading.si), amount))
        written.append((f"{reading.digits} {reading.unit.symbol}", amount))
    if len({point[0] for point in points}) < max(LEAST_POINTS, len(points)):
        raise field_error("points", "Two points of different temperature at least, each temperature once.")
    return Solubility(curve_of_points(points), tuple(written))


def _by_name(name: str) -> Solubility:
    curve = curve_named(name)
    if curve is None:
        some = ", ".join(row.name for row in built_in_curves()[:6])
        raise field_error(
            "unknown-curve", f"No curve '{name[:40]}' is listed; there are {some} and more. Or give points."
        )
    return Solubility(curve, curve.name)


def _rows(value: object) -> list[tuple[str, float]]:
    """Points as pairs, or as text: `20 degC 31.6; 60 degC 110`."""
    said = "Points are pairs of temperature and grams per 100 g of solvent, such as 20 degC 31.6; 60 degC 110."
    pairs: Sequence[Any] = [part.rsplit(None, 1) for part in value.split(";")] if isinstance(value, str) else ()
    if isinstance(value, list | tuple):
        pairs = value
    rows: list[tuple[str, float]] = []
    for pair in pairs:
        if not isinstance(pair, list | tuple) or len(pair) != LEAST_POINTS or not isinstance(pair[0], str):
            raise field_error("points", said)
        try:
            rows.append((pair[0], float(str(pair[1]).replace(",", "."))))
        except ValueError:
            raise field_error("points", said) from None
    if not rows:
        raise field_error("points", said)
    return rows


def _as_written(value: Solubility) -> object:
    return value.written if isinstance(value.written, str) else [list(point) for point in value.written]


SolubilityField = Annotated[
    Solubility,
    PlainValidator(_solubility),
    PlainSerializer(_as_written),
    WithJsonSchema(
        {
            "anyOf": [
                {"type": "string", "maxLength": 400},
                {
                    "type": "array",
                    "maxItems": 60,
                    "items": {"type": "array", "prefixItems": [{"type": "string"}, {"type": "number"}], "maxItems": 2},
                },
            ]
        }
    ),
]


class RecrystallizationOptions(MethodOptions):
    """Options of the method `recrystallization`, as in the run file."""

    solute: FormulaField = Field(
        title="Substance, as it is weighed",
        description="With its crystal water: KAl(SO4)2.12H2O",
        json_schema_extra=FIRST,
    )
    solvent: str = Field(default="H2O", max_length=60, title="Solvent", json_schema_extra=FIRST)
    solvent_density: GivenDensity | None = Field(
        default=None,
        title="Density of the solvent",
        description="Where it is measured in mL; empty: it is weighed.",
        json_schema_extra=FIRST,
    )
    solubility: SolubilityField | None = Field(
        default=None,
        title="Solubility",
        description="A name of the table, or points: 20 degC 31.6; 60 degC 110 (g per 100 g). Empty: the table's.",
        json_schema_extra=FIRST | {"wide": True},
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> RecrystallizationOptions:
        if self.solubility is None and (self.solvent != "H2O" or curve_for(self.solute) is None):
            text = f"No solubility of {self.solute.text} in {self.solvent} is listed: give points."
            raise field_error("no-curve", text, "solubility")
        basis = self.curve.basis
        if basis is not None and basis.counts != self.solute.anhydrous.counts:
            text = f"The curve is of {basis.text}, not of {self.solute.text}."
            raise field_error("other-curve", text, "solubility")
        if self.solvent_density is not None and self.solvent_density.si <= 0:
            text = "A density lies above zero."
            raise field_error("not-positive", text, "solvent_density")
        return self

    @property
    def curve(self) -> Curve:
        """The curve that counts."""
        return self.solubility.curve if self.solubility is not None else known(curve_for(self.solute))

    @property
    def salt_share(self) -> float:
        """Mass of what the curve speaks of in one kg of the solute as weighed."""
        return self.curve.salt_share(self.solute)
