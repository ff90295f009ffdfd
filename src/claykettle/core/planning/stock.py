"""Solutions for a class: how much, from the solid, from a concentrate or from a stronger solution, in which order."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.concentrates import concentrate_of
from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.substances import Register, shipped_register
from claykettle.core.method import (
    FormulaField,
    GivenConcentration,
    GivenDensity,
    GivenRatio,
    GivenVolume,
    Options,
    field_error,
    in_words,
)
from claykettle.core.quantity import Quantity, exact, figures, parse_reading

FLASKS_ML = (50, 100, 250, 500, 1000, 2000, 5000)
LITRE = 1e-3
MOST_BENCHES = 200
"""Of a class."""
RULES = "Follow your local rules and your safety officer. Eye protection and gloves."
HOT_SOLIDS = ("NaOH", "KOH", "LiOH")
"""Solids that heat the water so much that it spits (common practice)."""


class Wish(Options):
    """The solution wanted, for how many, and what it is made from."""

    formula: FormulaField = Field(title="Substance", description="As weighed, its water included: BaCl2.2H2O")
    concentration: GivenConcentration = Field(title="Concentration wanted", description="Such as 3 mol/L.")
    each: GivenVolume = Field(title="For one trial", description="Such as 25 mL.")
    benches: Annotated[int, Field(ge=1, le=MOST_BENCHES)] = Field(default=8, title="Benches")
    trials: Annotated[int, Field(ge=1, le=20)] = Field(default=1, title="Trials a bench")
    spare: GivenRatio = Field(
        default="20 %", validate_default=True, title="Spare", description="For spills and a trial done again."
    )
    source: Annotated[str, Field(pattern="^(solid|concentrate|solution)$")] = Field(
        default="solid",
        title="Made from",
        json_schema_extra=in_words({"solid": "the solid", "concentrate": "a bottle", "solution": "a stock solution"}),
    )
    percent: GivenRatio | None = Field(
        default=None, title="Percent by mass on the label", description="Empty: what such a bottle usually says."
    )
    density: GivenDensity | None = Field(
        default=None, title="Density on the label", description="Empty: what such a bottle usually says."
    )
    stronger: GivenConcentration | None = Field(
        default=None, title="Concentration of the stock", description="Of the stronger solution that is there."
    )

    @model_validator(mode="after")
    def _source_is_known(self) -> Wish:
        if self.source == "solution" and self.stronger is None:
            _refuse("stronger", "Give the concentration of the stock solution that is there.")
        if self.source == "concentrate" and None in self.label:
            field = "percent" if self.label[0] is None else "density"
            _refuse(field, f"No usual bottle of {self.formula.text} is known here: type what its label says.")
        for name in ("concentration", "each", "density", "stronger"):
            given = getattr(self, name)
            if given is not None and given.reading.si <= 0:
                _refuse(name, "This must be above zero.")
        share = self.label[0]
        if share is not None and not 0 < share <= 1:
            _refuse("percent", "A percentage by mass lies above 0 and at most at 100 %.")
        source = self.source_mol_m3
        if source is not None and source <= self.concentration.si:
            text = f"What it is made from has {figures(source / 1000, 3)} mol/L only: weaker than the solution wanted."
            _refuse("concentration", text)
        return self

    @property
    def label(self) -> tuple[float | None, float | None]:
        """Mass fraction and density (kg/m³) on the bottle: as typed, else as such bottles usually say."""
        usual = concentrate_of(self.formula.text)
        share, density = self.percent, self.density
        if usual is not None:
            share = share or Quantity(parse_reading(usual.percent, "ratio"))
            density = density or Quantity(parse_reading(usual.density, "density"))
        return share.si if share else None, density.si if density else None

    @property
    def source_mol_m3(self) -> float | None:
        """How concentrated the bottle or stock is, mol/m³; None for a solid."""
        if self.source == "solution":
            return None if self.stronger is None else self.stronger.si
        share, density = self.label
        if self.source == "solid" or share is None or density is None:
            return None
        return share * density / self.formula.molar_mass


def _refuse(field: str, text: str) -> None:
    raise field_error("stock", text, field)


@dataclass(frozen=True)
class RecipeStep:
    """One step of making it, with its caution or an empty text."""

    text: str
    caution: str


@dataclass(frozen=True)
class Recipe:
    """How the solution is made: what is needed, what is made, how, and how that was computed.

    `basis` tells how concentrated the bottle is, by its label or by what such labels usually say.
    """

    title: str
    need: str
    make: str
    take: str
    rule: str
    basis: str
    steps: tuple[RecipeStep, ...]
    caution: str


def recipe(wish: Wish, register: Register | None = None) -> Recipe:
    """The recipe for all benches and trials with the spare, made up to the next flask; cautions from the register."""
    need = wish.each.si * wish.benches * wish.trials * (1 + wish.spare.si)
    made = _flask(need)
    moles = wish.concentration.si * made
    title = f"{wish.formula.text} {wish.concentration.reading.shown}"
    trials = "1 trial" if wish.trials == 1 else f"{wish.trials} trials"
    many = f"{wish.benches} benches × {trials} × {wish.each.reading.shown}"
    need_text = f"{many}, {wish.spare.reading.shown} spare: {_volume(need)}"
    source = wish.source_mol_m3
    if source is None:
        grams = 1000 * moles * wish.formula.molar_mass
        take = f"{figures(grams, 4)} g {wish.formula.text}"
        molar = f"{1000 * wish.formula.molar_mass:.2f} g/mol"
        rule = f"{wish.concentration.reading.shown} × {_round_volume(made)} × {molar} = {take}"
    else:
        volume = moles / source
        take = f"{_volume(volume)} of {figures(source / 1000, 3)} mol/L"
        rule = (
            f"{wish.concentration.reading.shown} × {_round_volume(made)} / {figures(source / 1000, 3)} mol/L = "
            f"{_volume(volume)}"
        )
    steps = tuple(_steps(wish, made, take, register or shipped_register()))
    return Recipe(title, need_text, _round_volume(made), take, rule, _basis(wish), steps, RULES)


def _basis(wish: Wish) -> str:
    share, density = wish.label
    source = wish.source_mol_m3
    if wish.source != "concentrate" or share is None or density is None or source is None:
        return ""
    is_typed = wish.percent is not None and wish.density is not None
    said = "as the label says" if is_typed else "as such labels usually say"
    molar = f"{1000 * wish.formula.molar_mass:.2f} g/mol"
    label = f"{exact(100 * share)} % × {exact(density / 1000)} g/mL"
    return f"{label} / {molar} = {figures(source / 1000, 3)} mol/L, {said}"


def _flask(need_m3: float) -> float:
    """The smallest flask that holds it, several of the largest where none does."""
    millilitres = need_m3 * 1e6
    largest = FLASKS_ML[-1]
    flask = next((size for size in FLASKS_ML if size >= millilitres - 1e-9), None)
    return (flask if flask is not None else largest * math.ceil(millilitres / largest)) * 1e-6


def _steps(wish: Wish, made: float, take: str, register: Register) -> Iterator[RecipeStep]:
    source = wish.source_mol_m3
    poured = 0.0 if source is None else wish.concentration.si * made / source
    water = _round_volume(float(f"{0.6 * (made - poured):.2g}"))
    formula = wish.formula
    poison = caution_of(formula, register)
    if wish.source == "solid":
        hot = "It heats the water and spits: little by little into cold water, never water onto it."
        anhydrous = formula.anhydrous.text
        yield RecipeStep(f"Put {water} of distilled water into a beaker.", "")
        yield RecipeStep(f"Add {take}, stirring until all is dissolved.", hot if anhydrous in HOT_SOLIDS else poison)
        yield RecipeStep("Let it come to room temperature.", "")
    else:
        usual = concentrate_of(formula.text)
        caution = usual.caution if usual is not None and wish.source == "concentrate" else poison
        if not caution:
            caution = "Pour below eye level; an acid goes into the water, slowly."
        yield RecipeStep(f"Put {water} of cold distilled water into a beaker first.", "")
        yield RecipeStep(f"Pour {take} into it, slowly, stirring.", caution)
        yield RecipeStep("Let it come to room temperature.", "")
    yield RecipeStep(
        f"Make up to {_round_volume(made)} in a flask, mix, label it: substance, concentration, date, hazard.", ""
    )


def caution_of(formula: Formula, register: Register) -> str:
    """What the register says that a substance does to people, and whether the drain is closed to it; empty for none."""
    found = register.find(formula)
    if found is None or not found.harms:
        return ""
    said = ", ".join(found.harms)
    drain = "; nothing of it down the drain" if found.dissolved.startswith("heavy_metal") else ""
    return f"{said[:1].upper()}{said[1:]}: gloves, no dust{drain}."


def _round_volume(cubic_metres: float) -> str:
    """A flask's volume, or one that need not be exact: no zeros that claim it."""
    if cubic_metres >= LITRE:
        return f"{exact(cubic_metres / LITRE)} L"
    return f"{exact(round(cubic_metres * 1e6, 9))} mL"


def _volume(cubic_metres: float) -> str:
    if cubic_metres >= LITRE:
        return f"{figures(cubic_metres / LITRE, 3)} L"
    return f"{figures(cubic_metres * 1e6, 3)} mL"
