"""What is left of a run when its work is done, so that it can be sorted.

Solids go by themselves; what is dissolved goes with the liquid that holds it, and that liquid into one container.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula, parse_formula

Form = Literal["dissolved", "solid"]
WATER = parse_formula("H2O")
FILTRATE, LIQUOR, VESSEL = "filtrate and washings", "mother liquor", "liquid of the vessel"
"""The liquids of the bench."""


@dataclass(frozen=True)
class Remain:
    """Something left when the work is done: its formula (None where it is not known), what it is, and mol or None.

    What is dissolved lies in the `liquid` of this name; `volume` (m³) is what was measured of it as a liquid, such as
    the solution that brought it.
    """

    formula: Formula | None
    what: str
    form: Form
    mol: float | None = None
    liquid: str = FILTRATE
    volume: float | None = None


def solid(formula: Formula, kg: float | None) -> Remain:
    """So much of a solid; None where it was not weighed."""
    return Remain(formula, formula.text, "solid", None if kg is None else kg / formula.molar_mass)


def dissolved(formula: Formula, mol: float | None, liquid: str = FILTRATE, volume: float | None = None) -> Remain:
    """So much of something in a liquid; None where it was not measured."""
    return Remain(formula, formula.text, "dissolved", mol, liquid, volume)


def in_solution(
    equation: Equation, extent: float | None, without: Sequence[Formula] = (), liquid: str = FILTRATE
) -> Iterator[Remain]:
    """What an equation leaves dissolved when it has gone so far (mol): its products but gases, water and solids."""
    apart = [row.matter for row in without]
    for row in equation.products:
        is_apart = row.state in ("s", "g", "l") or row.formula.matter in apart or row.formula.charge
        if row.formula.text != "H2O" and not is_apart:
            yield dissolved(row.formula, None if extent is None else extent * float(row.coefficient), liquid)
