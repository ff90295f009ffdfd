"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from claykettle.core.chemistry.equation import Equation, Species
from claykettle.core.judgement.constancy import DECOMPOSING
from claykettle.core.methods.decomposition.options import DecompositionOptions, leaves, stays
from claykettle.core.methods.parts.crucible import Crucible
from claykettle.core.quantity import Number, exact, nearest_of
from claykettle.core.sheet import Page, Pick, Shape


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


def residues(options: DecompositionOptions) -> list[float]:
    """What each equation leaves, per mass of the sample."""
    return [residue_fraction(equation) for equation in options.equations]


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
    index, fraction = nearest_of(residue_percent, residues(options), "theoretical_fraction")
    return Pick(str(index + 1), fraction)


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
        shares = [per_sample(row, options.gases[index - 1]) for row in options.equations]
        chosen, share = nearest_of(residue_percent, residues(options), f"gas_ratio_{index}", shares)
        return Pick(str(chosen + 1), share)

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
