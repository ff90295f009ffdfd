"""What a run of it may choose."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.method import FIRST, FormulaField, FormulaList, SeriesOptions, field_error

WATER = parse_formula("H2O")


class HydrateOptions(SeriesOptions):
    """Options of the method `hydrate`, as in the run file."""

    salt: FormulaField | None = Field(
        default=None,
        title="Salt without its water",
        description="The anhydrous formula, such as ZnSO4; leave it empty for percent water only.",
        json_schema_extra=FIRST,
    )
    candidates: FormulaList = Field(
        default=(),
        title="Hydrates to tell apart",
        description="When the salt is unknown: the hydrates it may be, such as CuSO4.3H2O.",
    )
    listed: bool = Field(
        default=False,
        title="Unknown salt: hold it against the list",
        description="Without a salt above: every hydrate of the built-in list is a candidate.",
        json_schema_extra=FIRST,
    )
    accepted: FormulaField | None = Field(
        default=None,
        title="Accepted hydrate",
        description="The formula on the label, to compare with; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )
    max_ratio: Annotated[int, Field(ge=1, le=60)] = Field(
        default=18,
        title="Most water considered",
        description="The largest number of H2O per formula among the candidates.",
    )
    halves: bool = Field(default=True, title="Half hydrates too", description="Consider ratios such as 0.5 and 1.5.")
    level: Annotated[str, Field(pattern="^(percent|formula)$")] = Field(
        default="formula",
        title="Course level",
        description="percent: percent water only, before the mole is taught; formula: up to the formula",
    )

    @model_validator(mode="after")
    def _consistent(self) -> HydrateOptions:
        if self.salt is not None and self.salt.water:
            text = f"The salt must be written without its water: {self.salt.anhydrous.text}, not {self.salt.text}."
            raise field_error("not-anhydrous", text, "salt")
        for field, hydrates in (("accepted", (self.accepted,)), ("candidates", self.candidates)):
            for hydrate in hydrates:
                self._fits(field, hydrate)
        return self

    def _fits(self, field: str, hydrate: Formula | None) -> None:
        if hydrate is None:
            return
        if not hydrate.water:
            text = f"{hydrate.text} holds no crystal water; write it as for example {hydrate.text}.2H2O."
            raise field_error("not-a-hydrate", text, field)
        if self.salt is not None and hydrate.anhydrous.counts != self.salt.counts:
            text = f"{hydrate.text} is not a hydrate of {self.salt.text}."
            raise field_error("other-salt", text, field)

    @property
    def known_salt(self) -> Formula:
        """The salt, on lines that stand only where it is given."""
        assert self.salt is not None
        return self.salt

    @property
    def known_accepted(self) -> Formula:
        """The accepted hydrate, on lines that stand only where it is given."""
        assert self.accepted is not None
        return self.accepted

    @property
    def asks_formula(self) -> bool:
        """Whether amounts, ratio and formula are wanted and can be had."""
        return self.salt is not None and self.level == "formula"

    @property
    def unknowns(self) -> tuple[Formula, ...]:
        """The hydrates that an unknown salt may be: those named, then those of the built-in list."""
        if self.salt is not None:
            return ()
        rows = [*self.candidates, *(all_hydrates() if self.listed else ())]
        return tuple({row.text: row for row in rows}.values())

    @property
    def ratios(self) -> tuple[Fraction, ...]:
        """The ratios that are candidates: ½ or 1 up to `max_ratio`. A hydrate holds water, so none is 0."""
        return ratios_up_to(self.max_ratio, 2 if self.halves else 1)


@lru_cache(maxsize=256)
def ratios_up_to(most: int, step: int) -> tuple[Fraction, ...]:
    return tuple(Fraction(n, step) for n in range(1, most * step + 1))
