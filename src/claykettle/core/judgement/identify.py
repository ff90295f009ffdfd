"""Which of the listed hydrates is it? How likely each is on one measured figure, and what would tell the rest apart.

Likelihoods take every candidate as equally usual beforehand: exp(−misfit²/2), divided by their sum. Where none
fits, none is given: a share of a poor choice would say more than the data do.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.hydrates import known_salt
from claykettle.core.chemistry.ion_tests import anion_test, flame
from claykettle.core.quantity import exact
from claykettle.core.verdict import Candidate, Verdict

PARTED = 4.0
"""Two candidates are parted when their figures lie this many standard uncertainties apart: then one at most fits."""
MOST_NAMED, LARGEST_FACTOR = 4, 10


def with_likelihoods(candidates: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """The candidates with their likelihoods and looks, the likeliest first."""
    weights = [math.exp(-(row.misfit**2) / 2) for row in candidates]
    total = math.fsum(weights)
    fits = any(row.status == "match" for row in candidates)
    rows = [
        replace(row, likelihood=weight / total if fits else None, seen=_seen(parse_formula(row.text)))
        for row, weight in zip(candidates, weights, strict=True)
    ]
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def _seen(hydrate: Formula) -> str:
    known = known_salt(hydrate.anhydrous)
    return known.seen if known else ""


def tell_apart(about: str, candidates: Sequence[Candidate], spread: float) -> list[Verdict]:
    """What would decide between several matches: looks, flame, test tube, or more sample.

    `spread` is the standard uncertainty of the measured figure in the unit of the candidates' `expected`.
    """
    matches = [row for row in candidates if row.status == "match"]
    if len(matches) < 2:
        return []
    shown = matches[:MOST_NAMED]
    differences = [_said(name, shown, values) for name, values in _properties(shown) if len(set(values)) > 1]
    text = "To tell them apart: " + "; ".join([*differences, _by_weighing(matches, spread)]) + "."
    return [Verdict("tell-apart", "watch", about, text)]


def _properties(rows: Sequence[Candidate]) -> list[tuple[str, list[str]]]:
    hydrates = [parse_formula(row.text) for row in rows]
    return [
        ("look", [_seen(hydrate).partition(";")[0] or "not listed" for hydrate in hydrates]),
        ("flame", [flame(hydrate) or "no colour" for hydrate in hydrates]),
        ("test", [anion_test(hydrate) or "no usual test" for hydrate in hydrates]),
    ]


def _said(name: str, rows: Sequence[Candidate], values: Sequence[str]) -> str:
    groups: dict[str, list[str]] = {}
    for row, value in zip(rows, values, strict=True):
        groups.setdefault(value, []).append(row.text)
    words = "; ".join(f"{' and '.join(texts)}: {value}" for value, texts in groups.items())
    return f"{name} ({words})"


def _by_weighing(matches: Sequence[Candidate], spread: float) -> str:
    """How much more sample would part the two closest, were the balance and the drying as they are."""
    figures = sorted(row.expected for row in matches if row.expected is not None)
    gap = min(high - low for low, high in pairwise(figures))
    if gap <= 0:
        return "weighing alone never will"
    factor = PARTED * spread / gap
    if factor > LARGEST_FACTOR:
        return "weighing alone hardly will"
    tenths = math.ceil(10 * factor - 1e-6)
    return f"or about {exact(tenths / 10)} times the sample on this balance"
