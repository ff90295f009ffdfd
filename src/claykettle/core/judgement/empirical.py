"""Which formula do the amounts of several elements speak for? Every small one is held against them, none is forced."""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Sequence
from functools import lru_cache
from itertools import product
from math import gcd

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.judgement.ratios import misfits
from claykettle.core.quantity import Number
from claykettle.core.verdict import Candidate, candidate

Indices = tuple[int, ...]
MOST_SHOWN = 12


@lru_cache(maxsize=64)
def small_indices(count: int, most: int) -> tuple[Indices, ...]:
    """Every row of `count` indices from 1 to `most` without a common divisor: each ratio once, as simple as can be."""
    return tuple(row for row in product(range(1, most + 1), repeat=count) if gcd(*row) == 1)


def spelled(symbols: Sequence[str], indices: Indices) -> str:
    """The formula with these indices, a one left out."""
    return "".join(f"{symbol}{index if index > 1 else ''}" for symbol, index in zip(symbols, indices, strict=True))


def formulas_near(
    symbols: Sequence[str], amounts: Sequence[Number], most: int, shown: int = MOST_SHOWN
) -> tuple[Candidate, ...]:
    """The formulas with indices up to `most` that lie nearest to the amounts (mol, with their correlations).

    A candidate's misfit is the largest among its ratios to the first element; of equal ones the simpler comes first.
    All that match are given, and at least `shown` of the nearest.
    """
    tables = list(_tables(amounts, most))
    found = [
        (max(tables[place][indices[0]][index] for place, index in enumerate(indices[1:])), sum(indices), indices)
        for indices in small_indices(len(symbols), most)
    ]
    matches = sum(row[0] <= 2 for row in found)
    nearest = heapq.nsmallest(max(shown, matches), found)
    return tuple(
        candidate(parse_formula(spelled(symbols, indices)).text, None, misfit) for misfit, _, indices in nearest
    )


def _tables(amounts: Sequence[Number], most: int) -> Iterator[list[list[float]]]:
    """For every further element: the misfit of its ratio to the first one, by the index of the first and its own."""
    whole = range(1, most + 1)
    for amount in amounts[1:]:
        off = iter(misfits(amount / amounts[0], [own / first for first in whole for own in whole]))
        yield [[], *([0.0, *(abs(next(off)) for _ in whole)] for _ in whole)]
