"""Precipitation and displacement: what runs out, how much can come, how much came, what is left over.

A reagent is weighed, or measured as a solution of known concentration; its amount per equation coefficient tells how
far the reaction can go, and the smallest of these limits it. The theoretical yield follows from that, the actual one
from the dried solid, and a leftover metal that is weighed tells what was really used.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import product
from typing import Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.colours import colour_of
from claykettle.core.chemistry.expectations import expectations
from claykettle.core.chemistry.formula import Formula
from claykettle.core.errors import refuse
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    Cause,
    EquationField,
    Foresight,
    Form,
    FormulaField,
    Headline,
    Judgement,
    LineReplaced,
    Method,
    ReadingScaled,
    Remain,
    Setting,
    Statement,
    Trial,
    TruthChanged,
    field_error,
    in_solution,
    solid,
)
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.by_equation import (
    ByEquation,
    Taken,
    as_weighed,
    consumes,
    declare_extent,
    declare_limiting,
    declare_molar_mass,
    declare_theory,
    equation_asked,
    extents_of,
    is_taken,
    named,
    names,
    portions,
    product_asked,
    reacting,
    reagents_asked,
    rule,
    said_limiting,
    taken_of,
    theoretical_kg,
)
from claykettle.core.methods.parts.collecting import Collecting, CollectorOptions
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.limiting import judge_limiting
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import Number, exact, figures, grams, nominal, with_uncertainty
from claykettle.core.sheet import Page, Shape, Values
from claykettle.core.verdict import Verdict

MOST_REAGENTS = 6
INDICES = range(1, MOST_REAGENTS + 1)


class Reagent(Taken):
    """What is taken of one reactant: a substance that is weighed, or a solution of a known concentration.

    `supplies` names the ion of a net-ionic equation that it brings. As text: `BaCl2.2H2O`, `Na2SO4 0.250 mol/L`,
    `BaCl2.2H2O for Ba^2+`.
    """

    supplies: FormulaField | None = Field(default=None, title="Brings the ion", description="Of a net-ionic equation.")

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        taken, _, ion = value.partition(" for ")
        formula, _, concentration = taken.strip().partition(" ")
        found = {"formula": formula.rstrip(",;"), "concentration": concentration.strip(), "supplies": ion.strip()}
        return {name: text for name, text in found.items() if text}

    @property
    def is_metal(self) -> bool:
        """Whether it is an element, so that a leftover of it can be taken out, dried and weighed."""
        return len(self.formula.atoms) == 1 and self.concentration is None


class PrecipitationOptions(ByEquation[Reagent], CollectorOptions):
    """Options of the method `precipitation`, as in the run file."""

    kind = Reagent
    most = MOST_REAGENTS

    equation: EquationField = equation_asked("BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)")
    product: FormulaField | None = product_asked("Solid that is collected", "the only one marked (s)")
    reagents: tuple[Reagent, ...] = reagents_asked(
        "What is taken", "As it stands in jar or bottle: BaCl2.2H2O; Na2SO4 0.250 mol/L.", MOST_REAGENTS
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> PrecipitationOptions:
        if self.product is None and len(self._marked) != 1:
            text = "Say which solid is collected: the equation marks not just one with (s)."
            raise field_error("no-product", text, "product")
        self.check_reagents()
        return self

    def no_reactant(self, reagent: Reagent) -> str:
        """What is said of a reagent that is none of the reactants; of ions, how to name the one it brings."""
        if reagent.supplies is not None:
            return f"{reagent.supplies.text} is none of the reactants, or {reagent.formula.text} does not hold it."
        said, first = super().no_reactant(reagent), self.equation.reactants[0].formula
        ions = any(row.formula.charge for row in self.equation.reactants)
        return f"{said} Say which ion it brings: {reagent.formula.text} for {first.text}." if ions else said

    @property
    def _marked(self) -> list[Formula]:
        return [row.formula for row in self.equation.products if row.state == "s"]

    @property
    def made(self) -> Formula:
        """What is collected: as named, else the only solid."""
        return self.product if self.product is not None else self._marked[0]

    def place(self, reagent: Reagent) -> int | None:
        """Which of the reactants this is, or which ion it brings, counted from 0."""
        wanted = reagent.supplies
        if wanted is None:
            return super().place(reagent)
        for place, row in enumerate(self.equation.reactants):
            if row.formula.matter == wanted.matter and _ions(reagent.formula, wanted):
                return place
        return None

    def per_extent(self, index: int) -> float:
        """Mol of a reagent that the equation takes as written: its coefficient, over the ions that one brings."""
        reagent = self.reagent(index)
        ions = _ions(reagent.formula, reagent.supplies) if reagent.supplies is not None else 1.0
        return super().per_extent(index) / ions


def _ions(formula: Formula, ion: Formula) -> float:
    """How many of an ion one formula unit brings; 0 where it holds none."""
    held = formula.anhydrous.counts
    return float(min((held.get(element, 0) / count for element, count in ion.counts.items()), default=0))


page = Page("precipitation")
collecting_solid = Collecting(page, "actual_yield", "actual yield")


def _by_mass(index: int) -> Callable[[Shape], bool]:
    return lambda shape: is_taken(index)(shape) and shape.options.reagent(index).concentration is None


def _by_volume(index: int) -> Callable[[Shape], bool]:
    return lambda shape: is_taken(index)(shape) and shape.options.reagent(index).concentration is not None


def _left_over(index: int) -> Callable[[Shape], bool]:
    return lambda shape: _by_mass(index)(shape) and f"leftover_{index}" in shape.taken


def _labelled(index: int) -> Callable[[PrecipitationOptions], str]:
    return lambda options: options.reagent(index).label


def _concentration(index: int) -> Callable[[PrecipitationOptions], Any]:
    return lambda options: options.reagent(index).concentration


def _declare_readings(index: int) -> None:
    solid: dict[str, Any] = {"net": True, "sole": True}
    page.reading(
        f"reagent_{index}",
        f"reagent {index}",
        "g",
        "balance",
        when=_by_mass(index),
        naming=_labelled(index),
        pan="added",
        change=f"reagent_{index}",
        usual=("0.005 g", "60 g"),
        **solid,
    )
    page.reading(
        f"reagent_{index}",
        f"reagent {index}",
        "mL",
        "liquid_volume",
        when=_by_volume(index),
        naming=_labelled(index),
        change=f"reagent_{index}",
    )
    page.reading(
        f"leftover_{index}",
        f"leftover {index}",
        "g",
        "balance",
        optional=True,
        when=_by_mass(index),
        naming=named(index, "{} left over"),
        **solid,
    )
    page.readings.append(
        replace(
            page.readings[-1],
            name=f"concentration_{index}",
            label=f"concentration {index}",
            unit="mol/L",
            instrument="",
            optional=False,
            net=False,
            sole=False,
            when=_by_volume(index),
            naming=named(index, "concentration of {}"),
            given=_concentration(index),
        )
    )


def _declare_amounts(index: int) -> None:
    amount: dict[str, Any] = {"name": f"amount_{index}", "naming": named(index, "amount of {}")}

    declare_molar_mass(page, index, _by_mass(index))

    @page.line(
        f"amount {index}",
        "mol",
        rule(index, "({jar}) / (molar mass of {name})"),
        when=_by_mass(index),
        takes={"weighed": f"reagent_{index}", "molar": f"molar_mass_{index}"},
        positive=True,
        **amount,
    )
    def by_mass(weighed: Number, molar: Number) -> Number:
        return weighed / molar

    @page.line(
        f"amount {index}",
        "mol",
        rule(index, "({jar}) × (concentration of {name})"),
        when=_by_volume(index),
        takes={"measured": f"reagent_{index}", "concentration": f"concentration_{index}"},
        positive=True,
        **amount,
    )
    def by_volume(measured: Number, concentration: Number) -> Number:
        return measured * concentration

    declare_extent(page, index)


for _index in INDICES:
    _declare_readings(_index)
for _index in INDICES:
    _declare_amounts(_index)


declare_limiting(page)


def _declare_excess(index: int) -> None:
    @page.line(
        f"excess {index}",
        "mol",
        rule(index, "{per} × (({name} per equation) − (limiting amount))"),
        when=is_taken(index),
        name=f"excess_{index}",
        naming=named(index, "excess of {}"),
        takes={"extent": f"extent_{index}"},
    )
    def excess(extent: Number, reaction_possible: Number, options: PrecipitationOptions) -> Number:
        return options.per_extent(index) * (extent - reaction_possible)


for _index in INDICES:
    _declare_excess(_index)


declare_theory(page, "solid")
collecting_solid.declare()


@page.line("percent yield", "%", "(actual yield) / (theoretical yield) × 100 %")
def percent_yield(actual_yield: Number, theoretical_yield: Number) -> Number:
    return actual_yield / theoretical_yield


@page.line("amount of the solid", "mol", "(actual yield) / (molar mass of the solid)")
def product_amount(actual_yield: Number, solid_molar_mass: Number) -> Number:
    return actual_yield / solid_molar_mass


def _declare_used(index: int) -> None:
    @page.line(
        f"used {index}",
        "mol",
        rule(index, "(amount of {name}) − ({name} left over) / (molar mass of {name})"),
        when=_left_over(index),
        name=f"used_{index}",
        naming=named(index, "{} used"),
        takes={"amount": f"amount_{index}", "left": f"leftover_{index}", "molar": f"molar_mass_{index}"},
    )
    def used(amount: Number, left: Number, molar: Number) -> Number:
        return amount - left / molar

    @page.line(
        f"solid per {index} used",
        "1",
        lambda options: (
            f"(amount of the solid) / ({options.reagent(index).formula.text} used) × "
            f"{exact(options.per_extent(index))} / {exact(options.made_coefficient)}"
        ),
        when=_is_first_left(index),
        name="product_per_used",
        naming=lambda options: f"solid per {options.reagent(index).formula.text} used, over the equation's ratio",
        takes={"used": f"used_{index}"},
    )
    def product_per_used(product_amount: Number, used: Number, options: PrecipitationOptions) -> Number:
        return product_amount / used * options.per_extent(index) / options.made_coefficient


def _is_first_left(index: int) -> Callable[[Shape], bool]:
    return lambda shape: next((other for other in INDICES if _left_over(other)(shape)), 0) == index


for _index in INDICES:
    _declare_used(_index)

RESULTS = (
    *(f"amount_{index}" for index in INDICES),
    "theoretical_yield",
    "actual_yield",
    "percent_yield",
    *(f"excess_{index}" for index in INDICES),
    *(f"used_{index}" for index in INDICES),
    "product_per_used",
    "product_amount",
)


# Judgement

TWICE = 2.0


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*collecting_solid.judge(trial), *_leftovers(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_limiting(trial, names(trial.options))
        verdicts += judge_yield(trial, "percent_yield", _over(trial))
        verdicts += _metal_balance(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)), said=said_limiting(trial))


def _leftovers(trial: Trial) -> Iterator[Verdict]:
    """A leftover heavier than what went in."""
    for index in INDICES:
        left, taken = trial.value(f"leftover_{index}"), trial.value(f"reagent_{index}")
        if left is not None and taken is not None and left > taken:
            name = trial.options.reagent(index).formula.text
            text = (
                f"{grams(left)} of {name} left over is more than the {grams(taken)} that went in: solid sticks to "
                "it, it is wet, or a line is wrong."
            )
            yield Verdict(STEP, "stop", f"leftover_{index}", text)


def _over(trial: Trial) -> str:
    """The first suspects of a yield over 100 %, wet before all where the series still falls."""
    series = [row.si for row in trial.series(collecting.SERIES)]
    falling = len(series) > 1 and series[-2] - series[-1] > trial.options.tolerance.si
    metal = len(trial.options.made.atoms) == 1
    other = "oxidised while it dried, or the other metal still in it" if metal else "not washed free of dissolved salt"
    first = "it is still wet, as the falling weighings show" if falling or len(series) < TWICE else "wet"
    return f"{first}; {other}; another solid came out with it; or figures were rounded on the way"


def _metal_balance(trial: Trial) -> Iterator[Verdict]:
    """What a displaced metal and the metal used for it say of each other: which direction, which suspect."""
    found = trial.values.get("product_per_used")
    index = next((index for index in INDICES if trial.value(f"used_{index}") is not None), 0)
    if found is None or not index:
        return
    spread, options = trial.uncertainty("product_per_used"), trial.options
    metal, solid = options.reagent(index).formula.text, options.made.text
    shown = with_uncertainty(nominal(found), spread)
    ratio = f"{solid} for {metal}: {shown} of what the equation says."
    off = nominal(found) - 1
    if abs(off) <= TWICE * spread:
        yield Verdict("metal-balance", "good", "product_per_used", f"{ratio} The two agree.")
        return
    per, coefficient = options.per_extent(index), options.made_coefficient
    if off < 0:
        gone = (trial.value(f"used_{index}") or 0.0) - (trial.value("product_amount") or 0.0) * per / coefficient
        text = (
            f"{ratio} {grams(gone * options.reagent(index).formula.molar_mass)} more {metal} went than {solid} came: "
            f"bubbles took it (a side reaction), or {solid} was lost in beaker or filter."
        )
    else:
        more = (trial.value("product_amount") or 0.0) - (trial.value(f"used_{index}") or 0.0) * coefficient / per
        text = (
            f"{ratio} {grams(more * options.made.molar_mass)} more {solid} than the {metal} that went: {solid} still "
            f"sticks to the leftover {metal} (rinse, dry, weigh it again), or the {solid} is wet or oxidised."
        )
    yield Verdict("metal-balance", "watch", "product_per_used", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    limiting = trial.values.picks.get("reaction_possible")
    if limiting is None:
        return
    options = trial.options
    name, theory = options.reagent(int(limiting)).formula.text, trial.values.get("theoretical_yield")
    rest = [
        f"{figures(1000 * (trial.value(f'excess_{index}') or 0.0), 3)} mmol {options.reagent(index).formula.text} stay"
        for index in range(1, len(options.taken) + 1)
        if str(index) != limiting and (trial.value(f"excess_{index}") or 0.0) > 0
    ]
    grams = "" if theory is None else figures(1000 * nominal(theory), 4)
    most = f" at most {grams} g {options.made.text} can come." if grams else ""
    yield Statement("Runs out first", f"{name};{most} {', '.join(rest)}{'.' if rest else ''}".strip())
    for row in expectations(options.equation):
        if row.level == "watch":
            yield Statement("In water", row.text)


COLOUR_LEFT, COLOURLESS, METAL_LEFT, NO_METAL = "colour left", "colourless", "metal left", "no metal left"


def seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    """What was predicted to run out, against the colour and the metal that were seen at the end."""
    yield from collecting.judge_washing(tags)
    limiting = trial.values.picks.get("reaction_possible")
    if limiting is None:
        return
    options = trial.options
    products = any(colour_of(row.formula) for row in options.equation.products)
    for index in range(1, len(options.taken) + 1):
        reagent, runs_out = options.reagent(index), str(index) == limiting
        name, colour = reagent.formula.text, colour_of(options.species(index).formula)
        if colour and not products:
            yield from _against(tags, (COLOUR_LEFT, COLOURLESS), runs_out, f"the {colour} of {name}", name)
        if reagent.is_metal:
            yield from _against(tags, (METAL_LEFT, NO_METAL), runs_out, f"{name} as metal", name)


def _against(tags: Sequence[str], pair: tuple[str, str], runs_out: bool, what: str, name: str) -> Iterator[Verdict]:
    """One pair of tags, what is left and what is gone, against whether the reagent was to run out."""
    noted = [tag for tag in tags if tag in pair]
    if not noted:
        return
    left = noted[-1] == pair[0]
    said = "is left" if left else "is gone"
    if left != runs_out:
        text = f"Seen: {what} {said}, as predicted: {name} {'runs out' if runs_out else 'is there in excess'}."
        yield Verdict("limiting-seen", "good", "reaction_possible", text)
    elif left:
        text = (
            f"Seen: {what} {said}, though {name} was to run out: the reaction has not ended (stir, warm, wait), or "
            "less of the other was there than written down."
        )
        yield Verdict("limiting-contradicted", "watch", "reaction_possible", text)
    else:
        text = (
            f"Seen: {what} {said}, though {name} was there in excess: less of it was taken than written down, or a "
            "side reaction used it."
        )
        yield Verdict("limiting-contradicted", "watch", "reaction_possible", text)


# The bench model and the causes of error


@dataclass(frozen=True)
class PrecipitationTruth:
    """What is really there: what is taken of each reagent (kg or m³), and the dry solid in kg."""

    reagents: tuple[float, ...]
    solid: float


def truth(shape: Shape, values: Values) -> PrecipitationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return PrecipitationTruth(taken_of(shape.options, values), nominal(values["actual_yield"]))


def larger(truth: PrecipitationTruth, times: float) -> PrecipitationTruth:
    """The same in so many times the amount."""
    return PrecipitationTruth(tuple(times * row for row in truth.reagents), times * truth.solid)


def expect(shape: Shape, truth: PrecipitationTruth, expected: float) -> PrecipitationTruth:
    """The same reagents, with the yield that is expected."""
    return replace(truth, solid=expected * theoretical_kg(shape.options, truth.reagents))


def bench(shape: Shape, truth: PrecipitationTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg and m³ that honest instruments show of this truth.

    Faults: `oxidised` (fraction of its mass that the dry solid took up as oxygen), `other_metal` (kg of the displacing
    metal still in the solid), `bubbled` (so much more of a metal is used than the solid asks, as a fraction: less solid
    comes where the metal runs out, less metal is left where it does not).
    """
    options: PrecipitationOptions = shape.options
    possible, bubbled = extents_of(options, truth.reagents), faults.get("bubbled", 0.0)
    solid = truth.solid
    if options.reagent(1 + possible.index(min(possible))).is_metal:
        solid, bubbled = solid * (1 - bubbled), 0.0
    extent = solid / options.made.molar_mass / options.made_coefficient
    readings: dict[str, Any] = {}
    for index, amount in zip(range(1, len(possible) + 1), truth.reagents, strict=False):
        readings |= as_weighed(shape, f"reagent_{index}", amount, BOAT)
        if _left_over(index)(shape):
            used = extent * (1 + bubbled) * options.per_extent(index) * options.reagent(index).formula.molar_mass
            readings |= as_weighed(shape, f"leftover_{index}", max(0.0, amount - used), BOAT)
    shown = solid * (1 + faults.get("oxidised", 0.0)) + faults.get("other_metal", 0.0)
    return readings | collecting_solid.weighed(shape, shown)


BOAT = 0.0012
"""A weighing boat (common practice)."""


def foresee(options: PrecipitationOptions, first: float, setting: Setting) -> PrecipitationTruth:
    """What so much of the first reagent (kg) gives: the others with the setting's excess, nothing lost.

    Raises Refusal `plan-open` where the first reagent is a solution: what is weighed is what a plan sizes.
    """
    if options.reagent(1).concentration is not None:
        message = "Name the substance that is weighed first; solutions come after it."
        raise refuse("plan-open", message, "options.reagents")
    rows = portions(options, first, setting.excess.si)
    return PrecipitationTruth(rows, theoretical_kg(options, rows))


def _collects_metal(options: PrecipitationOptions) -> bool:
    return len(options.made.atoms) == 1


def _has_water(options: PrecipitationOptions) -> bool:
    return any(row.formula.water and row.concentration is None for row in options.taken)


def _is_solution(index: int, options: PrecipitationOptions) -> bool:
    return index <= len(options.taken) and options.reagent(index).concentration is not None


def _anhydrous(index: int) -> Callable[..., Number]:
    return lambda options: options.reagent(index).formula.anhydrous.molar_mass


CAUSES = (
    *collecting.causes(),
    Cause(
        "oxidised",
        "the metal oxidised while it dried",
        TruthChanged("oxidised"),
        "%",
        0.01,
        0.25,
        "a quarter more is copper turned wholly to oxide: black",
        _collects_metal,
    ),
    Cause(
        "other-metal",
        "the other metal still in the solid",
        TruthChanged("other_metal"),
        "g",
        1e-5,
        2e-4,
        "0.2 g of turnings or wire is seen among the solid",
        _collects_metal,
    ),
    Cause(
        "side-reaction",
        "metal lost to a side reaction that bubbles",
        TruthChanged("bubbled"),
        "%",
        0.01,
        0.2,
        "a fifth of the metal gone to gas is a lively fizz",
        _collects_metal,
    ),
    Cause(
        "water-forgotten",
        "crystal water left out of a reagent's molar mass",
        LineReplaced({f"molar_mass_{index}": _anhydrous(index) for index in INDICES}),
        when=_has_water,
    ),
    *(
        Cause(
            f"concentration-{index}",
            f"the {words} reagent's solution weaker than its label",
            ReadingScaled(f"concentration_{index}"),
            "%",
            0.01,
            0.1,
            "a label off by a tenth is a mistake in making it up",
            partial(_is_solution, index),
        )
        for index, words in ((1, "first"), (2, "second"))
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    blanc_fixe = "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)"
    ionic = "Ba^2+(aq) + SO4^2-(aq) -> BaSO4(s)"
    copper = "2 Al(s) + 3 CuSO4(aq) -> 3 Cu(s) + Al2(SO4)3(aq)"
    ferrite = "CoCl2 + NiCl2 + ZnCl2 + MnCl2 + 8 FeCl3 + 32 NaOH -> CoNiZnMnFe8O16(s) + 32 NaCl + 16 H2O"
    sulfate = {"formula": "Na2SO4", "concentration": {"text": "0.250 mol/L", "half_width": "0.002 mol/L"}}
    rows: Sequence[tuple[str, Sequence[Any], frozenset[str]]] = (
        (blanc_fixe, ("BaCl2.2H2O", sulfate), frozenset()),
        (blanc_fixe, (), frozenset()),
        (ionic, ("BaCl2.2H2O for Ba^2+", "Na2SO4 0.25 mol/L for SO4^2-"), frozenset()),
        (copper, ("CuSO4.5H2O", "Al"), frozenset({"leftover_2"})),
        (copper, ("Al", "CuSO4 0.500 mol/L"), frozenset({"leftover_1"})),
        (copper, ("CuSO4 0.0005 mol/L", "Al"), frozenset({"leftover_2"})),
        (ferrite, (), frozenset(f"leftover_{index}" for index in INDICES)),
    )
    ways = ("last", "mean", "lowest")
    for number, ((equation, reagents, left), collector) in enumerate(product(rows, ("paper", "papers_mean", "dish"))):
        given = {"equation": equation, "reagents": reagents, "collector": collector, "constant_value": ways[number % 3]}
        options = PrecipitationOptions.model_validate(given)
        weighed = frozenset(f"reagent_{index}" for index in INDICES if _by_mass(index)(Shape(options)))
        split = frozenset({min(weighed)}) if number % 2 else frozenset[str]()
        yield Shape(options, weighed | left, split, left)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The solid, what the equation leaves in the filtrate, and what is there in excess."""
    options: PrecipitationOptions = trial.options
    yield solid(options.made, trial.value("actual_yield"))
    yield from in_solution(options.equation, trial.value("reaction_possible"), (options.made,))
    for index in range(1, len(options.taken) + 1):
        formula, mol = options.reagent(index).formula, trial.value(f"excess_{index}")
        if mol != 0:
            form: Form = "solid" if options.reagent(index).is_metal else "dissolved"
            yield Remain(formula, formula.text, form, mol)


METHOD = Method(
    name="precipitation",
    title="Precipitation and displacement",
    page=page,
    options=PrecipitationOptions,
    results=RESULTS,
    key=lambda options: "percent_yield",
    headline=lambda options: Headline("{} yield", "actual_yield", f"{{}} {options.made.text}"),
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    matched=lambda options, values: 1.0,
    foresight=Foresight(
        foresee,
        ("vessel_volume", "concentration", "excess"),
        label="first reagent",
        consumes=consumes,
        usual={"vessel_volume": "250 mL", "concentration": "0.25 mol/L", "excess": "20 %"},
    ),
    seen=seen,
    larger=larger,
    pictures=lambda trial: Pictures(reacting=reacting(trial)),
    remains=remains,
)
