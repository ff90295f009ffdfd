"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import product
from math import gcd

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.judgement.ratios import judge_formula, misfits
from claykettle.core.method import Formulated, Judgement, Trial
from claykettle.core.methods.composition.options import CompositionOptions
from claykettle.core.methods.composition.page import collected_metal, crucible
from claykettle.core.methods.parts import collecting
from claykettle.core.quantity import with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate

MOST_SHOWN = 12


@dataclass(frozen=True)
class _Kind:
    """A halide that could be: indices of metal and halogen, water per metal, and whether its charges balance."""

    text: str
    halogen_ratio: float
    water_ratio: int
    charges: bool


@lru_cache(maxsize=64)
def _kinds(metal: str, halogen: str, most: int, water: int) -> tuple[_Kind, ...]:
    """Every halide with indices up to `most` and up to so much water per metal, each once and as simple as can be."""
    found = []
    for first, second in product(range(1, most + 1), repeat=2):
        if gcd(first, second) > 1:
            continue
        salt = parse_formula(f"{metal}{first if first > 1 else ''}{halogen}{second if second > 1 else ''}")
        charges = second % first == 0 and second // first in common_charges(metal)
        for ratio in range(water + 1):
            text = salt.hydrate(Fraction(ratio * first)).text
            found.append(_Kind(text, second / first, ratio, charges))
    return tuple(found)


def candidates_of(trial: Trial) -> tuple[Candidate, ...]:
    """The halides that lie nearest, each with the larger of its two misfits; all that match, a dozen at least."""
    options: CompositionOptions = trial.options
    halogen, water = trial.values.get("halogen_ratio"), trial.values.get("water_ratio")
    if halogen is None or water is None:
        return ()
    kinds = _kinds(options.metal, options.halogen, options.max_index, options.max_ratio)
    by_halogen = misfits(halogen, [kind.halogen_ratio for kind in kinds])
    by_water = misfits(water, [kind.water_ratio for kind in kinds])
    rows = [
        (max(abs(one), abs(other)), index) for index, (one, other) in enumerate(zip(by_halogen, by_water, strict=True))
    ]
    matches = sum(off <= 2 for off, _ in rows)
    nearest = heapq.nsmallest(max(MOST_SHOWN, matches), rows)
    return tuple(
        candidate(kinds[i].text, kinds[i].water_ratio, off, float(kinds[i].water_ratio), kinds[i].charges)
        for off, i in nearest
    )


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*crucible.judge(trial), *collected_metal.judge(trial)]
    candidates: tuple[Candidate, ...] = ()
    words: dict[str, Formulated] = {}
    if not any(verdict.level == "stop" for verdict in verdicts):
        candidates = candidates_of(trial)
        if candidates:
            words["formula"], verdict = judge_formula("water_ratio", _measured(trial), candidates)
            verdicts.append(verdict)
        verdicts += _too_much_metal(trial)
    return Judgement(tuple(verdicts), candidates, words)


def _measured(trial: Trial) -> str:
    rows = [
        f"{with_uncertainty(trial.value(name) or 0.0, trial.uncertainty(name))} {what}"
        for name, what in (("halogen_ratio", trial.options.halogen), ("water_ratio", "H2O"))
    ]
    return f"{' and '.join(rows)} per {trial.options.metal}"


def _too_much_metal(trial: Trial) -> Iterator[Verdict]:
    """More metal than there was dry salt: nothing is left for the halogen."""
    metal, residue = trial.value("metal_mass"), trial.value("residue_mass")
    if metal is None or residue is None or metal < residue:
        return
    text = (
        f"{1000 * metal:.3f} g of metal from {1000 * residue:.3f} g of dry salt leaves nothing for the halogen: the "
        "metal is wet or oxidised, the other metal is still in it, or a line is wrong."
    )
    yield Verdict("out-of-order", "stop", collecting.SERIES, text)


def seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    """What the wash test showed."""
    return collecting.judge_washing(tags)
