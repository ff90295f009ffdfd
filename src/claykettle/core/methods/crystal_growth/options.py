"""What a run of it may choose."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.method import FIRST, FormulaField, GivenRatio, MethodOptions, Options, field_error

LEAST, MOST = 2, 4


INDICES = range(1, MOST + 1)


SLOW, FAST = ("slow",), ("fast", "ice", "quick", "crash")


class Portion(Options):
    """One part of the solution: what it is called and how it is cooled. As text: `A: slow`."""

    label: Annotated[str, Field(min_length=1, max_length=40)] = Field(title="Name")
    cooling: Annotated[str, Field(min_length=1, max_length=60)] = Field(title="How it is cooled")

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: object) -> object:
        if not isinstance(value, str):
            return value
        label, _, cooling = value.partition(":")
        return {"label": label.strip(), "cooling": cooling.strip()}

    @property
    def pace(self) -> str:
        """`slow` or `fast` by the words, empty where they say neither."""
        words = self.cooling.casefold()
        if any(word in words for word in SLOW):
            return "slow"
        return "fast" if any(word in words for word in FAST) else ""


class CrystalGrowthOptions(MethodOptions):
    """Options of the method `crystal_growth`, as in the run file."""

    solute: FormulaField = Field(
        title="Substance that crystallizes", description="Such as KAl(SO4)2.12H2O", json_schema_extra=FIRST
    )
    portions: tuple[Portion, ...] = Field(
        default=(Portion(label="A", cooling="slow"), Portion(label="B", cooling="fast")),
        max_length=MOST,
        title="Portions, and how each is cooled",
        description="Such as A: slow; B: fast. Empty: these two.",
        json_schema_extra=FIRST | {"wide": True},
    )
    equality: GivenRatio = Field(
        default="2 %",
        validate_default=True,
        title="Portions equal within",
        description="A fair test changes one thing only.",
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> CrystalGrowthOptions:
        labels = [row.label for row in self.portions]
        if len(labels) < LEAST:
            raise field_error(
                "portions", "A test compares at least two portions, such as A: slow; B: fast.", "portions"
            )
        if len(set(labels)) < len(labels):
            raise field_error("portions", "Two portions bear the same name; give each its own.", "portions")
        return self

    def portion(self, index: int) -> Portion:
        """The portion with this number, from 1."""
        return self.portions[index - 1]

    @property
    def numbers(self) -> range:
        """The numbers of the portions."""
        return range(1, len(self.portions) + 1)
