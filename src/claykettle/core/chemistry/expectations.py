"""What to expect of an equation in water: what comes out, what a metal drives out, and the side reaction that gases.

Rules and potentials say what can happen at standard concentrations, never how fast; what they do not know is not said.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.equation import Equation, Species
from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.potentials import (
    HYDROGEN,
    Displacement,
    couple_of_metal,
    couples,
    displacement,
    gives_hydrogen,
)
from claykettle.core.chemistry.salts import salt_of, solubility_of

OXIDISING = ("HNO3",)
"""Acids whose anion reacts before hydrogen ions do."""


def is_acid(formula: Formula) -> bool:
    """Whether a formula is written as an acid: hydrogen first, then a non-metal or its oxide; no water, no peroxide."""
    if formula.charge or not formula.atoms or formula.atoms[0][0] != "H" or formula.text in NO_ACIDS:
        return False
    return not any(charge > 0 for element, _ in formula.atoms[1:2] for charge in common_charges(element))


NO_ACIDS = ("H2O", "H2O2", "H2")


@dataclass(frozen=True)
class Expectation:
    """A sentence on what can be expected, `watch` where it speaks against the equation as written."""

    level: Literal["good", "watch"]
    text: str


def expectations(equation: Equation) -> tuple[Expectation, ...]:
    """All that rules and potentials say of an equation; empty where they know nothing of it."""
    metals = [row for row in equation.reactants if _is_metal(row)]
    rows = [*_solids(equation)]
    for metal in metals:
        rows += _of_metal(metal, equation)
    return tuple(rows)


def _is_metal(row: Species) -> bool:
    formula = row.formula
    return len(formula.atoms) == 1 and not formula.charge and couple_of_metal(formula.text) is not None


def _solids(equation: Equation) -> Iterator[Expectation]:
    """Salts among the products where salts or acids meet in water: what comes out, what stays dissolved."""
    if not all(_is_in_water(row) for row in equation.reactants):
        return
    for row in equation.products:
        found = solubility_of(row.formula)
        if found is None:
            continue
        name, said = row.formula.text, f"{found.rule}."
        if found.dissolves == "yes":
            wrong = row.state == "s"
            yield Expectation("watch" if wrong else "good", f"{name} stays dissolved: {said}")
        elif found.dissolves == "no":
            wrong = row.state == "aq"
            yield Expectation("watch" if wrong else "good", f"{name} comes out: {said}")
        else:
            yield Expectation("watch", f"{name} dissolves slightly, so some of it stays in the liquid: {said}")


def _is_in_water(row: Species) -> bool:
    found = solubility_of(row.formula)
    return (
        row.state == "aq"
        or row.formula.text == "H2O"
        or is_acid(row.formula)
        or (found is not None and found.dissolves == "yes")
    )


def _of_metal(metal: Species, equation: Equation) -> Iterator[Expectation]:
    symbol = metal.formula.text
    for row in equation.reactants:
        if row is metal:
            continue
        salt = salt_of(row.formula)
        ion = row.formula.text if row.formula.charge else salt.ion if salt is not None else ""
        if ion == HYDROGEN:
            yield _gas(symbol)
        elif ion in couples():
            yield from _driven_out(symbol, ion)
        if row.formula.text in OXIDISING:
            text = f"{row.formula.text} gives poisonous oxides of nitrogen with {symbol}: in the hood."
            yield Expectation("watch", text)
        elif is_acid(row.formula):
            yield _gas(symbol)


def _driven_out(symbol: str, ion: str) -> Iterator[Expectation]:
    found = displacement(symbol, ion)
    volts = f"{found.volt:+.2f} V".replace("-", "−")
    gives = found.ion.gives
    if found.happens is None:
        yield Expectation("watch", f"{symbol} and {ion}: {volts}, too close to say; concentrations decide.")
    elif not found.happens:
        yield Expectation("watch", f"{symbol} does not drive {gives} out of {ion}: {volts}.")
    else:
        yield Expectation("good", f"{symbol} drives {gives} out of {ion}: {volts}{_kept_back(found)}.")
        side = gives_hydrogen(symbol)
        if side.happens:
            text = (
                f"Bubbles are hydrogen: {symbol} also reacts with acid, and what it loses there drives no {gives} out."
            )
            yield Expectation("watch", text)


def _gas(symbol: str) -> Expectation:
    found = gives_hydrogen(symbol)
    volts = f"{found.volt:+.2f} V".replace("-", "−")
    if found.happens is None:
        return Expectation("watch", f"{symbol} in acid: {volts}, too close to say.")
    if not found.happens:
        return Expectation("watch", f"{symbol} sets no hydrogen free from acid: {volts}.")
    return Expectation("good", f"{symbol} sets hydrogen free from acid: {volts}{_kept_back(found)}.")


def _kept_back(found: Displacement) -> str:
    return f", but {found.metal.slow}" if found.metal.slow else ""
