"""What a procedure must know of the gases that come off: the gravest kind, and every caution. No method itself."""

from __future__ import annotations

from collections.abc import Iterable

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.gases import KINDS, gas_caution

HARMLESS = "harmless"


def gas_facts(gases: Iterable[str]) -> dict[str, str]:
    """`gas_kind`, one of KINDS or harmless, and `gas_say`, every caution once, of gases by their formulas."""
    found = [row for row in map(gas_caution, dict.fromkeys(gases)) if row is not None]
    kind = min((row.kind for row in found), key=KINDS.index, default=HARMLESS)
    return {"gas_kind": kind, "gas_say": " ".join(row.say for row in found)}


def gases_of(equation: Equation) -> tuple[str, ...]:
    """What an equation sets free as a gas, where it marks that, or where only a gas has that formula."""
    return tuple(
        row.formula.text
        for row in equation.products
        if row.state == "g" or (not row.state and row.formula.text != "H2O" and gas_caution(row.formula.text))
    )


def has_acid(equation: Equation) -> bool:
    """Whether one of the reactants is an acid of the bench, which is to be neutralised at the end."""
    return any(row.formula.text in ACIDS or row.formula.text == "H^+" for row in equation.reactants)


ACIDS = frozenset({"HCl", "HBr", "HI", "HNO3", "H2SO4", "H3PO4", "HClO4", "HC2H3O2", "CH3COOH", "C2H4O2", "C6H8O7",
                   "H3C6H5O7", "H2C2O4", "C2H2O4", "H2C4H4O6", "C4H6O6"})  # fmt: skip
"""Acids that a teaching laboratory has in bottles, as their formulas are written."""
