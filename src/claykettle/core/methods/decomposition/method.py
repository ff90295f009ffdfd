"""Thermal decomposition: heat, weigh what stays, and see which equation it speaks for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import product as every
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.equation import Equation, Species
from claykettle.core.judgement.constancy import DECOMPOSING
from claykettle.core.judgement.ratios import judge_choice, misfits
from claykettle.core.method import (
    FIRST,
    Cause,
    EquationField,
    Foresight,
    Headline,
    Judgement,
    Method,
    ReadingShifted,
    Remain,
    SeriesOptions,
    Setting,
    Trial,
    TruthChanged,
    field_error,
    refuse_other_samples,
    solid,
)
from claykettle.core.methods.parts.crucible import USUAL, Crucible
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.quantity import Number, exact, nominal, with_uncertainty
from claykettle.core.sheet import Page, Pick, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate

EquationList = Annotated[tuple[EquationField, ...], Field(min_length=1, max_length=12)]


class DecompositionOptions(SeriesOptions):
    """Options of the method `decomposition`, as in the run file."""

    equations: EquationList = Field(
        title="Equations to tell apart",
        description="The sample first; (s) marks what stays: Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)",
        json_schema_extra=FIRST,
    )

    @model_validator(mode="after")
    def _consistent(self) -> DecompositionOptions:
        refuse_other_samples(self.equations)
        for number, equation in enumerate(self.equations, start=1):
            if not stays(equation) or not leaves(equation):
                what = "stays in the vessel with (s)" if not stays(equation) else "goes off with (g)"
                text = f"Equation {number}: mark what {what}, as in CaCO3(s) -> CaO(s) + CO2(g)."
                raise field_error("no-state", text, "equations")
        return self

    @property
    def gases(self) -> tuple[str, ...]:
        """Everything that goes off under any of the equations, in the order of mention."""
        return tuple(dict.fromkeys(row.formula.text for equation in self.equations for row in leaves(equation)))


def stays(equation: Equation) -> tuple[Species, ...]:
    """What stays in the vessel."""
    return tuple(row for row in equation.products if row.state == "s")


def leaves(equation: Equation) -> tuple[Species, ...]:
    """What goes off."""
    return tuple(row for row in equation.products if row.state != "s")


def residue_fraction(equation: Equation) -> float:
    """The mass that stays, per mass of the sample, when the equation has run to its end."""
    sample = equation.reactants[0]
    solid = sum(float(row.coefficient) * row.formula.molar_mass for row in stays(equation))
    return solid / (float(sample.coefficient) * sample.formula.molar_mass)


page = Page("decomposition")
crucible = Crucible(
    page,
    vessel="crucible",
    before="sample",
    after="residue",
    change="gas_mass",
    change_label="gas lost",
    moved="gas",
    process=DECOMPOSING,
)
crucible.declare()


@page.line("percent left", "%", "(mass of residue) / (mass of sample) × 100 %")
def residue_percent(residue_mass: Number, sample_mass: Number) -> Number:
    return residue_mass / sample_mass


def nearest(fraction: Any, options: DecompositionOptions) -> int:
    """Index of the equation whose residue lies nearest to the fraction left."""
    left = nominal(fraction)
    return min(range(len(options.equations)), key=lambda i: abs(residue_fraction(options.equations[i]) - left))


def _fraction_rules(options: DecompositionOptions) -> dict[str, str]:
    return {str(index + 1): _fraction_rule(equation) for index, equation in enumerate(options.equations)}


def _fraction_rule(equation: Equation) -> str:
    sample = equation.reactants[0]
    solid = " + ".join(_weighed(row) for row in stays(equation))
    return f"({solid}) / ({_weighed(sample)})"


def _weighed(row: Species) -> str:
    return f"{exact(float(row.coefficient))} × {row.formula.molar_mass_rule}"


@page.choice("theoretical residue per sample", "1", _fraction_rules)
def theoretical_fraction(residue_percent: Number, options: DecompositionOptions) -> Pick:
    index = nearest(residue_percent, options)
    return Pick(str(index + 1), residue_fraction(options.equations[index]))


@page.line("theoretical mass of residue", "g", "(mass of sample) × (theoretical residue per sample)")
def theoretical_residue_mass(sample_mass: Number, theoretical_fraction: Number) -> Number:
    return sample_mass * theoretical_fraction


@page.line("percent yield", "%", "(mass of residue) / (theoretical mass of residue) × 100 %")
def percent_yield(residue_mass: Number, theoretical_residue_mass: Number) -> Number:
    return residue_mass / theoretical_residue_mass


@page.line("percent decomposed", "%", "(gas lost) / ((mass of sample) − (theoretical mass of residue)) × 100 %")
def percent_decomposed(gas_mass: Number, sample_mass: Number, theoretical_residue_mass: Number) -> Number:
    return gas_mass / (sample_mass - theoretical_residue_mass)


@page.line(
    "molar mass of the sample", "g/mol", lambda options: options.equations[0].reactants[0].formula.molar_mass_rule
)
def sample_molar_mass(options: DecompositionOptions) -> Number:
    return options.equations[0].reactants[0].formula.molar_mass


@page.line("amount of sample", "mol", "(mass of sample) / (molar mass of the sample)")
def sample_amount(sample_mass: Number, sample_molar_mass: Number) -> Number:
    return sample_mass / sample_molar_mass


def per_sample(equation: Equation, gas: str) -> float:
    """Mol of a gas that goes off per mol of the sample."""
    amount = sum(float(row.coefficient) for row in leaves(equation) if row.formula.text == gas)
    return amount / float(equation.reactants[0].coefficient)


def _gas_line(index: int) -> None:
    """Declare the two lines of the gas with this number; a page knows at most as many as an equation has products."""

    def has(shape: Shape) -> bool:
        return len(shape.options.gases) >= index

    def rules(options: DecompositionOptions) -> dict[str, str]:
        gas = options.gases[index - 1]
        return {str(n + 1): exact(per_sample(row, gas)) for n, row in enumerate(options.equations)}

    def share(options: DecompositionOptions) -> str:
        return f"mol of {options.gases[index - 1]} per mol of sample"

    def amount(options: DecompositionOptions) -> str:
        return f"amount of {options.gases[index - 1]}"

    @page.choice(f"gas {index} per sample", "1", rules, when=has, name=f"gas_ratio_{index}", naming=share)
    def gas_ratio(residue_percent: Number, options: DecompositionOptions) -> Pick:
        chosen = nearest(residue_percent, options)
        return Pick(str(chosen + 1), per_sample(options.equations[chosen], options.gases[index - 1]))

    @page.line(
        f"amount of gas {index}",
        "mol",
        lambda options: f"(amount of sample) × ({share(options)})",
        when=has,
        naming=amount,
        name=f"gas_amount_{index}",
        takes={"gas_ratio": f"gas_ratio_{index}"},
    )
    def gas_amount(sample_amount: Number, gas_ratio: Number) -> Number:
        return sample_amount * gas_ratio


MOST_GASES = 8
for _index in range(1, MOST_GASES + 1):
    _gas_line(_index)

RESULTS = (
    "sample_mass",
    "residue_mass",
    "gas_mass",
    "residue_percent",
    "theoretical_residue_mass",
    "percent_yield",
    "percent_decomposed",
)


def grouped(options: DecompositionOptions) -> Mapping[str, Mapping[str, str]]:
    """`gas_amounts` by gas: the lines that hold them."""
    return {"gas_amounts": {gas: f"gas_amount_{index}" for index, gas in enumerate(options.gases, start=1)}}


# Judgement


def equation_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every equation held against the percent left, the nearest first."""
    options: DecompositionOptions = trial.options
    left = trial.values.get("residue_percent")
    if left is None:
        return ()
    fractions = [residue_fraction(row) for row in options.equations]
    rows = (
        candidate(row.text, None, off, expected=100 * x)
        for row, x, off in zip(options.equations, fractions, misfits(left, fractions), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = crucible.judge(trial)
    candidates = equation_candidates(trial) if not any(verdict.level == "stop" for verdict in verdicts) else ()
    if not candidates:
        return Judgement(tuple(verdicts))
    word, verdict = judge_choice("residue_percent", _measured(trial), candidates)
    verdicts += [verdict, *_too_much_lost(trial), *judge_yield(trial, "percent_yield", OVER)]
    return Judgement(tuple(verdicts), candidates, {"equation": word})


OVER = "more is left than the nearest equation leaves: not fully heated, moisture taken up, or another reaction"


def _too_much_lost(trial: Trial) -> Iterator[Verdict]:
    """Less left than under the equation that leaves least: dust carried off, or another reaction."""
    options: DecompositionOptions = trial.options
    left, spread = trial.value("residue_percent"), trial.uncertainty("residue_percent")
    least = min(options.equations, key=residue_fraction)
    if left is None or left >= residue_fraction(least) - 2 * spread:
        return
    leaves_least = exact(round(100 * residue_fraction(least), 6))
    text = (
        f"Less is left ({_measured(trial)}) than {least.text} leaves ({leaves_least} %): "
        "dust carried off, spatter, or another reaction. Stop heating and look."
    )
    yield Verdict("loss-too-large", "stop", "residue_percent", text)


def _measured(trial: Trial) -> str:
    percent = 100 * (trial.value("residue_percent") or 0.0)
    return f"{with_uncertainty(percent, 100 * trial.uncertainty('residue_percent'))} % left"


# The bench model and the causes of error


@dataclass(frozen=True)
class DecompositionTruth:
    """What is really in the crucible, in kg, and the fraction of the sample's mass that stays."""

    vessel: float
    sample: float
    fraction: float


def truth(shape: Shape, values: Values) -> DecompositionTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    sample, residue = nominal(values["sample_mass"]), nominal(values["residue_mass"])
    return DecompositionTruth(nominal(values["vessel"]), sample, residue / sample)


def expect(shape: Shape, truth: DecompositionTruth, expected: float) -> DecompositionTruth:
    """The same crucible and sample, with the fraction left that is expected."""
    return replace(truth, fraction=expected)


def accepted_result(options: DecompositionOptions) -> float | None:
    """What the equation leaves, where only one was asked about."""
    return residue_fraction(options.equations[0]) if len(options.equations) == 1 else None


def matched_result(options: DecompositionOptions, values: Values) -> float | None:
    """What the nearest equation leaves."""
    fraction = values.get("theoretical_fraction")
    return None if fraction is None else nominal(fraction)


def bench(shape: Shape, truth: DecompositionTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `undecomposed` (fraction of the sample that heating left as it was), `damp` (fraction of the sample's mass
    that was moisture when weighed).
    """
    damp, undecomposed = faults.get("damp", 0.0), faults.get("undecomposed", 0.0)
    pure = truth.sample * (1 - damp)
    residue = pure * (truth.fraction + (1 - truth.fraction) * undecomposed)
    end = truth.vessel + residue
    return crucible.weighed(shape, truth.vessel, truth.sample, [end + 0.02 * (pure - residue), end, end])


def foresee(options: DecompositionOptions, sample: float, setting: Setting) -> DecompositionTruth:
    """What so much of the sample leaves by the first equation."""
    return DecompositionTruth(setting.vessel_mass.si, sample, residue_fraction(options.equations[0]))


CAUSES = (
    Cause(
        "not-fully-heated",
        "not fully heated",
        TruthChanged("undecomposed"),
        "%",
        0.05,
        0.5,
        "half of it left shows its first colour",
    ),
    Cause(
        "moisture",
        "moisture taken up on cooling",
        ReadingShifted("vessel_residue"),
        "g",
        1e-5,
        1e-4,
        "0.1 g in a cooling time wants a very thirsty residue",
    ),
    Cause(
        "dust",
        "dust carried off with the gas",
        ReadingShifted("vessel_residue", -1.0),
        "g",
        2e-5,
        2e-4,
        "0.2 g of dust lies round the crucible",
    ),
    Cause(
        "crumbs",
        "crumbs left on the weigh boat",
        ReadingShifted("vessel_residue", -1.0),
        "g",
        5e-6,
        5e-5,
        "crumbs on a boat weigh some tens of milligrams",
    ),
    Cause(
        "damp",
        "sample damp when weighed",
        TruthChanged("damp"),
        "%",
        0.01,
        0.1,
        "a tenth of moisture makes the powder cake",
    ),
    *crucible.weighed_warm(),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    soda = (
        "2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)",
        "NaHCO3(s) -> NaOH(s) + CO2(g)",
        "2 NaHCO3(s) -> Na2O(s) + H2O(g) + 2 CO2(g)",
    )
    for net, equations, value in every(crucible.forms(), (soda, soda[:1]), ("last", "mean", "lowest")):
        yield Shape(DecompositionOptions.model_validate({"equations": equations, "constant_value": value}), *net)


def headline(options: DecompositionOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("{} left", "percent_decomposed", "{} decomposed")


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The residue: the solids of the equation found, else of the first."""
    options: DecompositionOptions = trial.options
    equation = next((row for row in options.equations if row.text == found), options.equations[0])
    sample, mass = equation.reactants[0], trial.value("sample_mass")
    extent = None if mass is None else mass / sample.formula.molar_mass / float(sample.coefficient)
    for row in equation.products:
        if row.state == "s":
            kg = None if extent is None else extent * float(row.coefficient) * row.formula.molar_mass
            yield solid(row.formula, kg)


METHOD = Method(
    name="decomposition",
    title="Thermal decomposition",
    page=page,
    options=DecompositionOptions,
    results=RESULTS,
    key=lambda options: "residue_percent",
    headline=headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    grouped=grouped,
    remains=remains,
)
