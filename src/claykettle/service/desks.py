"""What the desks answer: formulas taken apart, equations put to use, photographs measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from claykettle.core.desks.composition_sheet import CompositionSheet, composition_sheet, is_composition
from claykettle.core.desks.equation_sheet import EquationSheet, equation_sheet
from claykettle.core.desks.formula_sheet import formula_sheet
from claykettle.core.desks.photograph import Ends, PhotographSheet, measured
from claykettle.service.callers import ADMINISTRATOR, BENCH, INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.visit import Visit


class ElementLineView(View):
    """One element's share of a formula; masses in g/mol."""

    symbol: str
    count: str
    weight: str
    mass: str
    percent: str


class WaterLineView(View):
    """The crystal water of a hydrate."""

    count: str
    mass: str
    percent: str
    rule: str
    anhydrous: str
    anhydrous_mass: str


class FormulaSheetView(View):
    """A formula taken apart: molar mass in g/mol, composition, crystal water, listed hydrates of the same salt."""

    text: str
    charge: int
    lines: list[ElementLineView]
    sum: str
    molar_mass: str
    water: WaterLineView | None
    name: str
    relatives: list[str]


class FormulaDeskView(View):
    """What the formula desk made of a text: a formula taken apart, or the formulas that shares of elements fit."""

    formula: FormulaSheetView | None
    composition: CompositionSheet | None


class EquationSheetView(View):
    """An equation put to use: balanced, mole ratios, and the masses that go with the amounts given."""

    sheet: EquationSheet


class PhotographView(View):
    """Lengths read off a photograph, and what its scale is worth."""

    sheet: PhotographSheet


@may(BENCH, INSTRUCTOR, ADMINISTRATOR)
def at_formula_desk(_: Visit, text: str) -> FormulaDeskView:
    """A formula taken apart; or, from shares of elements, the formulas that fit. Raises Refusal."""
    if is_composition(text):
        return FormulaDeskView(formula=None, composition=composition_sheet(text))
    return FormulaDeskView(formula=FormulaSheetView.model_validate(formula_sheet(text)), composition=None)


@may(BENCH, INSTRUCTOR, ADMINISTRATOR)
def at_equation_desk(_: Visit, text: str, given: Mapping[str, str]) -> EquationSheetView:
    """An equation put to use. Raises Refusal."""
    return EquationSheetView(sheet=equation_sheet(text, given))


@may(BENCH, INSTRUCTOR, ADMINISTRATOR)
def on_photograph(_: Visit, bar: str, scale: Ends, things: Sequence[Ends], click: float) -> PhotographView:
    """What was marked on a photograph, measured. Raises Refusal."""
    return PhotographView(sheet=measured(bar, scale, things, click))
