"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from claykettle.core.method import known
from claykettle.core.methods.parts.by_equation import (
    by_number,
    declare_extent,
    declare_limiting,
    declare_molar_mass,
    declare_theory,
    is_taken,
    named,
    of_each,
    rule,
    runs_out,
)
from claykettle.core.methods.synthesis.options import MOST_REAGENTS, Reagent, SynthesisOptions
from claykettle.core.quantity import Number, exact
from claykettle.core.sheet import LineDef, Page, Pick, Shape

INDICES = range(1, MOST_REAGENTS + 1)


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
    number = runs_out(rows).key
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


page.reading("crude", "dry crude", "g", "balance", by_eye=True, **net)


page.reading("pure", "dry pure", "g", "balance", optional=True, **net)


def is_purified(shape: Shape) -> bool:
    return "pure" in shape.taken


@page.line("crude percent yield", "%", "(dry crude) / (theoretical yield) × 100 %")
def crude_percent_yield(crude: Number, theoretical_yield: Number) -> Number:
    return crude / theoretical_yield


@page.line("pure percent yield", "%", "(dry pure) / (theoretical yield) × 100 %", when=is_purified)
def pure_percent_yield(pure: Number, theoretical_yield: Number) -> Number:
    return pure / theoretical_yield


@page.line("recovery of the purification", "%", "(dry pure) / (dry crude) × 100 %", when=is_purified)
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
        "e_factor", "E factor", "1", _waste_rule, _waste, when=is_purified,
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
