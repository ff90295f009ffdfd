"""What the desks answer: formulas taken apart, equations put to use, photographs measured."""

from __future__ import annotations

from claykettle.core.desks.composition_sheet import CompositionSheet
from claykettle.core.desks.equation_sheet import EquationSheet
from claykettle.core.desks.photograph import PhotographSheet
from claykettle.service.views.base import View


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
