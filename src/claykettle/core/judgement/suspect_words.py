"""What is said of a suspect: sentences, and how a figure stands in them."""

from __future__ import annotations

from typing import Literal

from claykettle.core.judgement.suspect_case import Case
from claykettle.core.method import Cause
from claykettle.core.quantity import Unit, exact, short

SMALL = 0.05
"""A class is content within so much of what was expected (common practice)."""
Standing = Literal["believable", "stretch", "too-large", "refuted", "not-this", "wrong-sign", "none"]


def said_of_others(case: Case) -> str:
    """Which other result lies furthest off, as a sentence; empty where all lie inside their bands."""
    rows = [(abs(row.measured - row.expected) / row.spread, row) for row in case.others if row.spread > 0]
    far = max(rows, key=lambda one: one[0], default=None)
    if far is None or far[0] <= 3:
        return ""
    measured, expected = (amount(far[1].unit, value) for value in (far[1].measured, far[1].expected))
    return f"{far[1].label[0].upper()}{far[1].label[1:]} is {measured}, expected {expected}"


def said_of_gap(gap: float, share: float, off: str = "", good: str = "") -> str:
    """How large the gap is, in bands and for a class; `off` tells of another result, `good` what is good about it."""
    if gap <= 2 and off:
        return f"This lies inside its band, but {off[0].lower()}{off[1:]}: that wants explaining."
    if gap <= 2:
        return "The expected value lies inside the band: nothing needs explaining."
    if good:
        return f"{good} What follows is where the rest may be."
    times = exact(float(f"{gap / 2:.2g}"))
    if share <= SMALL:
        percent = exact(float(f"{100 * share:.2g}"))
        return f"The gap is {times} times the band, and {percent} % of what was expected: small for a class."
    return f"The gap is {times} times the band. Something happened at the bench."


def said_of_slip(cause: Cause, shown: Unit, after: float, standing: Standing) -> str:
    """What a slip that is done or not done would have made of the expected result (SI)."""
    label = cause.label[0].upper() + cause.label[1:]
    made = f"{exact(float(f'{shown.from_si(after):.4g}'))} {shown.shown}".rstrip()
    ends = {
        "believable": "that is what was found",
        "not-this": "not what was found",
        "wrong-sign": "the other way",
        "none": "nothing to explain",
    }
    return f"{label}: it would make {made}; {ends[standing]}."


def said_of_dose(cause: Cause, cause_unit: Unit, dose: float | None, standing: Standing, most_si: float) -> str:
    """What dose (SI) it would take, held against the largest believable one."""
    label = cause.label[0].upper() + cause.label[1:]
    if standing == "none":
        return f"{label}: nothing to explain."
    if standing == "wrong-sign":
        return f"{label}: it would push the result the other way."
    if dose is None:
        return f"{label}: no dose of it would be enough."
    shown, most = amount(cause_unit, dose), amount(cause_unit, most_si)
    ends = {
        "believable": "believable",
        "refuted": "so much could be",
        "not-this": f"not this, there is none below {amount(cause_unit, cause.least)}",
        "stretch": f"a stretch, {most} is usually the most",
        "too-large": f"not believable, {most} is usually the most",
    }
    return f"{label}: it would take {shown}; {ends[standing]}."


def amount(unit: Unit, value: float) -> str:
    """A figure (SI) in its unit, to three significant figures."""
    return f"{short(unit.from_si(value))} {unit.shown}".rstrip()


def said_against(case: Case, cause: Cause, dose: float) -> str:
    """Which other result speaks against this dose, as a sentence: it would be moved away, or not be moved at all."""
    clean, after = case.results(case.honest), case.results(case.disturbed((cause, dose)))
    if clean is None or after is None:
        return " But with it another result could not be had."
    rows = [
        (abs(there - other.measured) / other.spread, other, there, abs(there - here))
        for other, here, there in zip(case.others, clean[1:], after[1:], strict=True)
        if other.spread > 0
    ]
    if not rows:
        return ""
    _, other, foreseen, moved = max(rows, key=lambda row: row[0])
    would, is_ = (amount(other.unit, value) for value in (foreseen, other.measured))
    if moved <= other.spread:
        return f" But it leaves {other.label} at {would}; measured is {is_}."
    return f" But it would bring {other.label} to {would}; measured is {is_}."
