"""What methods share that take several reagents by one equation, no method itself: options, lines, what limits.

A reagent's amount over its coefficient tells how far the reaction can go with it alone; the smallest limits it, and the
theoretical yield follows. A method says what else it asks of a reagent, and which of them are held against it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from typing import Any, ClassVar, Generic, Self, TypeVar

from pydantic import Field, model_validator

from claykettle.core.chemistry.equation import Species
from claykettle.core.chemistry.formula import Formula
from claykettle.core.method import (
    FIRST,
    EquationField,
    FormulaField,
    GivenConcentration,
    MethodOptions,
    Options,
    Trial,
    field_error,
)
from claykettle.core.methods.parts.limiting import CHOICE, limiting_number
from claykettle.core.pictures.reacting import Reacting, ReagentBar
from claykettle.core.quantity import Number, exact, figures, least, nominal
from claykettle.core.sheet import LineDef, Page, Pick, Shape, Values

CATALYST = 0.05
"""Mol of a catalyst or solvent that a plan takes per mol of the reaction, where nothing else is said."""


class Taken(Options):
    """What is taken of one substance: weighed, or measured as a solution of a known concentration."""

    formula: FormulaField = Field(title="Substance", description="As it stands in the jar, its water included.")
    concentration: GivenConcentration | None = Field(default=None, title="Concentration of its solution")

    @model_validator(mode="after")
    def _lies_above_zero(self) -> Self:
        if self.concentration is not None and self.concentration.si <= 0:
            raise field_error("not-positive", "A concentration lies above zero.", "concentration")
        return self

    @property
    def label(self) -> str:
        """What is written on its jar or bottle."""
        return f"{self.formula.text} solution" if self.concentration is not None else self.formula.text

    def mol_in(self, quantity: float) -> float:
        """mol in so many kg of it, or m³ where it is measured by volume."""
        if self.concentration is not None:
            return quantity * self.concentration.si
        return quantity / self.formula.molar_mass


def equation_asked(example: str) -> Any:
    """The field of an equation, as the form for a run asks it."""
    return Field(title="Equation", description=f"Such as {example}", json_schema_extra=FIRST | {"wide": True})


def product_asked(title: str, empty: str) -> Any:
    """The field of what is made, and which of the products that is where it is left empty."""
    text = f"One of the equation's products; empty: {empty}."
    return Field(default=None, title=title, description=text, json_schema_extra=FIRST)


def reagents_asked(title: str, example: str, most: int, tabled: bool = False) -> Any:
    """The field of what is taken; `tabled` where a reagent table can be filled in first."""
    text = f"{example} Empty: the reactants, weighed."
    extra = FIRST | {"wide": True} | ({"table": True} if tabled else {})
    return Field(default=(), max_length=most, title=title, description=text, json_schema_extra=extra)


Reagent = TypeVar("Reagent", bound=Taken, covariant=True)


class ByEquation(MethodOptions, Generic[Reagent]):
    """Base of options that name an equation, what is made by it and what is taken; a method gives the words."""

    kind: ClassVar[type[Taken]]
    most: ClassVar[int]

    equation: EquationField
    product: FormulaField | None = None
    reagents: tuple[Reagent, ...] = ()

    def check_reagents(self) -> None:
        """Refuse, as pydantic's error, a product that is not formed, a reagent that is none, and two for one."""
        if not self.equation.formed(self.made):
            raise field_error("no-such-product", f"The equation forms no {self.made.text}.", "product")
        seen: dict[int, str] = {}
        for number in self.held:
            reagent, where = self.reagent(number), f"reagents[{number - 1}]"
            place = self.place(reagent)
            if place is None:
                raise field_error("no-such-reagent", self.no_reactant(reagent), where)
            if place in seen:
                text = (
                    f"{reagent.formula.text} and {seen[place]} stand for the same reactant, "
                    f"{self.equation.reactants[place].formula.text}: keep the one that is in the jar."
                )
                raise field_error("two-for-one", text, where)
            seen[place] = reagent.formula.text

    def no_reactant(self, reagent: Taken) -> str:
        """What is said of a reagent that is none of the equation's reactants."""
        names = " and ".join(row.formula.text for row in self.equation.reactants)
        return f"{reagent.formula.text} is none of the reactants, {names}, with or without its water."

    @property
    def made(self) -> Formula:
        """What is made, or collected: as named, else the first product."""
        return self.product if self.product is not None else self.equation.products[0].formula

    @property
    def made_coefficient(self) -> float:
        """Its coefficient in the equation."""
        return self.equation.formed(self.made)

    @cached_property
    def taken(self) -> tuple[Reagent, ...]:
        """What is taken: as named, else every reactant as it stands in the equation."""
        rows: Any = tuple(self.kind(formula=row.formula) for row in self.equation.reactants[: self.most])
        return self.reagents or rows

    @property
    def held(self) -> Sequence[int]:
        """The numbers, from 1, of the reagents that are held against the equation."""
        return range(1, len(self.taken) + 1)

    def reagent(self, index: int) -> Reagent:
        """The reagent with this number, from 1."""
        return self.taken[index - 1]

    def place(self, reagent: Taken) -> int | None:
        """Which of the reactants this is, counted from 0; None where it is none of them."""
        wanted = reagent.formula.anhydrous.matter
        rows = enumerate(self.equation.reactants)
        return next((place for place, row in rows if row.formula.anhydrous.matter == wanted), None)

    def species(self, index: int) -> Species:
        """The reactant of the equation that a reagent stands for."""
        place = self.place(self.reagent(index))
        assert place is not None  # the validator refuses a reagent that is none of the equation's
        return self.equation.reactants[place]

    def per_extent(self, index: int) -> float:
        """Mol of a reagent that the equation takes as written."""
        return float(self.species(index).coefficient)


# The lines


def is_taken(index: int) -> Callable[[Shape], bool]:
    """Guard of what every reagent with this number has."""
    return lambda shape: index <= len(shape.options.taken)


def is_held(index: int) -> Callable[[Shape], bool]:
    """Guard of what a reagent has that is held against the equation."""
    return lambda shape: index in shape.options.held


def named(index: int, words: str = "{}") -> Callable[[ByEquation[Taken]], str]:
    """A label in which `{}` stands for the reagent's formula."""
    return lambda options: words.format(options.reagent(index).formula.text)


def rule(index: int, words: str) -> Callable[[ByEquation[Taken]], str]:
    """A rule in which `{name}` stands for the reagent's formula, `{jar}` for its label, `{per}` for its share."""

    def written(options: ByEquation[Taken]) -> str:
        reagent = options.reagent(index)
        per = exact(options.per_extent(index)) if "{per}" in words else ""
        return words.format(name=reagent.formula.text, jar=reagent.label, per=per)

    return written


def declare_molar_mass(page: Page, index: int, when: Callable[[Shape], bool]) -> None:
    """The line `molar_mass_N`."""

    @page.line(
        f"molar mass {index}", "g/mol", lambda options: options.reagent(index).formula.molar_mass_rule,
        when=when, name=f"molar_mass_{index}", naming=named(index, "molar mass of {}"),
    )  # fmt: skip
    def molar_mass(options: ByEquation[Taken]) -> Number:
        return options.reagent(index).formula.molar_mass


def declare_extent(page: Page, index: int) -> None:
    """The line `extent_N`: how far the reaction can go with this reagent alone."""

    @page.line(
        f"per equation {index}", "mol", rule(index, "(amount of {name}) / {per}"),
        when=is_held(index), name=f"extent_{index}", naming=named(index, "{} per equation"),
        takes={"amount": f"amount_{index}"},
    )  # fmt: skip
    def extent(amount: Number, options: ByEquation[Taken]) -> Number:
        return amount / options.per_extent(index)


def runs_out(extents: Mapping[str, Number]) -> Pick:
    """The number of the reagent that runs out, of lines by name, and how far the reaction goes: decided on nominal
    values, with an uncertainty that knows of those that may run out in its place.
    """
    rows = {name.removeprefix("extent_"): row for name, row in extents.items() if name.startswith("extent_")}
    return Pick(*least(rows, CHOICE))


def by_number(words: str) -> Callable[[ByEquation[Taken]], dict[str, str]]:
    """The rules of a choice among the reagents held, in which `{}` stands for the formula."""
    return lambda options: {str(n): words.format(options.reagent(n).formula.text) for n in options.held}


def of_each(*kinds: str) -> Callable[[ByEquation[Taken]], dict[str, str]]:
    """What a line takes of every reagent held, such as its `extent`."""
    return lambda options: {f"{kind}_{n}": f"{kind}_{n}" for kind in kinds for n in options.held}


def _pick(**extents: Number) -> Pick:
    return runs_out(extents)


def declare_limiting(page: Page) -> None:
    """The choice `reaction_possible`: the smallest of the extents."""
    rules, taking = by_number("({} per equation)"), of_each("extent")
    page.lines.append(LineDef(CHOICE, "limiting amount", "mol", rules, _pick, kind="choice", taking=taking))


def declare_theory(page: Page, what: str) -> None:
    """The lines `WHAT_molar_mass` and `theoretical_yield`; `what` is the product's word, such as `solid`."""

    @page.line(
        f"molar mass of the {what}", "g/mol", lambda options: options.made.molar_mass_rule, name=f"{what}_molar_mass"
    )
    def molar_mass(options: ByEquation[Taken]) -> Number:
        return options.made.molar_mass

    @page.line(
        "theoretical yield",
        "g",
        lambda options: f"(limiting amount) × {exact(options.made_coefficient)} × (molar mass of the {what})",
        positive=True,
        takes={"possible": CHOICE, "molar": f"{what}_molar_mass"},
    )
    def theoretical_yield(possible: Number, molar: Number, options: ByEquation[Taken]) -> Number:
        return possible * options.made_coefficient * molar


# What is said and drawn


def names(options: ByEquation[Taken]) -> dict[int, str]:
    """The formulas of the reagents held, by number."""
    return {number: options.reagent(number).formula.text for number in options.held}


def said_limiting(trial: Trial) -> dict[str, str]:
    """The limiting reagent as a run file says it, as soon as it is known."""
    number = limiting_number(trial)
    return {} if number is None else {"limiting": trial.options.reagent(number).formula.text}


def reacting(trial: Trial) -> Reacting:
    """The reagents as bars, as far as their amounts are known."""
    options: ByEquation[Taken] = trial.options
    limiting, used = limiting_number(trial), trial.value(CHOICE)
    bars: list[ReagentBar] = []
    open_: list[str] = []
    for number, name in names(options).items():
        possible, amount = trial.value(f"extent_{number}"), trial.value(f"amount_{number}")
        if possible is None or amount is None:
            open_.append(options.reagent(number).label)
            continue
        rest = "" if used is None or number == limiting else _left(options.per_extent(number) * (possible - used))
        shown = f"{figures(1000 * amount, 4)} mmol"
        bars.append(ReagentBar(name, 1000 * possible, shown, 1000 * (used or 0.0), rest, number == limiting))
    sentence = "" if limiting is None else f"{options.reagent(limiting).formula.text} runs out first."
    return Reacting(tuple(bars), tuple(open_), sentence)


def _left(mol: float) -> str:
    return f"{figures(1000 * mol, 3)} mmol left"


# For the bench model and the plan


def extents_of(options: ByEquation[Taken], reagents: Sequence[float]) -> list[float]:
    """How far (mol) the reaction can go with each reagent held alone, of all that is taken in kg or m³."""
    return [options.reagent(n).mol_in(reagents[n - 1]) / options.per_extent(n) for n in options.held]


def theoretical_kg(options: ByEquation[Taken], reagents: Sequence[float]) -> float:
    """The theoretical yield in kg of so much of each reagent (kg or m³)."""
    return min(extents_of(options, reagents)) * options.made_coefficient * options.made.molar_mass


def portions(options: ByEquation[Taken], first: float, excess: float) -> tuple[float, ...]:
    """So much of the first reagent (kg) and what goes with it of the others (kg or m³), with their excess."""
    extent = options.reagent(1).mol_in(first) / options.per_extent(1)
    rows = [first]
    for n in range(2, len(options.taken) + 1):
        share = options.per_extent(n) * (1 + excess) if n in options.held else CATALYST
        rows.append(extent * share / options.reagent(n).mol_in(1.0))
    return tuple(rows)


def consumes(options: ByEquation[Taken]) -> Mapping[str, float]:
    """Mol of each other reagent held per kg of the first."""
    if 1 not in options.held:
        return {}
    first = options.per_extent(1) / options.reagent(1).mol_in(1.0)
    return {options.reagent(n).formula.text: options.per_extent(n) / first for n in options.held if n != 1}


def solutions(options: ByEquation[Taken]) -> Mapping[str, tuple[str, str]]:
    """By reading the substance and the concentration of what is measured as a solution."""
    rows = ((f"reagent_{number}", row) for number, row in enumerate(options.taken, start=1))
    return {name: (row.formula.text, row.concentration.reading.shown) for name, row in rows if row.concentration}


def taken_of(options: ByEquation[Taken], values: Values) -> tuple[float, ...]:
    """What the readings say of each reagent, in kg or m³."""
    return tuple(nominal(values[f"reagent_{n}"]) for n in range(1, len(options.taken) + 1))


def as_weighed(shape: Shape, name: str, amount: float, tare: float) -> dict[str, float]:
    """A net weighing in kg as the shape of the page asks for it: alone, or as tare and gross."""
    return {f"{name}_tare": tare, f"{name}_gross": tare + amount} if name in shape.split else {name: amount}
