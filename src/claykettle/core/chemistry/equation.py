"""Equations as people type them: read, checked for balance, balanced.

`Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)`, charges as `Fe^3+`, hydrates with a dot, states (s) (l) (g) (aq).
Balancing is the null space of the matrix of atoms and charge, in exact fractions; a reaction with several independent
balances is said to be one, since no single set of coefficients belongs to it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import gcd, lcm

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import Refusal, refuse

LONGEST = 1000
MOST_SPECIES = 20
LARGEST_COEFFICIENT = 9999

_ARROW = re.compile(r"<?[-=–—]+>|→|⟶|⇌|↔|=")
_STATE = re.compile(r"\((s|l|g|aq)\)\s*$")
_COEFFICIENT = re.compile(r"\s*(\d+(?:[.,/]\d+)?|½)\s*")


@dataclass(frozen=True)
class Species:
    """One substance of an equation, its coefficient as written (or balanced), and its state or an empty text."""

    formula: Formula
    coefficient: Fraction
    state: str

    @property
    def text(self) -> str:
        """The formula with its state."""
        return f"{self.formula.text}({self.state})" if self.state else self.formula.text

    @property
    def written(self) -> str:
        """Coefficient, formula and state."""
        return self.text if self.coefficient == 1 else f"{_number(self.coefficient)} {self.text}"


@dataclass(frozen=True)
class Equation:
    """A reaction: reactants, products, in the order in which they were written."""

    reactants: tuple[Species, ...]
    products: tuple[Species, ...]

    @property
    def species(self) -> tuple[Species, ...]:
        """Reactants, then products."""
        return self.reactants + self.products

    def used(self, formula: Formula) -> float:
        """How much of a substance the equation takes, by its coefficients; 0 where it is no reactant."""
        return sum(float(row.coefficient) for row in self.reactants if row.formula.counts == formula.counts)

    def formed(self, formula: Formula) -> float:
        """How much of a substance the equation makes, by its coefficients; 0 where it is no product."""
        return sum(float(row.coefficient) for row in self.products if row.formula.counts == formula.counts)

    @cached_property
    def text(self) -> str:
        """The equation in our one spelling."""
        left, right = (" + ".join(row.written for row in side) for side in (self.reactants, self.products))
        return f"{left} -> {right}"

    def __str__(self) -> str:
        return self.text

    @property
    def is_balanced(self) -> bool:
        """Whether atoms and charge agree with the coefficients as written."""
        return all(total == 0 for total in self.excess.values())

    @cached_property
    def excess(self) -> Mapping[str, Fraction]:
        """For every element, and `charge`: reactants minus products with the coefficients as written."""
        totals: dict[str, Fraction] = {}
        for side, sign in ((self.reactants, 1), (self.products, -1)):
            for row in side:
                for name, count in row.formula.matter.items():
                    totals[name] = totals.get(name, Fraction(0)) + sign * count * row.coefficient
        return totals


@dataclass(frozen=True)
class Balance:
    """What balancing found: the one balanced equation, or how many independent ones there are (then none is named)."""

    equation: Equation | None
    independent: int


def parse_equation(text: str) -> Equation:
    """Read an equation, balanced or not; a missing coefficient is 1.

    Raises Refusal `equation` (arrow, side or species missing, a substance twice), `equation-too-large`, or what
    `parse_formula` raises, with the species named.
    """
    if len(text) > LONGEST:
        raise refuse("equation-too-large", f"An equation has at most {LONGEST} characters; this one has {len(text)}.")
    arrows = _ARROW.findall(text)
    if len(arrows) != 1:
        found = "no arrow" if not arrows else f"{len(arrows)} arrows"
        message = f"An equation has one arrow between its sides, this has {found}; write 2 Mg + O2 -> 2 MgO."
        raise refuse("equation", message)
    left, right = _ARROW.split(text)
    equation = Equation(_side(left, "before"), _side(right, "behind"))
    if len(equation.species) > MOST_SPECIES:
        raise refuse("equation-too-large", f"An equation has at most {MOST_SPECIES} substances.")
    _refuse_twice(equation)
    return equation


def _side(text: str, where: str) -> tuple[Species, ...]:
    # a plus that belongs to a charge stands directly behind a ^ and its size
    pieces = re.split(r"(?<!\^)(?<!\^\d)(?<!\^\d\d)\+", text)
    if not any(piece.strip() for piece in pieces):
        raise refuse("equation", f"Nothing stands {where} the arrow.")
    return tuple(_species(piece, where) for piece in pieces)


def _species(text: str, where: str) -> Species:
    match = _COEFFICIENT.match(text)
    coefficient, rest = Fraction(1), text
    if match is not None and text[match.end() :].strip():
        typed = match.group(1).replace(",", ".")
        coefficient = Fraction(1, 2) if typed == "½" else _fraction(typed)
        rest = text[match.end() :]
    state = _STATE.search(rest)
    written = rest[: state.start()].strip() if state else rest.strip()
    if not written:
        raise refuse("equation", f"A substance is missing {where} the arrow, beside a plus sign.")
    if written in ("e^-", "e-"):
        raise refuse("equation", "Electrons stand in half equations; write the whole reaction.")
    try:
        formula = parse_formula(written)
    except Refusal as refusal:
        fault = refusal.faults[0]
        raise refuse(fault.code, f"In '{text.strip()[:40]}': {fault.message}") from None
    return Species(formula, coefficient, state.group(1) if state else "")


def _fraction(text: str) -> Fraction:
    try:
        value = Fraction(text)
    except (ValueError, ZeroDivisionError):
        raise refuse("equation", f"'{text[:20]}' is not a coefficient.") from None
    if not 0 < value <= LARGEST_COEFFICIENT:
        raise refuse("equation", f"A coefficient lies above 0 and up to {LARGEST_COEFFICIENT}, not at {text[:20]}.")
    return value


def _refuse_twice(equation: Equation) -> None:
    for side in (equation.reactants, equation.products):
        seen: set[tuple[str, str]] = set()
        for row in side:
            key = (row.formula.text, row.state)
            if key in seen:
                raise refuse("equation", f"{row.text} stands twice on one side; write it once with its coefficient.")
            seen.add(key)


def balance(equation: Equation) -> Balance:
    """The smallest whole coefficients with which the equation balances.

    Raises Refusal `unbalanceable` with the reason: an element on one side only, or no set of positive coefficients.
    """
    vectors = _null_space(matter_matrix(equation))
    if len(vectors) > 1:
        _refuse_one_sided(equation)
        _refuse_idle(equation, [any(values) for values in zip(*vectors, strict=True)])
        return Balance(None, len(vectors))
    vector = vectors[0] if vectors else []
    if sum(value < 0 for value in vector) > sum(value > 0 for value in vector):
        vector = [-value for value in vector]
    if not vector or any(value <= 0 for value in vector):
        raise _unbalanceable(equation, vector)
    return Balance(_with(equation, vector), 1)


def _unbalanceable(equation: Equation, vector: Sequence[int]) -> Refusal:
    """The reason why no positive coefficients balance the equation."""
    _refuse_one_sided(equation)
    if not vector:
        return refuse("unbalanceable", "No coefficients balance this: a substance is missing or wrong.")
    _refuse_idle(equation, vector)
    wrong = [row.formula.text for row, value in zip(equation.species, vector, strict=True) if value < 0]
    return refuse("unbalanceable", f"It balances only with {' and '.join(wrong)} on the other side of the arrow.")


def _refuse_one_sided(equation: Equation) -> None:
    left = {name for row in equation.reactants for name in row.formula.counts}
    right = {name for row in equation.products for name in row.formula.counts}
    for names, where in ((sorted(left - right), "before"), (sorted(right - left), "behind")):
        if names:
            some = " and ".join(names)
            raise refuse("unbalanceable", f"{some} stands only {where} the arrow; atoms neither vanish nor appear.")


def _refuse_idle(equation: Equation, parts: Sequence[int]) -> None:
    """Refuse substances that stand with zero in every balance."""
    idle = [row.formula.text for row, part in zip(equation.species, parts, strict=True) if not part]
    if idle:
        raise refuse("unbalanceable", f"{' and '.join(idle)} can take no part in this reaction; leave it out.")


_NONE = Fraction(0)


def reaction_of(text: str) -> str:
    """The balanced equation of substances as typed, such as `Sn + S -> SnS`; empty where there is not one."""
    try:
        found = balance(parse_equation(text)).equation
    except Refusal:
        return ""
    return found.text if found is not None else ""


def matter_matrix(equation: Equation) -> list[list[int]]:
    """A row for every element and the charge, a column for every substance, products negative, in whole numbers."""
    columns = [row.formula.matter for row in equation.species]
    first_product = len(equation.reactants)
    rows: list[list[int]] = []
    for name in dict.fromkeys(name for column in columns for name in column):
        counts = [column.get(name, _NONE) for column in columns]
        scale = lcm(*(count.denominator for count in counts))
        whole = [count.numerator * (scale // count.denominator) for count in counts]
        rows.append([*whole[:first_product], *(-count for count in whole[first_product:])])
    return rows


def _null_space(rows: Sequence[Sequence[int]]) -> list[list[int]]:
    """A basis of the vectors that the matrix takes to zero, by elimination in whole numbers."""
    matrix = [list(row) for row in rows]
    width = len(matrix[0])
    pivots: list[int] = []
    for column in range(width):
        at = len(pivots)
        pivot = next((r for r in range(at, len(matrix)) if matrix[r][column]), None)
        if pivot is None:
            continue
        matrix[at], matrix[pivot] = matrix[pivot], matrix[at]
        for r in range(len(matrix)):
            if r != at and matrix[r][column]:
                matrix[r] = _cleared(matrix[r], matrix[at], column)
        pivots.append(column)
        if len(pivots) == len(matrix):
            break
    free = (column for column in range(width) if column not in pivots)
    return [_solution(matrix, pivots, column, width) for column in free]


def _solution(matrix: Sequence[Sequence[int]], pivots: Sequence[int], free: int, width: int) -> list[int]:
    """The vector that belongs to one free column."""
    scale = lcm(*(matrix[at][column] for at, column in enumerate(pivots)))
    vector = [0] * width
    vector[free] = scale
    for at, column in enumerate(pivots):
        vector[column] = -matrix[at][free] * (scale // matrix[at][column])
    divisor = gcd(*vector)
    return [value // divisor for value in vector]


def _cleared(row: Sequence[int], pivot: Sequence[int], column: int) -> list[int]:
    """The row with nothing left in the pivot's column, as small as it can be."""
    lead, factor = pivot[column], row[column]
    cleared = [value * lead - base * factor for value, base in zip(row, pivot, strict=True)]
    divisor = gcd(*cleared)
    return [value // divisor for value in cleared] if divisor > 1 else cleared


def _with(equation: Equation, vector: Sequence[int]) -> Equation:
    rows = [
        Species(row.formula, Fraction(value), row.state) for row, value in zip(equation.species, vector, strict=True)
    ]
    return Equation(tuple(rows[: len(equation.reactants)]), tuple(rows[len(equation.reactants) :]))


STRANGE = 8
"""A coefficient above this, where no oxygen burns anything, is more often a forgotten product (common practice)."""


def _is_strange(equation: Equation) -> bool:
    burns = any(row.formula.text == "O2" for row in equation.reactants)
    return not burns and max(row.coefficient for row in equation.species) > STRANGE


def balanced_equation(text: str) -> Equation:
    """A typed equation that must balance as it stands.

    Raises Refusal `unbalanced` with the balanced one proposed, or the reason why none can be.
    """
    equation = parse_equation(text)
    if equation.is_balanced:
        return equation
    try:
        found = balance(equation)
    except Refusal as refusal:
        proposed = _with_water(equation)
        if proposed is None:
            raise
        said, text = proposed
        raise refuse("unbalanced", f"{refusal.faults[0].message} {said}: {text}", suggestion=text) from None
    suggestion = ""
    uneven = ", ".join(_side_with_more(name, total) for name, total in equation.excess.items() if total)
    if found.equation is None:
        several = f"{found.independent} independent balances fit"
        message = f"It does not balance ({uneven}), and {several}; write the coefficients."
    elif _is_strange(found.equation):
        only = f"Of these substances only {found.equation.text} would balance"
        message = f"It does not balance ({uneven}). {only}: is a product missing?"
    else:
        suggestion = found.equation.text
        message = f"It does not balance ({uneven}). Balanced: {suggestion}"
    raise refuse("unbalanced", message, suggestion=suggestion)


def _with_water(equation: Equation) -> tuple[str, str] | None:
    """What balances the equation with water on one side, in words and as text; None where that is no help."""
    water = Species(parse_formula("H2O"), Fraction(1), "")
    if any(row.formula.text == "H2O" for row in equation.species):
        return None
    for lost in (True, False):
        left = equation.reactants if lost else (*equation.reactants, water)
        right = (*equation.products, water) if lost else equation.products
        try:
            found = balance(Equation(left, right)).equation
        except Refusal:
            continue
        if found is not None:
            return f"With the water that is {'lost' if lost else 'taken up'} it does", found.text
    return None


def others_per_kg(equation: Equation, sample: Formula) -> dict[str, float]:
    """Mol of each reactant beside the sample that 1 kg of it takes, by formula."""
    own = equation.used(sample)
    return {
        row.formula.text: float(row.coefficient) / own / sample.molar_mass
        for row in equation.reactants
        if row.formula.counts != sample.counts
    }


def _side_with_more(name: str, total: Fraction) -> str:
    return f"{_number(abs(total))} {name} too {'few' if total > 0 else 'many'} on the right"


def _number(value: Fraction) -> str:
    return str(value.numerator) if value.denominator == 1 else f"{value.numerator}/{value.denominator}"
