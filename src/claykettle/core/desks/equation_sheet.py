"""An equation put to use: balanced, its mole ratios, and the masses that go with any one amount or with several."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from claykettle.core.chemistry.equation import Equation, Species, balance, parse_equation
from claykettle.core.chemistry.expectations import Expectation, expectations
from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.quantity import Reading, bears_unit, figures, parse_reading

SHOWN_FIGURES = 4
MASS_UNITS = ("g", "mg", "kg", "ug")


@dataclass(frozen=True)
class SpeciesLine:
    """One substance: what the equation takes or gives of it, and what is left of what was given. Masses in g."""

    text: str
    formula: str
    is_reactant: bool
    coefficient: str
    molar_mass: str
    given: str
    amount: str
    mass: str
    left: str
    is_limiting: bool


@dataclass(frozen=True)
class EquationSheet:
    """Everything that the equation desk shows."""

    typed_is_balanced: bool
    text: str
    lines: tuple[SpeciesLine, ...]
    sentence: str
    expectations: tuple[Expectation, ...]


def equation_sheet(text: str, given: Mapping[str, str]) -> EquationSheet:
    """The sheet of a typed equation; `given` holds amounts such as `2.5 g` or `0.1 mol` by formula.

    One amount of any substance fixes all others; several must be of reactants, and the one that runs out first counts.
    Raises Refusal as parsing and balancing do, `several-balances`, and faults at `given.FORMULA`.
    """
    typed = parse_equation(text)
    equation = typed if typed.is_balanced else _balanced(typed)
    amounts = _amounts(equation, given)
    extents = {name: amount / _coefficient(equation, name) for name, amount in amounts.items()}
    extent = min(extents.values(), default=None)
    limiting = min(extents, key=lambda name: extents[name]) if len(extents) > 1 else None
    lines = tuple(_line(row, equation, given, amounts, extent, limiting) for row in equation.species)
    return EquationSheet(
        typed.is_balanced, equation.text, lines, _sentence(typed, limiting, amounts), expectations(equation)
    )


def _balanced(typed: Equation) -> Equation:
    found = balance(typed)
    if found.equation is None:
        message = (
            f"{found.independent} independent reactions are mixed here, so no one set of coefficients belongs to it; "
            "write them as separate equations."
        )
        raise refuse("several-balances", message)
    return found.equation


def _amounts(equation: Equation, given: Mapping[str, str]) -> dict[str, float]:
    """Mol by formula. Raises Refusal with a fault for every amount that cannot be read."""
    names = {row.formula.text: row for row in equation.species}
    amounts: dict[str, float] = {}
    faults: list[Fault] = []
    for name, text in given.items():
        if not text.strip():
            continue
        if name not in names:
            faults.append(Fault("unknown-substance", f"given.{name}", f"{name} does not stand in the equation."))
            continue
        try:
            amounts[name] = _mol(text, names[name])
        except Refusal as refusal:
            faults += refusal.below(f"given.{name}").faults
    reactants = {row.formula.text for row in equation.reactants}
    if len(amounts) > 1:
        for name in (name for name in amounts if name not in reactants):
            message = "Beside other amounts only reactants can be given; clear this one, or all others."
            faults.append(Fault("not-a-reactant", f"given.{name}", message))
    if faults:
        raise Refusal(*faults)
    return amounts


def _mol(text: str, row: Species) -> float:
    is_mass = not bears_unit(text) or text.strip().endswith(MASS_UNITS)
    try:
        reading: Reading = parse_reading(text, "mass", "g") if is_mass else parse_reading(text, "amount")
    except Refusal as refusal:
        code = refusal.faults[0].code
        if code not in ("unknown-unit", "wrong-dimension"):
            raise
        raise refuse(code, f"'{text.strip()}' is neither a mass nor mol; write it as 2.5 g or 0.02 mol.") from None
    if reading.number <= 0:
        raise refuse("not-positive", "An amount lies above zero.")
    return float(reading.si) / row.formula.molar_mass if is_mass else float(reading.si)


def _coefficient(equation: Equation, name: str) -> float:
    return float(next(row.coefficient for row in equation.species if row.formula.text == name))


def _line(
    row: Species,
    equation: Equation,
    given: Mapping[str, str],
    amounts: Mapping[str, float],
    extent: float | None,
    limiting: str | None,
) -> SpeciesLine:
    name, molar_mass = row.formula.text, row.formula.molar_mass * 1000
    amount = None if extent is None else extent * float(row.coefficient)
    left = amounts[name] - amount if name in amounts and amount is not None else 0.0
    count = row.coefficient
    return SpeciesLine(
        text=row.text,
        formula=name,
        is_reactant=row in equation.reactants,
        coefficient=str(count.numerator) if count.denominator == 1 else f"{count.numerator}/{count.denominator}",
        molar_mass=figures(molar_mass, SHOWN_FIGURES + 1),
        given=given.get(name, ""),
        amount="" if amount is None else figures(amount, SHOWN_FIGURES),
        mass="" if amount is None else figures(amount * molar_mass, SHOWN_FIGURES),
        left=figures(left * molar_mass, 3) if left > 1e-9 * (amounts.get(name) or 1.0) else "",
        is_limiting=name == limiting,
    )


def _sentence(typed: Equation, limiting: str | None, amounts: Mapping[str, float]) -> str:
    said = "Balanced as you typed it." if typed.is_balanced else "It did not balance as typed; these coefficients do."
    if limiting is not None:
        return f"{said} {limiting} runs out first."
    if amounts:
        return f"{said} Everything else follows from the one amount."
    return said
