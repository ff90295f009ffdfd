"""Two causes together, where one will not do: each believable, each felt, both the right way for all results."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from claykettle.core.judgement.suspect_case import Case, limit, most_of
from claykettle.core.method import Cause, LineReplaced, OptionReplaced
from claykettle.core.quantity import short, unit

SHOWN = 5
ROUNDS = 8
ALIKE = 1e-6
"""Two causes whose effects differ by less cannot be told apart, so they do not share a run."""
LOOKED_AT = 8
"""So many pairs, the likeliest, are played through the bench model."""
_Effect = tuple[Cause, list[float]]
"""A cause, and what one unit (SI) of it does to each gap."""
FELT = 2.0
"""A dose that moves no result by so many standard uncertainties takes no part."""


@dataclass(frozen=True)
class Pair:
    """Two causes with the doses that explain the run together, each in its cause's unit and as text."""

    codes: tuple[str, str]
    doses: tuple[float, float]
    text: str


def pairs(case: Case, causes: Sequence[Cause], noted: Sequence[str]) -> tuple[Pair, ...]:
    """The likeliest pairs that explain all results; `noted` are codes of causes for which the record speaks."""
    before = case.before
    if before is None:
        return ()
    found: list[tuple[float, _Effect, _Effect, tuple[float, float]]] = []
    dosed = [row for row in causes if not isinstance(row.kind, LineReplaced | OptionReplaced)]
    effects = [(row, slope) for row in dosed if (slope := case.effect(row)) is not None and any(slope)]
    for (first, one), (second, two) in combinations(effects, 2):
        doses = _solved(case, before, (first, one), (second, two))
        if doses is not None:
            far = _unlikely(first, doses[0], noted) + _unlikely(second, doses[1], noted)
            found.append((far, (first, one), (second, two), doses))
    found.sort(key=lambda row: row[0])
    return tuple(_played(case, found[:LOOKED_AT]))[:SHOWN]


def _solved(case: Case, before: list[float], first: _Effect, second: _Effect) -> tuple[float, float] | None:
    """The doses that bring all gaps to nothing, or as near as two causes can; None where they are not believable."""
    (cause, one), (other, two) = first, second
    options = case.shape.options
    most = (min(cause.most(options), most_of(cause)), min(other.most(options), most_of(other)))
    if len(before) == 1:
        # one result cannot tell two doses apart: the same share of each one's most
        reach = one[0] * most[0] + two[0] * most[1]
        share = -before[0] / reach if one[0] * two[0] > 0 and reach else 0.0
        return (share * most[0], share * most[1]) if 0 < share <= 1 else None
    aa, bb, ab = _dot(one, one), _dot(two, two), _dot(one, two)
    if aa * bb - ab * ab <= ALIKE * aa * bb:
        return None
    doses = _least(one, two, before)
    if not all(0 < dose <= top for dose, top in zip(doses, most, strict=True)):
        return None
    if any(dose * math.sqrt(size) < FELT for dose, size in zip(doses, (aa, bb), strict=True)):
        return None
    return doses if _left(before, one, two, doses) <= limit(len(before) - 2) else None


def _left(before: list[float], one: list[float], two: list[float], doses: tuple[float, float]) -> float:
    rows = zip(before, one, two, strict=True)
    return math.fsum((gap + a * doses[0] + b * doses[1]) ** 2 for gap, a, b in rows)


def _dot(one: Sequence[float], two: Sequence[float]) -> float:
    return math.fsum(a * b for a, b in zip(one, two, strict=True))


def _unlikely(cause: Cause, dose: float, noted: Sequence[str]) -> float:
    """How far a dose lies from the usual one; what the record speaks for comes before all that it is silent on."""
    return abs(math.log(dose / cause.usual)) - (10.0 if cause.code in noted else 0.0)


def _played(case: Case, rows: Sequence[tuple[float, _Effect, _Effect, tuple[float, float]]]) -> Iterator[Pair]:
    """Those of the pairs that stand when both are played together through the bench model."""
    for _, first, second, start in rows:
        doses = _settled(case, first, second, start)
        if doses is not None:
            both = list(zip((first[0], second[0]), doses, strict=True))
            said = " and ".join(_said(cause, dose) for cause, dose in both)
            one, two = (unit(cause.unit).from_si(dose) for cause, dose in both)
            yield Pair((first[0].code, second[0].code), (one, two), f"{said[0].upper()}{said[1:]}.")


def _settled(case: Case, first: _Effect, second: _Effect, doses: tuple[float, float]) -> tuple[float, float] | None:
    """The doses mended by what the two really do together; None where they do not come to explain the run."""
    (cause, one), (other, two) = first, second
    for _ in range(ROUNDS):
        found = case.results(case.disturbed((cause, doses[0]), (other, doses[1])))
        if found is None:
            return None
        gaps = case.gaps(found)
        if math.fsum(gap * gap for gap in gaps) <= limit(len(gaps) - 2):
            return doses
        # what is left over the straight line is as much again in doses
        if len(gaps) == 1:
            share = 1 - gaps[0] / (one[0] * doses[0] + two[0] * doses[1])
            doses = (share * doses[0], share * doses[1])
        else:
            more = _least(one, two, gaps)
            doses = (doses[0] + more[0], doses[1] + more[1])
        if not all(0 < dose < most_of(row) for dose, row in zip(doses, (cause, other), strict=True)):
            return None
    return None


def _least(one: Sequence[float], two: Sequence[float], gaps: Sequence[float]) -> tuple[float, float]:
    """The two doses by which the squares of the gaps become the least; raises ZeroDivisionError for like effects."""
    aa, bb, ab = _dot(one, one), _dot(two, two), _dot(one, two)
    a, b = -_dot(one, gaps), -_dot(two, gaps)
    whole = aa * bb - ab * ab
    return (a * bb - b * ab) / whole, (b * aa - a * ab) / whole


def _said(cause: Cause, dose: float) -> str:
    shown = unit(cause.unit)
    return f"{cause.label} ({short(shown.from_si(dose))} {shown.shown})"
