"""Candidates held against a measurement: match, undecidable, or impossible. Never forced."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Formulated
from claykettle.core.quantity import Number, figures, nominal, standard_uncertainty
from claykettle.core.verdict import Candidate, Verdict

INSIDE = 2.0
_SHOWN = 4
REMEDY = "A larger sample, a finer balance or a drier residue"


def misfit(value: Number, candidate: float) -> float:
    """Measured minus candidate in standard uncertainties; both in the same unit, `value` with uncertainty."""
    return (nominal(value) - candidate) / standard_uncertainty(value)


def misfits(value: Number, candidates: Sequence[float]) -> list[float]:
    """The misfit of every candidate; the uncertainty of the one measured figure is worked out once."""
    measured, spread = nominal(value), standard_uncertainty(value)
    return [(measured - candidate) / spread for candidate in candidates]


def _bands(off: float) -> str:
    """A misfit in half-widths of the band (two standard uncertainties), as people count it."""
    return f"{figures(abs(off) / INSIDE, 2)} times the band"


def said_of(off: float) -> str:
    """Where a figure lies whose misfit is `off`: `inside the band`, or how far above or below it."""
    if abs(off) <= INSIDE:
        return "inside the band"
    return f"{_bands(off)} {'above' if off > 0 else 'below'} it"


def is_inside(value: Number, candidate: float) -> bool:
    """Whether the candidate lies within two standard uncertainties."""
    return abs(misfit(value, candidate)) <= INSIDE


def judge_formula(
    about: str,
    measured: str,
    candidates: Sequence[Candidate],
    remedy: str = REMEDY,
    accepted: str = "",
    value: float | None = None,
) -> tuple[Formulated, Verdict]:
    """The formula that the candidates, nearest first, leave standing, and the verdict on it.

    `measured` is the measured figure as words, such as `x = 6.97 ± 0.30`, `remedy` what would decide. A candidate whose
    charges cannot balance may be the nearest, but never the formula. What fits is no good match where another formula,
    `accepted`, was named before: then both are named. `value` is the measured figure on the scale of the candidates'
    ratios: it tells whether a gap is small for a class.
    """
    nearest = candidates[0].text
    matches = [row for row in candidates if row.status == "match" and row.charges is not False]
    if not matches:
        possible = next((row for row in candidates if row.charges is not False), candidates[0])
        text = (
            f"{measured} fits no candidate; the nearest is {possible.text}, {_bands(possible.misfit)} "
            f"away{_said_of_share(value, possible)}"
        )
        return Formulated(None, nearest), Verdict("formula-none", "watch", about, text)
    if len(matches) == 1 and accepted and accepted != matches[0].text:
        text = (
            f"{measured}: the data fit {matches[0].text}, but {accepted} was accepted. One of the two is wrong: the "
            "readings, or the label. Look before you believe either."
        )
        return Formulated(matches[0].text, nearest), Verdict("formula-match", "watch", about, text)
    if len(matches) == 1:
        text = f"{measured}: only {matches[0].text} lies inside the band."
        return Formulated(matches[0].text, nearest), Verdict("formula-match", "good", about, text)
    simplest = min(matches, key=lambda row: (parse_formula(row.text).sum_of_indices, abs(row.misfit)))
    some = ", ".join(row.text for row in matches[:_SHOWN]) + (", …" if len(matches) > _SHOWN else "")
    text = f"{measured} cannot decide between {len(matches)} formulas ({some}). {remedy} would."
    return Formulated(simplest.text, nearest), Verdict("formula-undecided", "watch", about, text)


DUST = 1e-9
SMALL = 0.05
"""A class is content within so much of what was expected (common practice)."""


def _said_of_share(value: float | None, nearest: Candidate) -> str:
    """How far that is for a class: little, or something that happened."""
    share = None if value is None or not nearest.ratio else abs(value - nearest.ratio) / nearest.ratio
    if share is None or share > SMALL + DUST:
        return ". Something happened at the bench, or it is another substance."
    return f", {figures(100 * share, 2)} %: small for a class, but more than the instruments explain."


def unsure(verdict: Verdict) -> Verdict:
    """A match that another salt, stopped on its way, would give as well is no good one."""
    if verdict.code != "formula-match" or verdict.level != "good":
        return verdict
    return replace(verdict, level="watch", text=f"{verdict.text} A salt that stopped at a lower hydrate fits too.")


def judge_choice(about: str, measured: str, candidates: Sequence[Candidate]) -> tuple[Formulated, Verdict]:
    """The one of several equations, nearest first, that the measured figure speaks for, and the verdict on it."""
    nearest = candidates[0].text
    matches = [row.text for row in candidates if row.status == "match"]
    if len(matches) == 1:
        others = f", and none of the other {len(candidates) - 1}" if len(candidates) > 1 else ""
        text = f"{measured} fits {matches[0]}{others}."
        return Formulated(matches[0], nearest), Verdict("formula-match", "good", about, text)
    if matches:
        text = f"{measured} cannot decide between {' and '.join(matches)}."
        return Formulated(matches[0], nearest), Verdict("formula-undecided", "watch", about, text)
    off = abs(candidates[0].misfit)
    text = f"{measured} fits no equation; the nearest is {nearest}, {_bands(off)} away."
    return Formulated(None, nearest), Verdict("formula-none", "watch", about, text)
