"""Preparative synthesis: the reagent table, what limits, crude and pure yield, melting range, drip of an addition.

A reagent is weighed, measured as a liquid of known density, or as a solution of known concentration; its purity counts.
Reactants are held against the equation, a catalyst against the limiting reactant, a solvent against nothing. What the
equation consumes of a solvent is there without limit. Also for co-precipitated particles: volumes and concentrations.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.errors import Refusal, refuse
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    Cause,
    EquationField,
    Foresight,
    Form,
    FormulaField,
    GivenDensity,
    GivenRatio,
    Headline,
    Judgement,
    Method,
    ReadingShifted,
    Remain,
    Setting,
    Statement,
    TemperatureRange,
    Trial,
    TruthChanged,
    field_error,
    in_solution,
    known,
    solid,
)
from claykettle.core.methods.parts.by_equation import (
    ByEquation,
    Taken,
    as_weighed,
    by_number,
    consumes,
    declare_extent,
    declare_limiting,
    declare_molar_mass,
    declare_theory,
    equation_asked,
    is_taken,
    least,
    named,
    names,
    of_each,
    portions,
    product_asked,
    reacting,
    reagents_asked,
    rule,
    said_limiting,
    taken_of,
    theoretical_kg,
)
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.limiting import judge_limiting
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.pictures.reagent_table import ReagentColumn, ReagentTable, YieldStep
from claykettle.core.quantity import Number, exact, figures, grams, nominal, parse_reading
from claykettle.core.sheet import LineDef, Page, Pick, Shape, Values
from claykettle.core.verdict import Verdict

MOST_REAGENTS = 12
INDICES = range(1, MOST_REAGENTS + 1)
ROLES = ("reactant", "catalyst", "solvent")
EQUIVALENTS = re.compile(r"(\d+(?:[.,]\d+)?)\s*eq")
PLANNED_UNITS = ("g", "mg", "kg", "mL", "L", "mol", "mmol", "eq")
SHARP_K = 2.0
"""A pure solid melts within two degrees (common practice)."""
CLOSE_K = 3.0
"""So near to the literature a melting range counts as right: thermometers differ (common practice)."""


class Reagent(Taken):
    """One column of the reagent table, as text `C4H6O3 1.08 g/mL 5 mL`, `H3PO4 85 % catalyst` or `NaOH 2 mol/L`.

    `planned` is what is to be taken: grams, millilitres, moles, or equivalents (`1.2 eq`) of the first reactant that is
    planned otherwise.
    """

    name: str = Field(default="", max_length=120, title="Name")
    density: GivenDensity | None = Field(default=None, title="Density", description="Of a liquid measured in mL.")
    purity: GivenRatio | None = Field(default=None, title="Purity", description="By mass, as the label says.")
    role: Annotated[str, Field(pattern="^(reactant|catalyst|solvent)$")] = Field(default="reactant", title="Role")
    planned: str = Field(
        default="", max_length=40, title="Planned", description="Such as 2.0 g, 5 mL, 0.02 mol or 1.2 eq."
    )

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: Any) -> Any:
        return _of_text(value) if isinstance(value, str) else value

    @model_validator(mode="after")
    def _can_be(self) -> Reagent:
        if self.purity is not None and not 0 < self.purity.si <= 1:
            raise field_error("out-of-range", "A purity lies above 0 and at most at 100 %.", "purity")
        if self.density is not None and self.density.si <= 0:
            raise field_error("not-positive", "A density lies above zero.", "density")
        if self.density is not None and self.concentration is not None:
            text = "Give the density of a liquid or the concentration of a solution; one of the two tells the amount."
            raise field_error("both-forms", text, "density")
        if self.purity is not None and self.concentration is not None:
            text = "The concentration of a solution already tells how much is in it: leave the purity out."
            raise field_error("both-forms", text, "purity")
        if self.planned.strip():
            self._can_be_planned()
        return self

    def _can_be_planned(self) -> None:
        planned = self.planned_si
        if planned is None or planned[1] <= 0:
            text = "Write what is planned as 2.0 g, 5 mL, 0.02 mol or 1.2 eq, above zero."
            raise field_error("not-a-number", text, "planned")
        if planned[0] == "volume" and not self.is_measured:
            text = f"{self.planned} of {self.formula.text} says how much only with its density, or a concentration."
            raise field_error("density-missing", text, "density")
        if planned[0] == "mass" and self.concentration is not None:
            text = "A solution of a known concentration is measured: plan it in mL or mol."
            raise field_error("not-measured", text, "planned")

    @property
    def is_measured(self) -> bool:
        """Whether it is measured by volume."""
        return self.density is not None or self.concentration is not None

    @property
    def planned_si(self) -> tuple[str, float] | None:
        """Dimension and size (SI) of what is planned, `equivalents` as they are; None where that cannot be read."""
        equivalents = EQUIVALENTS.fullmatch(self.planned.strip())
        if equivalents is not None:
            return "equivalents", float(equivalents[1].replace(",", "."))
        for dimension in ("mass", "volume", "amount"):
            try:
                return dimension, float(parse_reading(self.planned, dimension).si)
            except Refusal:
                continue
        return None

    def planned_quantity(self, equivalent: float | None) -> float | None:
        """What is to be taken as its reading takes it, in kg or m³; `equivalent` in mol, None while it is not known."""
        if not self.planned.strip() or self.planned_si is None:
            return None
        dimension, size = self.planned_si
        if dimension == "volume":
            return size
        if dimension == "mass":
            return size if self.density is None else size / self.density.si
        if dimension == "equivalents":
            if equivalent is None:
                return None
            size *= equivalent
        return size / self.mol_in(1.0)

    @property
    def as_text(self) -> str:
        """The reagent as one line of text, from which it is read again."""
        given = (row.reading.text.strip() for row in (self.purity, self.density, self.concentration) if row)
        words = (self.formula.text, *given, self.planned.strip(), "" if self.role == "reactant" else self.role)
        return " ".join(word for word in words if word)

    def mol_in(self, quantity: float) -> float:
        """mol in so many kg of it, or m³ where it is measured by volume; impurities count for nothing."""
        if self.concentration is not None:
            return super().mol_in(quantity)
        mass = quantity if self.density is None else quantity * self.density.si
        return super().mol_in(mass * (1.0 if self.purity is None else self.purity.si))


def _of_text(text: str) -> dict[str, Any]:
    """A reagent from one line: its formula, then quantities by their units, then its role."""
    formula, *rest = text.split()
    found: dict[str, Any] = {"formula": formula.rstrip(",")}
    number = ""
    for word in rest:
        if word in ROLES:
            found["role"] = word
        elif word in ("g/mL", "g/cm3", "kg/m3") and number:
            found["density"], number = f"{number} {word}", ""
        elif word in ("mol/L", "mmol/L") and number:
            found["concentration"], number = f"{number} {word}", ""
        elif word in PLANNED_UNITS and number:
            found["planned"], number = f"{number} {word}", ""
        elif word == "%" and number:
            found["purity"], number = f"{number} %", ""
        elif word.endswith("%"):
            found["purity"] = f"{word[:-1]} %"
        elif number:
            raise field_error(
                "not-a-number",
                f"'{number}' has no unit known here: write 1.08 g/mL, 2 mol/L, 98 % or 2.0 g.",
                "formula",
            )
        else:
            number = word
    if number:
        found["concentration"] = number
    return found


class SynthesisOptions(ByEquation[Reagent]):
    """Options of the method `synthesis`, as in the run file."""

    kind = Reagent
    most = MOST_REAGENTS

    equation: EquationField = equation_asked("C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2")
    product: FormulaField | None = product_asked("Product", "the first")
    reagents: tuple[Reagent, ...] = reagents_asked(
        "Reagents", "Such as C7H6O3; C4H6O3 1.08 g/mL; H3PO4 85 % 1.69 g/mL catalyst.", MOST_REAGENTS
    )
    literature_melting: TemperatureRange | None = Field(
        default=None, title="Literature melting range", description="Such as 135 to 136 °C."
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> SynthesisOptions:
        self.check_reagents()
        if not self.held:
            raise field_error("no-reactant", "At least one reagent is a reactant of the equation.", "reagents")
        melting = self.literature_melting
        if melting is not None and melting[0].si > melting[1].si:
            raise field_error("reversed", "A melting range begins with the lower temperature.", "literature_melting")
        return self

    def no_reactant(self, reagent: Reagent) -> str:
        """What is said of a reactant that is none of the equation's."""
        return f"{super().no_reactant(reagent)} Is it a catalyst or a solvent?"

    def numbers(self, *roles: str) -> list[int]:
        """The numbers of the reagents in these roles."""
        return [number for number, row in enumerate(self.taken, start=1) if row.role in roles]

    @property
    def held(self) -> Sequence[int]:
        """The numbers of the reactants; catalysts and solvents stand beside the equation."""
        return self.numbers("reactant")


page = Page("synthesis")


def _when(index: int, test: Callable[[Reagent], bool]) -> Callable[[Shape], bool]:
    return lambda shape: is_taken(index)(shape) and test(shape.options.reagent(index))


def _declare_readings(index: int) -> None:
    jar: dict[str, Any] = {
        "naming": lambda options: options.reagent(index).label,
        "change": f"reagent_{index}",
        "planned": lambda options: options.reagent(index).planned,
    }
    weighed = _when(index, lambda row: not row.is_measured)
    page.reading(
        f"reagent_{index}", f"reagent {index}", "g", "balance", when=weighed, net=True, sole=True, pan="added",
        usual=("0.001 g", "200 g"), **jar,
    )  # fmt: skip
    measured = _when(index, lambda row: row.is_measured)
    page.reading(f"reagent_{index}", f"reagent {index}", "mL", "liquid_volume", when=measured, **jar)
    for field, words, unit in (
        ("density", "density of {}", "g/mL"), ("concentration", "concentration of {}", "mol/L"),
        ("purity", "purity of {}", "%"),
    ):  # fmt: skip
        _declare_given(index, field, words, unit)


def _declare_given(index: int, field: str, words: str, unit: str) -> None:
    page.reading(
        f"{field}_{index}",
        f"{field} {index}",
        unit,
        "",
        when=_when(index, lambda row: getattr(row, field) is not None),
        naming=named(index, words),
        given=lambda options: known(getattr(options.reagent(index), field)),
    )


def _declare_amounts(index: int) -> None:
    jar = f"reagent_{index}"

    solid_ = _when(index, lambda row: not row.is_measured)
    liquid = _when(index, lambda row: row.density is not None)
    solution = _when(index, lambda row: row.concentration is not None)
    mass: dict[str, Any] = {"name": f"mass_{index}", "naming": named(index, "mass of {}")}

    @page.line(f"mass {index}", "g", rule(index, "({jar})"), when=solid_, takes={"weighed": jar}, **mass)
    def as_weighed(weighed: Number) -> Number:
        return weighed

    @page.line(
        f"mass {index}", "g", rule(index, "({jar}) × (density of {name})"), when=liquid,
        takes={"measured": jar, "density": f"density_{index}"}, **mass,
    )  # fmt: skip
    def of_liquid(measured: Number, density: Number) -> Number:
        return measured * density

    declare_molar_mass(page, index, is_taken(index))
    amount: dict[str, Any] = {"name": f"amount_{index}", "naming": named(index, "amount of {}"), "positive": True}
    by_mass = {"mass": f"mass_{index}", "molar": f"molar_mass_{index}"}

    @page.line(
        f"amount {index}", "mol", rule(index, "(mass of {name}) / (molar mass of {name})"),
        when=_when(index, lambda row: row.concentration is None and row.purity is None), takes=by_mass, **amount,
    )  # fmt: skip
    def pure(mass: Number, molar: Number) -> Number:
        return mass / molar

    @page.line(
        f"amount {index}", "mol", rule(index, "(mass of {name}) × (purity of {name}) / (molar mass of {name})"),
        when=_when(index, lambda row: row.concentration is None and row.purity is not None),
        takes={**by_mass, "purity": f"purity_{index}"}, **amount,
    )  # fmt: skip
    def impure(mass: Number, molar: Number, purity: Number) -> Number:
        return mass * purity / molar

    @page.line(
        f"amount {index}", "mol", rule(index, "({jar}) × (concentration of {name})"), when=solution,
        takes={"measured": jar, "concentration": f"concentration_{index}"}, **amount,
    )  # fmt: skip
    def dissolved(measured: Number, concentration: Number) -> Number:
        return measured * concentration

    @page.line(
        f"mass {index}", "g", rule(index, "(amount of {name}) × (molar mass of {name})"), when=solution,
        takes={"amount": f"amount_{index}", "molar": f"molar_mass_{index}"}, **mass,
    )  # fmt: skip
    def of_solution(amount: Number, molar: Number) -> Number:
        return amount * molar

    declare_extent(page, index)


for _index in INDICES:
    _declare_readings(_index)
for _index in INDICES:
    _declare_amounts(_index)


def _pick_amount(**rows: Number) -> Pick:
    number = least(rows)
    return Pick(number, rows[f"amount_{number}"])


declare_limiting(page)
page.lines.append(
    LineDef(
        "limiting_amount", "amount of the limiting reagent", "mol", by_number("(amount of {})"), _pick_amount,
        kind="choice", taking=of_each("extent", "amount"),
    )
)  # fmt: skip


def _declare_shares(index: int) -> None:
    @page.line(
        f"equivalents {index}", "1", rule(index, "(amount of {name}) / (amount of the limiting reagent)"),
        when=_when(index, lambda row: row.role != "solvent"), name=f"equivalents_{index}",
        naming=named(index, "equivalents of {}"), takes={"amount": f"amount_{index}"},
    )  # fmt: skip
    def equivalents(amount: Number, limiting_amount: Number) -> Number:
        return amount / limiting_amount

    @page.line(
        f"supply {index}", "1", rule(index, "({name} per equation) / (limiting amount)"),
        when=_when(index, lambda row: row.role == "reactant"), name=f"supply_{index}",
        naming=named(index, "{} over what is needed"), takes={"extent": f"extent_{index}"},
    )  # fmt: skip
    def supply(extent: Number, reaction_possible: Number) -> Number:
        return extent / reaction_possible


for _index in INDICES:
    _declare_shares(_index)


def _has_catalyst(shape: Shape) -> bool:
    return bool(shape.options.numbers("catalyst"))


def _of_catalyst(amount: Number, limiting: Number) -> Number:
    return amount / limiting


page.lines.append(
    LineDef(
        "catalyst_mol_percent", "catalyst", "%",
        lambda options: f"(amount of {options.reagent(options.numbers('catalyst')[0]).formula.text}) / "
        "(amount of the limiting reagent) × 100 %",
        _of_catalyst, when=_has_catalyst,
        taking=lambda options: {"amount": f"amount_{options.numbers('catalyst')[0]}", "limiting": "limiting_amount"},
    )
)  # fmt: skip


declare_theory(page, "product")

net: dict[str, Any] = {"net": True, "sole": True}
page.reading("crude", "dry crude", "g", "balance", **net)
page.reading("pure", "dry pure", "g", "balance", optional=True, **net)


def _is_purified(shape: Shape) -> bool:
    return "pure" in shape.taken


@page.line("crude percent yield", "%", "(dry crude) / (theoretical yield) × 100 %")
def crude_percent_yield(crude: Number, theoretical_yield: Number) -> Number:
    return crude / theoretical_yield


@page.line("pure percent yield", "%", "(dry pure) / (theoretical yield) × 100 %", when=_is_purified)
def pure_percent_yield(pure: Number, theoretical_yield: Number) -> Number:
    return pure / theoretical_yield


@page.line("recovery of the purification", "%", "(dry pure) / (dry crude) × 100 %", when=_is_purified)
def recovery_percent(pure: Number, crude: Number) -> Number:
    return pure / crude


def _economy(options: SynthesisOptions) -> float:
    whole = sum(float(row.coefficient) * row.formula.molar_mass for row in options.equation.reactants)
    return options.made_coefficient * options.made.molar_mass / whole


def _economy_rule(options: SynthesisOptions) -> str:
    terms = [f"{exact(float(row.coefficient))} × {row.formula.molar_mass_g:.3f}" for row in options.equation.reactants]
    made = f"{exact(options.made_coefficient)} × {options.made.molar_mass_g:.3f}"
    return f"{made} / ({' + '.join(terms)}) × 100 %"


@page.line("atom economy", "%", _economy_rule)
def atom_economy(options: SynthesisOptions) -> Number:
    return _economy(options)


def _waste_rule(options: SynthesisOptions) -> str:
    names = " + ".join(f"(mass of {options.reagent(n).formula.text})" for n in options.numbers("reactant", "catalyst"))
    return f"({names} − (dry pure)) / (dry pure)"


def _waste(pure: Number, **masses: Number) -> Number:
    rows = list(masses.values())
    return (sum(rows[1:], rows[0]) - pure) / pure


page.lines.append(
    LineDef(
        "e_factor", "E factor", "1", _waste_rule, _waste, when=_is_purified,
        taking=lambda options: {"pure": "pure"}
        | {f"mass_{n}": f"mass_{n}" for n in options.numbers("reactant", "catalyst")},
    )
)  # fmt: skip


MELTING = tuple(f"{stage}_melting_{end}" for stage in ("crude", "pure") for end in ("start", "end"))
for _name in MELTING:
    _stage, _, _end = _name.split("_")
    _words = f"{_stage} begins to melt" if _end == "start" else f"{_stage} is molten"
    page.reading(_name, _words, "degC", "thermometer", optional=True)
page.given(
    "literature_low",
    "literature melting point",
    "degC",
    lambda options: known(options.literature_melting)[0],
    when=lambda shape: shape.options.literature_melting is not None,
)


def _melts(stage: str, *, literature: bool = False) -> Callable[[Shape], bool]:
    """Whether this stage's range counts: that of the pure product where it was read, else that of the crude."""

    def holds(shape: Shape) -> bool:
        read = {one for one in ("crude", "pure") if f"{one}_melting_start" in shape.taken}
        ends = f"{stage}_melting_end" in shape.taken
        if literature and shape.options.literature_melting is None:
            return False
        return stage in read and (ends or literature) and not (stage == "crude" and "pure" in read)

    return holds


for _stage in ("crude", "pure"):
    _takes = {"start": f"{_stage}_melting_start", "end": f"{_stage}_melting_end"}

    @page.line(
        "melting width", "K", f"({_stage} is molten) − ({_stage} begins to melt)", when=_melts(_stage),
        name="melting_width", takes=_takes,
    )  # fmt: skip
    def melting_width(start: Number, end: Number) -> Number:
        return end - start

    @page.line(
        "melting depression", "K", f"(literature melting point) − ({_stage} begins to melt)",
        when=_melts(_stage, literature=True), name="melting_depression", takes={"start": _takes["start"]},
    )  # fmt: skip
    def melting_depression(start: Number, literature_low: Number) -> Number:
        return literature_low - start


page.reading("addition_volume", "volume added", "mL", "liquid_volume", optional=True)
page.reading("addition_time", "time of the addition", "min", "clock", optional=True)


@page.line(
    "drip rate",
    "mL/min",
    "(volume added) / (time of the addition)",
    when=lambda shape: {"addition_volume", "addition_time"} <= shape.taken,
)
def drip_rate(addition_volume: Number, addition_time: Number) -> Number:
    return addition_volume / addition_time


RESULTS = (
    *(f"amount_{index}" for index in INDICES),
    *(f"equivalents_{index}" for index in INDICES),
    *(f"supply_{index}" for index in INDICES),
    "theoretical_yield",
    "crude_percent_yield",
    "pure_percent_yield",
    "recovery_percent",
    "catalyst_mol_percent",
    "atom_economy",
    "e_factor",
    "melting_width",
    "melting_depression",
    "drip_rate",
)


# Judgement

SUSPECTS = "it is still wet, not washed free of what it was made in, another solid, or a figure was rounded on the way"


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_limiting(trial, names(trial.options))
        for result in ("crude_percent_yield", "pure_percent_yield"):
            verdicts += judge_yield(trial, result, SUSPECTS)
        verdicts += _melting(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)), said=said_limiting(trial))


def _order(trial: Trial) -> Iterator[Verdict]:
    """More pure than crude, and melting ranges that end before they begin."""
    crude, pure = trial.value("crude"), trial.value("pure")
    if crude is not None and pure is not None and pure > crude:
        text = f"{grams(pure)} pure from {grams(crude)} crude cannot be: it is wet, or a line is wrong."
        yield Verdict(STEP, "stop", "pure", text)
    for stage in ("crude", "pure"):
        start, end = trial.typed(f"{stage}_melting_start"), trial.typed(f"{stage}_melting_end")
        if start is not None and end is not None and end.si < start.si:
            text = (
                f"The {stage} is said to be molten at {end.shown}, before it begins to melt at {start.shown}: exchange "
                "the two."
            )
            yield Verdict(STEP, "stop", f"{stage}_melting_end", text)


def _melting(trial: Trial) -> Iterator[Verdict]:
    """Width and depression of the range, in plain words."""
    width, low = trial.value("melting_width"), trial.value("melting_depression")
    if width is None and low is None:
        return
    shown = [f"{figures(width, 2)} degrees wide"] if width is not None else []
    if low is not None:
        shown.append(f"{figures(abs(low), 2)} degrees {'below' if low >= 0 else 'above'} the literature")
    said = f"The melting range is {' and '.join(shown)}"
    if (width is not None and width > SHARP_K) or (low is not None and low > CLOSE_K):
        text = (
            f"{said}: low or broad, so it is still wet or impure. Dry it well, it may need a week, and melt it again."
        )
        yield Verdict("melting-low", "watch", "melting_width", text)
    elif low is not None and low < -CLOSE_K:
        text = f"{said}: higher than it can be. Look at the thermometer, or it is another substance."
        yield Verdict("melting-high", "watch", "melting_depression", text)
    else:
        yield Verdict("melting-sharp", "good", "melting_width", f"{said}: dry, and as pure as this can tell.")


def _statements(trial: Trial) -> Iterator[Statement]:
    options: SynthesisOptions = trial.options
    limiting = trial.values.picks.get("reaction_possible")
    theory = trial.values.get("theoretical_yield")
    if limiting is None or theory is None:
        return
    number = int(limiting)
    name, needed = options.reagent(number).formula.text, options.per_extent(number)
    text = (
        f"{name}: {figures(1000 * (trial.value(f'amount_{number}') or 0.0), 4)} mmol over its coefficient "
        f"{exact(needed)} is the least; at most {figures(1000 * nominal(theory), 4)} g {options.made.text} can come."
    )
    yield Statement("Runs out first", text)


def tabled(trial: Trial) -> ReagentTable:
    """The reagent table as it stands, and the yield as far as it has come."""
    numbers = range(1, len(trial.options.taken) + 1)
    return ReagentTable(tuple(_column(trial, n) for n in numbers), tuple(_path(trial)))


def _column(trial: Trial, number: int) -> ReagentColumn:
    options: SynthesisOptions = trial.options
    reagent, typed = options.reagent(number), trial.typed(f"reagent_{number}")
    is_limiting = trial.values.picks.get("reaction_possible") == str(number)
    amount = trial.value(f"amount_{number}")
    why = ""
    if is_limiting and amount is not None and len(options.held) > 1:
        why = f"{figures(1000 * amount, 3)} mmol over {exact(options.per_extent(number))} is the least"
    return ReagentColumn(
        reagent.formula.text,
        reagent.name,
        reagent.role,
        f"{reagent.formula.molar_mass_g:.2f}",
        reagent.planned,
        typed.shown if typed is not None else _weighed(trial, number),
        "" if amount is None else f"{figures(1000 * amount, 4)} mmol",
        _ratio(trial.value(f"equivalents_{number}")),
        _ratio(trial.value(f"supply_{number}")),
        is_limiting,
        why,
    )


def _weighed(trial: Trial, number: int) -> str:
    """A reagent that was weighed with its boat."""
    mass = trial.value(f"reagent_{number}")
    return "" if mass is None else grams(mass)


def _ratio(value: float | None) -> str:
    return "" if value is None else figures(value, 3)


def _path(trial: Trial) -> Iterator[YieldStep]:
    """Theoretical, crude, pure: each loss named."""
    theory, before = trial.value("theoretical_yield"), None
    if theory is None:
        return
    lost = {"dry crude": "not formed, or lost in work-up", "dry pure": "kept by the mother liquor, or lost"}
    for label, name in (("can come", "theoretical_yield"), ("dry crude", "crude"), ("dry pure", "pure")):
        mass = trial.value(name)
        if mass is None:
            return
        gone = "" if before is None or mass >= before else f"{figures(1000 * (before - mass), 3)} g {lost[label]}"
        yield YieldStep(label, 1000 * mass, f"{figures(1000 * mass, 4)} g", 100 * mass / theory, gone)
        before = mass


# The bench model and the causes of error


@dataclass(frozen=True)
class SynthesisTruth:
    """What is really there: what is taken of each reagent (kg or m³), the dry crude and the dry pure product in kg."""

    reagents: tuple[float, ...]
    crude: float
    pure: float


def truth(shape: Shape, values: Values) -> SynthesisTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    rows = taken_of(shape.options, values)
    crude = nominal(values["crude"])
    return SynthesisTruth(rows, crude, nominal(values["pure"]) if _is_purified(shape) else crude)


def larger(truth: SynthesisTruth, times: float) -> SynthesisTruth:
    """The same in so many times the amount."""
    return SynthesisTruth(tuple(times * row for row in truth.reagents), times * truth.crude, times * truth.pure)


def expect(shape: Shape, truth: SynthesisTruth, expected: float) -> SynthesisTruth:
    """The same reagents, with the yield that is expected; the purification keeps its recovery."""
    wanted, kept = expected * theoretical_kg(shape.options, truth.reagents), truth.pure / truth.crude
    if _is_purified(shape):
        return replace(truth, crude=wanted / kept, pure=wanted)
    return replace(truth, crude=wanted, pure=wanted * kept)


DISH = 0.0200
"""A watch glass (common practice)."""
MELTS = {"start": 400.0, "end": 401.5}
DRIP = {"addition_volume": 50e-6, "addition_time": 360.0}
"""50 mL in six minutes (common practice)."""


def bench(shape: Shape, truth: SynthesisTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg, m³, K and s that honest instruments show of this truth.

    Faults: `incomplete` (fraction that had not reacted), `lost` (fraction lost in work-up and filter), `kept_back`
    (fraction of the pure product left in the mother liquor more than need be), `still_wet` (kg of solvent in both).
    """
    options: SynthesisOptions = shape.options
    made = (1 - faults.get("incomplete", 0.0)) * (1 - faults.get("lost", 0.0))
    wet = faults.get("still_wet", 0.0)
    readings: dict[str, Any] = {}
    for n, amount in zip(range(1, len(options.taken) + 1), truth.reagents, strict=False):
        readings |= as_weighed(shape, f"reagent_{n}", amount, DISH)
    readings |= as_weighed(shape, "crude", truth.crude * made + wet, DISH)
    if _is_purified(shape):
        readings |= as_weighed(shape, "pure", truth.pure * made * (1 - faults.get("kept_back", 0.0)) + wet, DISH)
    readings |= {name: MELTS[name.rsplit("_", 1)[1]] for name in MELTING if name in shape.taken}
    return readings | {name: value for name, value in DRIP.items() if name in shape.taken}


def foresee(options: SynthesisOptions, first: float, setting: Setting) -> SynthesisTruth:
    """What so much of the first reagent (kg) gives: other reactants with the setting's excess, three quarters come.

    Raises Refusal `plan-open` where the first reagent is not a reactant that is weighed.
    """
    reagent = options.reagent(1)
    if reagent.is_measured or reagent.role != "reactant":
        message = "Name a reactant that is weighed first; liquids, solutions and catalysts come after it."
        raise refuse("plan-open", message, "options.reagents")
    rows = portions(options, first, setting.excess.si)
    crude = 0.75 * theoretical_kg(options, rows)
    return SynthesisTruth(rows, crude, 0.8 * crude)


def planned(options: SynthesisOptions) -> dict[str, float]:
    """What the reagent table plans to take, in kg or m³ by reading, before anything is weighed.

    One equivalent is the amount of the first reactant that is planned in grams, millilitres or moles.
    """
    rows = [(n, options.reagent(n)) for n in range(1, len(options.taken) + 1)]
    fixed = ((row, row.planned_quantity(None)) for _, row in rows if row.role == "reactant")
    equivalent = next((row.mol_in(quantity) for row, quantity in fixed if quantity is not None), None)
    found = ((f"reagent_{n}", row.planned_quantity(equivalent)) for n, row in rows)
    return {name: quantity for name, quantity in found if quantity is not None}


CAUSES = (
    Cause(
        "incomplete",
        "the reaction had not ended",
        TruthChanged("incomplete"),
        "%",
        0.05,
        0.5,
        "half of it unreacted is found again in the work-up",
    ),
    Cause(
        "lost",
        "product lost in work-up and filter",
        TruthChanged("lost"),
        "%",
        0.03,
        0.4,
        "two fifths of it on glass and paper are seen",
    ),
    Cause(
        "kept-back",
        "too much solvent in the recrystallization",
        TruthChanged("kept_back"),
        "%",
        0.1,
        0.6,
        "more than that left in the liquor comes out on ice",
    ),
    Cause(
        "still-wet",
        "weighed while still wet",
        TruthChanged("still_wet"),
        "g",
        1e-4,
        2e-3,
        "two grams of solvent make the crystals stick together",
    ),
    Cause(
        "first-mistyped",
        "more of the first reagent than was written down",
        ReadingShifted("reagent_1", -1.0),
        "g",
        2e-5,
        5e-4,
        "half a gram is a slip on any balance",
        lambda options: not options.reagent(1).is_measured,
    ),
)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The product, what the equation leaves beside it, and what was there in excess or as a catalyst."""
    options: SynthesisOptions = trial.options
    pure, crude = trial.value("pure"), trial.value("crude")
    yield solid(options.made, crude if pure is None else pure)
    possible = trial.value("reaction_possible")
    yield from in_solution(options.equation, possible, (options.made,))
    form: Form = "dissolved"
    for n in range(1, len(options.taken) + 1):
        reagent, amount = options.reagent(n), trial.value(f"amount_{n}")
        if amount is not None and reagent.role == "reactant" and possible is not None:
            amount -= possible * options.per_extent(n)
        if amount is None or amount > 1e-12:
            yield Remain(reagent.formula, reagent.formula.text, form, amount)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    aspirin = {
        "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
        "reagents": ["C7H6O3", "C4H6O3 98 % 1.08 g/mL", "H3PO4 85 % 1.69 g/mL catalyst", "H2O solvent"],
        "literature_melting": ["135 degC", "136 degC"],
    }
    magnetite = {
        "equation": "FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl",
        "reagents": ["FeCl2.4H2O", "FeCl3 1 mol/L", "NH3 1 mol/L"],
    }
    metals = ("Co", "Ni", "Zn", "Mn", "Mg", "Cu", "Ca", "Sr", "Ba", "Cd")
    chlorides = " + ".join(f"{metal}Cl2" for metal in metals)
    ferrite = {"equation": f"{chlorides} + 20 FeCl3 + 80 NaOH -> {''.join(metals)}Fe20O40 + 80 NaCl + 40 H2O"}
    melts, drips = frozenset(MELTING), frozenset(DRIP)
    rows = (
        aspirin,
        magnetite,
        {"equation": aspirin["equation"], "reagents": ["C7H6O3 97 %", "C4H6O3 catalyst"]},
        ferrite,
    )
    ways = (
        frozenset({"pure"}) | melts | drips, frozenset({"pure", "pure_melting_start"}),
        frozenset({"crude_melting_start", "crude_melting_end"}), frozenset[str](),
    )  # fmt: skip
    for number, (row, taken) in enumerate(product(rows, ways)):
        options = SynthesisOptions.model_validate(row)
        weighed = {f"reagent_{n}" for n in range(1, len(options.taken) + 1) if not options.reagent(n).is_measured}
        net = frozenset(weighed | {"crude"} | (taken & {"pure"}))
        yield Shape(options, net, frozenset({"crude"}) if number % 2 else frozenset(), taken)


METHOD = Method(
    name="synthesis",
    title="Synthesis",
    page=page,
    options=SynthesisOptions,
    results=RESULTS,
    key=lambda options: "pure_percent_yield",
    fallback="crude_percent_yield",
    headline=lambda options: Headline("{} yield", "theoretical_yield", f"{{}} {options.made.text} can come"),
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    matched=lambda options, values: 1.0,
    foresight=Foresight(
        foresee,
        ("excess",),
        label="first reagent",
        consumes=consumes,
        usual={"excess": "50 %"},
        planned=planned,
    ),
    larger=larger,
    remains=remains,
    pictures=lambda trial: Pictures(reacting=reacting(trial), table=tabled(trial)),
)
