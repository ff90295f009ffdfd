"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import heapq
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import product
from math import gcd

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.hydrates import known_salt, lower_hydrates
from claykettle.core.judgement.constancy import is_constant
from claykettle.core.judgement.ratios import is_inside, judge_formula, misfits, unsure
from claykettle.core.method import Bound, Formulated, Judgement, Trial
from claykettle.core.methods.composition.options import WATER, CompositionOptions
from claykettle.core.methods.composition.page import by_difference, collected_metal, crucible
from claykettle.core.methods.parts import collecting
from claykettle.core.quantity import nominal, reading_variable, with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate

MOST_SHOWN = 12


@dataclass(frozen=True)
class _Kind:
    """A halide that could be: indices of metal and halogen, water per metal, and whether its charges balance."""

    text: str
    halogen_ratio: float
    water_ratio: int
    charges: bool | None


@lru_cache(maxsize=64)
def _kinds(metal: str, halogen: str, most: int, water: int) -> tuple[_Kind, ...]:
    """Every halide with indices up to `most` and up to so much water per metal, each once and as simple as can be."""
    found, known = [], common_charges(metal)
    for first, second in product(range(1, most + 1), repeat=2):
        if gcd(first, second) > 1:
            continue
        salt = parse_formula(f"{metal}{first if first > 1 else ''}{halogen}{second if second > 1 else ''}")
        charges = None if not known else second % first == 0 and second // first in known
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
    if by_difference(trial.sheet.shape):
        # halogen per metal was taken from the accepted formula: only salts with as much of it can be asked about
        kinds = tuple(kind for kind in kinds if math.isclose(kind.halogen_ratio, nominal(halogen)))
        halogen = reading_variable(nominal(halogen), 1e-9, "accepted")
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
            options: CompositionOptions = trial.options
            accepted = options.accepted.text if options.accepted is not None else ""
            words["formula"], verdict = judge_formula("water_ratio", _measured(trial), candidates, accepted=accepted)
            stopped = list(_plateau(trial, words["formula"].text))
            verdicts += [unsure(verdict) if stopped else verdict, *stopped]
        verdicts += _too_much_metal(trial)
    if by_difference(trial.sheet.shape) and candidates:
        text = (
            f"Halogen per {trial.options.metal} was taken from {trial.options.accepted.text}, not measured: only the "
            "water speaks for the formula."
        )
        verdicts.append(Verdict("circular", "watch", "halogen_ratio", text))
    return Judgement(tuple(verdicts), candidates, words)


def _measured(trial: Trial) -> str:
    rows = [
        f"{with_uncertainty(trial.value(name) or 0.0, trial.uncertainty(name))} {what}"
        for name, what in (("halogen_ratio", trial.options.halogen), ("water_ratio", "H2O"))
    ]
    return f"{' and '.join(rows)} per {trial.options.metal}"


def _plateau(trial: Trial, found: str | None) -> Iterator[Verdict]:
    """Figures that a known hydrate would give as well, had it kept some of its water: two H2O weigh like one Cl."""
    options: CompositionOptions = trial.options
    series = [reading.si for reading in trial.series(crucible.series)]
    halogen, water = trial.values.get("halogen_ratio"), trial.values.get("water_ratio")
    if halogen is None or water is None or not is_constant(series, options.tolerance.si):
        return
    accepted = options.accepted
    if found is not None and accepted is not None and found == accepted.text:
        return
    weight = options.halogen_formula.molar_mass
    for whole, lower in _stops(options):
        kept = float(lower.water_ratio) * WATER.molar_mass
        halogens = float(whole.counts[options.halogen] / whole.counts[options.metal])
        per_metal = float(whole.parts[0][0]) / float(whole.counts[options.metal])
        apparent = halogens + kept * per_metal / weight
        gone = float(whole.water_ratio - lower.water_ratio) * per_metal
        if is_inside(halogen, apparent) and is_inside(water, gone):
            text = (
                f"{whole.text} that stopped at {lower.text} would give these figures: the water it kept is counted as "
                f"{options.halogen}. Heat a new sample more strongly before the metal is driven out."
            )
            yield Verdict("plateau", "watch", crucible.series, text)
            return


@lru_cache(maxsize=64)
def _stops(options: CompositionOptions) -> tuple[tuple[Formula, Formula], ...]:
    """Every known hydrate of the metal's halides (the one on the label first), with every lower one it may stop at."""
    wholes = [] if options.accepted is None else [options.accepted]
    for charge in common_charges(options.metal):
        known = known_salt(parse_formula(f"{options.metal}{options.halogen}{charge if charge > 1 else ''}"))
        wholes += known.hydrates if known is not None else ()
    return tuple((whole, lower) for whole in wholes for lower in lower_hydrates(whole))


def physical(trial: Trial) -> Iterator[Bound]:
    """More halogen or water per metal than any formula considered holds."""
    options: CompositionOptions = trial.options
    because = "per metal there is more of it than any formula holds: too little metal came, or a line is wrong."
    yield Bound("halogen_ratio", -math.inf, 1.5 * options.max_index, because)
    yield Bound("water_ratio", -math.inf, 1.5 * options.max_ratio, because)


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
